"""What files say of services that run: systems, the way they flow, and what becomes of both."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import ifcopenshell.api.group
import ifcopenshell.api.root
import pytest

from edge_slice.core.model import Model, Run
from edge_slice.core.model.files.any_file import read_model
from edge_slice.core.model.parts.places import placed, proposed_place
from edge_slice.core.model.revisions import revised
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.conftest import ROOT
from tests.ifc_files import Hut

SERVICES = ROOT / "demo" / "curlew-point-services.ifc"


@pytest.fixture(scope="module")
def services() -> Model:
    return read_model(SERVICES)


def test_systems_and_flow_turn_with_their_part(demo: Model, services: Model) -> None:
    """The engineer's file lies askew; where it is placed, air flows along the building, and water down."""
    there = placed(services, proposed_place(demo, services).place, demo.origin)
    found = {e.name: e.run for e in there.elements}
    assert {run.system for run in found.values() if run} == {
        "Supply air, laboratories", "Sea water to the tanks", "Foul water"
    }  # fmt: skip
    ways = {"Supply duct, plant": (-1, 0, 0), "Sea water 1": (1, 0, 0), "Sea water 2": (-1, 0, 0),
            "Stack, lower": (0, 0, -1)}  # fmt: skip
    for name, way in ways.items():
        run = found[name]
        assert run is not None
        assert run.flow == pytest.approx(way, abs=1e-5)
        assert not run.fitting
    duct = found["Supply duct, plant"]
    assert duct is not None
    assert duct.purpose == "ventilation"


def test_what_is_said_of_runs_is_kept_and_read_again(services: Model) -> None:
    again = model_from_bytes(model_to_bytes(services))
    assert [e.run for e in again.elements] == [e.run for e in services.elements]


def test_another_system_or_another_way_is_a_change(services: Model) -> None:
    def changed(to: Run) -> list[tuple[str, tuple[str, ...]]]:
        elements = [replace(e, run=to) if e.name == "Sea water 1" else e for e in services.elements]
        _, changes = revised(services, replace(services, elements=tuple(elements)))
        return [(c.name, c.how) for c in changes.elements]

    run = next(e.run for e in services.elements if e.name == "Sea water 1")
    assert run is not None
    assert run.flow is not None
    assert changed(run) == []
    assert changed(replace(run, system="Cold water")) == [("Sea water 1", ("system",))]
    back = (-run.flow[0], -run.flow[1], -run.flow[2])
    assert changed(replace(run, flow=back)) == [("Sea water 1", ("system",))]


@pytest.mark.parametrize("schema", ["IFC2X3", "IFC4", "IFC4X3"])
def test_runs_of_every_schema_with_ports_that_are_connected(schema: str, tmp_path: Path) -> None:
    hut = Hut(tmp_path / "pipes.ifc", schema)
    pipe = hut.add(
        "IfcFlowSegment" if schema == "IFC2X3" else "IfcPipeSegment", "Pipe", [hut.box((0, 0, 0), (2000, 100, 100))]
    )
    hut.add("IfcFlowFitting" if schema == "IFC2X3" else "IfcPipeFitting", "Bend", [hut.box((0, 0, 0), (100, 100, 100))])
    hut.add("IfcWall", "Wall", [hut.box((0, 500, 0), (2000, 600, 2000))])
    f = hut.file
    for x, way in ((0.0, "SOURCE"), (2000.0, "SINK")):
        port = ifcopenshell.api.root.create_entity(f, ifc_class="IfcDistributionPort", name=way)
        port.FlowDirection = way
        at = f.createIfcAxis2Placement3D(f.createIfcCartesianPoint((x, 0.0, 0.0)), None, None)
        port.ObjectPlacement = f.createIfcLocalPlacement(None, at)
        connected = ifcopenshell.api.root.create_entity(f, ifc_class="IfcRelConnectsPortToElement")
        connected.RelatingPort, connected.RelatedElement = port, pipe
    system = ifcopenshell.api.root.create_entity(f, ifc_class="IfcSystem", name="Heating return")
    ifcopenshell.api.group.assign_group(f, products=[pipe], group=system)
    runs = {e.name: e.run for e in read_model(hut.written()).elements}
    assert runs["Pipe"] == Run("Heating return", "", False, (-1.0, 0.0, 0.0))
    assert runs["Bend"] == Run(fitting=True)
    assert runs["Wall"] is None
