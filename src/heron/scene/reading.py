"""Scene documents as JSON text."""

import json

from pydantic import ValidationError

from heron.errors import BadInput, from_validation
from heron.scene.document import Scene
from heron.scene.upgrades import VERSION

MAX_BYTES = 64 * 1024 * 1024


def read_scene(text: str) -> Scene:
    """Read a scene from JSON.

    Raises:
        BadInput: not JSON, not a scene, or a scene that breaks a rule.
    """
    if len(text) > MAX_BYTES:
        raise BadInput("This file is too large to be a scene.", "A scene has at most 64 MB of JSON.")
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise BadInput(
            "This is not JSON, so it is not a scene.", "Give a file written by `heron demo` or from the desk."
        ) from None
    if not isinstance(data, dict) or data.get("format") != "heron-scene":
        raise BadInput(
            'This JSON is not a scene: it has no "format": "heron-scene".',
            "Give a file written by `heron demo` or from the desk.",
        )
    if data.get("version") not in range(1, VERSION + 1):
        raise BadInput(
            f"This scene has version {data.get('version')!r:.20}; versions 1 to {VERSION} can be read.",
            "Open it with a newer Mellow Heron.",
        )
    try:
        return Scene.model_validate(data)
    except ValidationError as error:
        raise from_validation(error, "This scene") from None


def write_scene(scene: Scene) -> str:
    """The scene as JSON; reading it back gives the identical document."""
    return json.dumps(scene.model_dump(mode="json"), indent=1, allow_nan=False) + "\n"
