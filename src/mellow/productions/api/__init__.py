"""The API: thin routes over commands, baking and formats."""

from ninja import NinjaAPI

from mellow.problems import register
from mellow.productions.api import catalogue, drawing, glass, handover, scenes

api = NinjaAPI(title="Mellow Heron", version="1", docs_url=None)
register(api)
api.add_router("", catalogue.router)
api.add_router("", glass.router)
api.add_router("scenes", scenes.router)
api.add_router("scenes", drawing.router)
api.add_router("scenes", handover.router)
