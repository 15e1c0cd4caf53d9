"""python -m edge_slice.web.openapi: print the OpenAPI document, from which the front end's types are made."""

from __future__ import annotations

import json
from typing import Any

from edge_slice.web import common


def _without_nulls(value: Any, inside: str = "") -> Any:
    """What has no value is not in the document; a default or an example may be null."""
    if isinstance(value, dict):
        return {k: _without_nulls(v, k) for k, v in value.items() if v is not None or k in ("default", "const")}
    return [_without_nulls(v, inside) for v in value] if isinstance(value, list) else value


def document() -> str:
    common.documented = True
    from edge_slice.web.server import create_server  # the routes are described as they are read

    server = create_server(warm=False)
    api = _without_nulls(json.loads(json.dumps(server.api_doc)))  # type: ignore[attr-defined]
    return json.dumps(api, indent=1, sort_keys=True, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(document(), end="")
