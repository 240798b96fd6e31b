"""A person at one desk, speaking to the API."""

import base64
import json

from django.test import Client


class Desk:
    """A person at one desk: remembers the revision last seen, as the desk does."""

    def __init__(self, scene_id):
        self.id = scene_id
        self.client = Client(headers={"host": "127.0.0.1"})
        self.seen = 0

    def post(self, what, body=None):
        content = json.dumps(body) if body is not None else None
        return self.client.post(f"/api/scenes/{self.id}/{what}", content, content_type="application/json")

    def do(self, **command):
        answer = self.post("commands", {"seen": self.seen, "command": command})
        if answer.status_code == 200:
            self.seen = answer.json()["revision"]
        return answer

    def get(self, what=""):
        return self.client.get(f"/api/scenes/{self.id}{what}")

    def scene(self):
        return self.get().json()["scene"]

    def revision(self):
        return self.get("/changes?since=0").json()["revision"]

    def preview(self, command, first, last=None, columns=None):
        """Packed samples of what a command would change."""
        frames = {"first": first, "last": last or first}
        answer = self.post("preview", {"command": command, "frames": frames, "columns": columns})
        assert answer.status_code == 200, answer.json()
        return {thing: base64.b64decode(content) for thing, content in answer.json()["samples"].items()}
