"""Logs: words for who started it, or, by setting, lines of JSON for what gathers the logs of several machines."""

from __future__ import annotations

import logging.config
from typing import Any

from edge_slice.settings import settings


def as_json() -> bool:
    return settings().log == "json"


def json_logs(part: str) -> dict[str, Any]:
    """How Python's logging is to write lines of JSON, which say of which `part` they are: web, events, worker."""
    form = {
        "()": "pythonjsonlogger.json.JsonFormatter",
        "format": "%(levelname)s %(name)s %(message)s",
        "rename_fields": {"levelname": "level", "name": "of"},
        "static_fields": {"part": part},
        "timestamp": "at",
    }
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {"json": form},
        "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "json", "stream": "ext://sys.stderr"}},
        "root": {"level": "WARNING", "handlers": ["stderr"]},
        "loggers": {
            "edge_slice.requests": {"level": "INFO"},
            # of the servers that write with handlers of their own
            "gunicorn.error": {"level": "WARNING", "handlers": [], "propagate": True},
            "uvicorn": {"level": "WARNING", "handlers": [], "propagate": True},
        },
    }


def write_json(part: str) -> None:
    """Write lines of JSON from now on, where the setting says so."""
    if as_json():
        logging.config.dictConfig(json_logs(part))
