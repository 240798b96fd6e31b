"""What the desk is built from that is made from the code: the API's schema, and what there is to choose from."""

import json

from mellow.api import api
from mellow.productions.api.catalogue import everything


def made() -> dict[str, str]:
    """Texts by the names of their files in `web/src/api`."""
    schema = json.dumps(api.get_openapi_schema(), indent=1, sort_keys=True, default=str)
    # Samples name their own columns.
    choices = everything().model_dump_json(indent=1, exclude={"columns"})
    return {"openapi.json": schema + "\n", "catalogue.json": choices + "\n"}
