"""What the documents name is there."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
DOCS = sorted([*ROOT.glob("*.md"), *ROOT.glob("docs/**/*.md")])
MADE = ("NAME.toml", "frontend/openapi.json", "pyproject.toml", "biome.json")  # an example; beside the sources
PLACES = (
    "src/edge_slice",
    "frontend/src",
    "frontend/tests",
    "tests",
    "docs",
    "bench",
    "demo",
    "installation",
    "oracles",
)
FILES = {p.as_posix() for place in PLACES for p in (ROOT / place).rglob("*.*")}


@pytest.mark.parametrize("document", DOCS, ids=lambda path: path.name)
def test_every_file_that_a_document_names_is_there(document: Path) -> None:
    if document.name == "CHANGELOG.md":
        return  # tells of what was
    text = document.read_text()
    named = re.findall(r"`([\w./-]+\.(?:py|tsx?|json|svg|toml))`", text)
    lost = [name for name in named if name not in MADE and not any(file.endswith(f"/{name}") for file in FILES)]
    linked = [link for link in re.findall(r"\]\(([^)#:]+)(?:#[^)]*)?\)", text) if not (document.parent / link).exists()]
    assert (lost, linked) == ([], [])
