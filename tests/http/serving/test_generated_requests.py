"""The OpenAPI document is valid, and thousands of requests made from it find no server error and no odd answer."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest
from openapi_spec_validator import validate
from pydantic import RootModel

from tests.conftest import ROOT
from tests.ifc_files import write_hut
from tests.installation import Installation

DOCUMENT = ROOT / "frontend" / "openapi.json"
EACH, LEAST = 8, 5  # most examples of one operation, and requests for each of them in the middle
# the pieces in which they are made, side by side
PIECES = (
    r"^/api/(drawings|callout-references|annotations|touch-ups|hatch-view|pictures|imports|settings|memory|words|parts"
    r"|session|accounts?|notices|invitations?|link|audit|remarks)\b",
    r"^/api/(sheets|sheet-designs|placements|issues|issued-sheets|publications|standards|shown-sets|shared-extents"
    r"|starter-sets|viewpoints|drawing-rules|office-rules|tables)\b",
    r"^/api/projects($|/\{id\}($|/[a-o]))",
    r"^/api/projects/\{id\}/[p-z]",
)
# what is generated; coverage, 30,000 requests at the edges of every schema, takes long: it is asked for by hand
PHASES = os.environ.get("EDGE_SLICE_TEST_PHASES", "fuzzing")


@pytest.fixture(scope="session")  # its tests begin at different times
def alone(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Installation]:
    """An installation whose projects may be deleted, with several of each kind of row."""
    made = Installation()
    path = write_hut(tmp_path_factory.mktemp("hut") / "hut.ifc")
    first = made.import_project(path)
    for project in (first, made.project_like(first), made.project_like(first)):
        drawings = made.call("GET", f"/api/projects/{project}/drawings").json
        sheet = made.call("POST", f"/api/projects/{project}/sheets", {}).json["id"]
        made.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": drawings[0]["id"]})
        made.call("POST", f"/api/projects/{project}/standards", {"name": "Ours"})
    yield made
    made.stop()


def test_document_is_valid_openapi() -> None:
    validate(json.loads(DOCUMENT.read_text("utf-8")))


def test_every_list_is_described_as_one() -> None:
    """Two documents of one name would be described as one of them."""
    schemas = json.loads(DOCUMENT.read_text())["components"]["schemas"]
    for name in (
        "sheets.checks",
        "drawings.lineage",
        "sheets.register",
        "sheets.numbered_sheets",
        "projects.standards",
    ):
        import_module(f"edge_slice.web.{name}")
    lists = [m for generic in RootModel.__subclasses__() for m in (generic, *generic.__subclasses__())]
    named = {m.__name__ for m in lists if m.__module__.startswith("edge_slice.web")}
    assert named
    assert {n: schemas[n].get("type") for n in named if n in schemas and schemas[n].get("type") != "array"} == {}


@pytest.mark.parametrize("number", [0, -1, 2**31, 2**63, 10**30])
@pytest.mark.parametrize("path", ["projects/{}", "drawings/{}", "drawings/{}/view", "sheets/{}/view", "imports/{}"])
def test_any_number_in_a_path_is_answered(alone: Installation, path: str, number: int) -> None:
    answer = alone.call("GET", "/api/" + path.format(number))
    assert answer.status in (404, 422)
    assert answer.json["message"]


def test_a_tile_without_strokes_is_refused_with_its_place(alone: Installation) -> None:
    body = {"hatch": {"tiles": [{"width": 2, "height": 2, "strokes": [[]]}]}}
    answer = alone.call("POST", "/api/hatch-view", body)
    assert answer.status == 422
    assert "strokes" in answer.json["field"]


def test_strokes_far_outside_their_tile_are_refused(alone: Installation) -> None:
    body = {"hatch": {"tiles": [{"width": 0.2, "height": 0.2, "strokes": [[[0, 0], [10_000, 10_000]]]}]}}
    answer = alone.call("POST", "/api/hatch-view", body)
    assert answer.status == 422
    assert "larger" in answer.json["message"]


def test_a_drawing_too_large_for_paper_is_refused_with_what_fits(alone: Installation, tmp_path: Path) -> None:
    project = alone.import_project(write_hut(tmp_path / "hut.ifc"))  # generated requests may have deleted all others
    cut = {"kind": "section", "line": [[-50, 1], [50, 1]]}
    answer = alone.call("POST", f"/api/projects/{project}/view", {"cut": cut, "style": {"scale": 0.1}})
    assert answer.status == 422
    assert answer.json["field"] == "style.scale"
    assert "crop" in answer.json["message"]


def test_only_models_may_be_large(alone: Installation) -> None:
    answer = alone.call("POST", "/api/hatch-view", {"tint": "#" + "0" * (9 << 20)})
    assert answer.status == 413
    assert "8 MB" in answer.json["message"]


def test_every_operation_is_in_one_piece() -> None:
    paths = json.loads(DOCUMENT.read_text())["paths"]
    assert [path for path in paths if sum(bool(re.search(p, path)) for p in PIECES) != 1] == []


@pytest.mark.long
@pytest.mark.parametrize("piece", PIECES)
def test_generated_requests_find_no_server_error(alone: Installation, tmp_path: Path, piece: str) -> None:
    # last in this file: it deletes what it can
    paths = json.loads(DOCUMENT.read_text())["paths"]
    operations = sum(len(o) for path, o in paths.items() if re.search(piece, path))
    assert generated(alone.url, piece, tmp_path) >= LEAST * operations


def generated(url: str, piece: str, folder: Path, *headers: str) -> int:
    """How many requests were made of a piece, none of which found a server error or an odd answer."""
    command = [
        str(Path(sys.executable).with_name("schemathesis")), "run", str(DOCUMENT), "--url", url, "--seed", "7",
        "--checks", "not_a_server_error,response_schema_conformance", "--phases", PHASES, "--include-path-regex", piece,
        "--max-examples", str(EACH), "--continue-on-failure", "--suppress-health-check", "all", "--no-color",
        "--request-timeout", "30", "--generation-database", "none",
        *(word for header in headers for word in ("--header", header)),
    ]  # fmt: skip
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=1800)
    report = done.stdout + done.stderr
    assert done.returncode == 0, report[-6000:]
    counted = re.search(r"(\d+) generated", report)
    assert counted, report[-2000:]
    return int(counted[1])
