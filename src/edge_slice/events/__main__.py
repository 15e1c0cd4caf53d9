"""python -m edge_slice.events --port PORT: tell windows what has changed, until told to stop."""

from __future__ import annotations

import argparse
import resource

import uvicorn
from uvicorn.config import LOGGING_CONFIG

from edge_slice.events.server import create_events
from edge_slice.logs import as_json, write_json


def main() -> None:
    parser = argparse.ArgumentParser(prog="edge_slice.events")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--certificate")
    parser.add_argument("--key")
    options = parser.parse_args()
    most = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))  # a window is an open file
    write_json("events")
    own = None if as_json() else LOGGING_CONFIG
    uvicorn.run(
        create_events(), host=options.host, port=options.port, log_level="warning", timeout_graceful_shutdown=1,
        ssl_certfile=options.certificate, ssl_keyfile=options.key, log_config=own,
    )  # fmt: skip


if __name__ == "__main__":
    main()
