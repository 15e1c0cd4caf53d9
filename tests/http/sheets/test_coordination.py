"""What the parts of the demo don't agree about: exactly what its engineers' files were given to differ in."""

from __future__ import annotations

from typing import Any

import pytest

from tests.conftest import DEMO
from tests.http.models.test_parts import parts, together
from tests.installation import Installation

TWICE, THROUGH = "held twice, but otherwise", "services through what is built"


@pytest.fixture(scope="module")
def coordinated(installation: Installation) -> int:
    """The demo of three files, sent at once; two lie elsewhere in their own coordinates, one of these is turned."""
    files = [DEMO, *(DEMO.with_name(f"curlew-point-{name}.ifc") for name in ("structure", "services"))]
    made, *others = together(installation, *files)
    assert [row["state"] for row in (made, *others)] == ["ready"] * 3, others
    return int(made["project_id"])


def findings(app: Installation, project: int) -> list[dict[str, Any]]:
    return [f for f in app.call("GET", f"/api/projects/{project}/checks").json if f["rule"] in (TWICE, THROUGH)]


def test_the_parts_of_the_demo_find_their_places(installation: Installation, coordinated: int) -> None:
    found = {p["discipline"]: p for p in parts(installation, coordinated)}
    assert found["architecture"]["leads"]
    assert found["structure"]["place"] == {"x": 250.0, "y": -40.0, "z": 0.0, "turn": 0.0}
    assert found["services"]["place"] == pytest.approx({"x": -12.0, "y": 30.0, "z": -4.2, "turn": -25.0}, abs=1e-5)
    assert found["architecture"]["left_out"] + found["structure"]["left_out"] == 167


def test_what_is_found_is_what_was_put_in(installation: Installation, coordinated: int) -> None:
    found = findings(installation, coordinated)
    twice = [f["says"] for f in found if f["rule"] == TWICE]
    assert len(twice) == 2
    assert any("Bay column 2" in says and "40 mm" in says for says in twice)
    assert any("Retaining wall B" in says and "0.24 m²" in says for says in twice)
    through = sorted(f["says"].split("goes")[1] for f in found if f["rule"] == THROUGH)
    assert [next(n for n in ("Joist 51.2", "Upper floor", "Partition C 1") if n in says) for says in through] == [
        "Joist 51.2", "Upper floor", "Partition C 1",
    ]  # fmt: skip
    assert {f["severity"] for f in found} == {"serious"}
    assert all(f["drawing_id"] and f["box"] for f in found)  # each has a picture of its place


def test_a_finding_is_left_and_its_check_switched_off(installation: Installation, coordinated: int) -> None:
    first = findings(installation, coordinated)[0]
    body = {"key": first["key"], "reason": "agreed with the engineer"}
    assert installation.call("POST", f"/api/projects/{coordinated}/left-findings", body).status in (200, 204)
    assert next(f for f in findings(installation, coordinated) if f["key"] == first["key"])["left"]
    assert installation.edit(f"/api/projects/{coordinated}", {"unchecked": [THROUGH]}).status == 200
    assert {f["rule"] for f in findings(installation, coordinated)} == {TWICE}
    installation.edit(f"/api/projects/{coordinated}", {"unchecked": []})


def test_what_was_put_right_is_found_no_more(installation: Installation, coordinated: int) -> None:
    before = findings(installation, coordinated)
    key = next(p["key"] for p in parts(installation, coordinated) if p["discipline"] == "services")
    services = f"/api/projects/{coordinated}/parts/{key}"
    moved = installation.call("PATCH", services, {"place": {"x": 900.0}})
    assert moved.status == 200
    assert {f["rule"] for f in findings(installation, coordinated)} == {TWICE}
    back = {"place": {"x": -12.0, "y": 30.0, "z": -4.2, "turn": -25.0}}
    assert installation.call("PATCH", services, back).status == 200
    assert sorted(f["key"] for f in findings(installation, coordinated)) == sorted(f["key"] for f in before)
