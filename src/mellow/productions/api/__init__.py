"""The API: thin routes over commands, baking and formats. Each is given its actor as `request.auth`."""

from mellow.actors import local_person
from mellow.problems import HeronAPI, register
from mellow.productions.api import (
    air,
    catalogue,
    changes,
    curves,
    drawing,
    glass,
    handover,
    motion,
    news,
    scenes,
)

api = HeronAPI(title="Mellow Heron", version="1", docs_url=None, auth=local_person)
register(api)
api.add_router("", catalogue.router)
api.add_router("", glass.router)
api.add_router("scenes", scenes.router)
api.add_router("scenes", changes.router)
api.add_router("scenes", news.router)
api.add_router("scenes", drawing.router)
api.add_router("scenes", curves.router)
api.add_router("scenes", air.router)
api.add_router("scenes", motion.router)
api.add_router("scenes", handover.router)
