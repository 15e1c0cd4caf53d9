"""Names for what a project says of its model."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Any

from pydantic import BaseModel


def digest_of_said(said: Sequence[BaseModel], exclude: Any = None) -> str:
    """Another text where something else is said, in whatever order and but for what is `exclude`d; empty where nothing
    is."""
    whole = "\n".join(sorted(one.model_dump_json(exclude=exclude) for one in said))
    return hashlib.sha256(whole.encode()).hexdigest() if said else ""
