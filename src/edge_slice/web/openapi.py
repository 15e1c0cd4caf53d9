"""python -m edge_slice.web.openapi: print the OpenAPI document, from which the front end's types are made."""

from __future__ import annotations

import json

from edge_slice.web.server import create_server


def document() -> str:
    server = create_server(warm=False)
    api = json.loads(json.dumps(server.api_doc))  # type: ignore[attr-defined]
    return json.dumps(api, indent=1, sort_keys=True, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(document(), end="")
