"""The API: thin routes over commands, baking, formats and renders. Each is given its actor as `request.auth`."""

from mellow.actors import local_person
from mellow.dailies.api import contact, drawing, files, presets, remarks, stills, takes
from mellow.films.api import router as films
from mellow.handover.api import router as handover
from mellow.library.api import router as library
from mellow.problems import HeronAPI, register
from mellow.productions.api import (
    air,
    assembling,
    boards,
    catalogue,
    changes,
    conforming,
    coverage,
    curves,
    cutting,
    glass,
    looking,
    motion,
    news,
    noting,
    poses,
    scenes,
    sounds,
)
from mellow.productions.api import drawing as samples

api = HeronAPI(title="Mellow Heron", version="1", docs_url=None, auth=local_person)
register(api)
api.add_router("", catalogue.router)
api.add_router("", glass.router)
api.add_router("scenes", scenes.router)
api.add_router("", films)
api.add_router("", library)
api.add_router("", handover)
for part in (
    changes,
    news,
    samples,
    curves,
    air,
    assembling,
    coverage,
    looking,
    noting,
    motion,
    cutting,
    conforming,
):
    api.add_router("scenes", part.router)
for part in (boards, sounds, poses, takes, drawing, files, remarks, presets, contact, stills):
    api.add_router("", part.router)
