"""IFC files with corrections: valid, and read again as the corrected model, whatever the schema and the unit."""

from __future__ import annotations

from pathlib import Path

import ifcopenshell
import ifcopenshell.api.material
import ifcopenshell.validate
import numpy as np
import pytest

from edge_slice.core.model import Model
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import (
    BuildUpCorrection,
    CopiedElements,
    Correction,
    FaceElsewhere,
    LeftOut,
    MovedElements,
    OtherFlight,
    OtherMaterial,
    WantedLayer,
)
from edge_slice.core.model.corrections.fillings import with_fillings
from edge_slice.core.model.corrections.layers import layers_of, why_not
from edge_slice.core.model.corrections.materials import materials_of
from edge_slice.core.model.corrections.new_bodies import guid_of_copy, new_guid
from edge_slice.core.model.corrections.new_documents import NewBody, NewLayer, NewRun
from edge_slice.core.model.corrections.saying import FacePlane
from edge_slice.core.model.corrections.steps import said_of, steps_of
from edge_slice.core.model.ifc.correcting import corrected_ifc
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.parts.places import AS_IT_IS, InFile, PartPlace, placed
from tests.ifc_files import Hut, write_hut

DEMO = Path(__file__).parents[3] / "demo" / "curlew-point.ifc"
PAD = "3" + "p" * 21
CORK = WantedLayer(material="Cork", thickness=0.06, is_a="rigid insulation")


def lies(model: Model) -> InFile:
    return InFile.of(model.origin, AS_IT_IS)


def layered_hut(path: Path, schema: str, unit: str) -> Path:
    """The hut with walls of two layers, each 0.1 m, and a hole through the south wall."""
    file = ifcopenshell.open(str(write_hut(path, schema=schema, unit=unit, at=(10.0, 20.0, 3.0))))
    k = 1000.0 if unit == "MILLI" else 1.0
    layers = [
        file.create_entity("IfcMaterialLayer", Material=file.create_entity("IfcMaterial", Name=name),
                           LayerThickness=0.1 * k)
        for name in ("Brick", "Block")
    ]  # fmt: skip
    found = file.create_entity("IfcMaterialLayerSet", MaterialLayers=layers, LayerSetName="Outer")
    for wall, axis, offset in (("South", "AXIS2", 0.0), ("North", "AXIS2", 2.8), ("West", "AXIS1", 0.0)):
        usage = file.create_entity(
            "IfcMaterialLayerSetUsage", ForLayerSet=found, LayerSetDirection=axis, DirectionSense="POSITIVE",
            OffsetFromReferenceLine=offset * k,
        )  # fmt: skip
        product = next(p for p in file.by_type("IfcWall") if p.Name == wall)
        owner = product.OwnerHistory
        file.create_entity(
            "IfcRelAssociatesMaterial", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner,
            RelatedObjects=[product], RelatingMaterial=usage,
        )  # fmt: skip
    file.write(str(path))
    return path


def errors(path: Path) -> list[str]:
    logger = ifcopenshell.validate.json_logger()
    ifcopenshell.validate.validate(str(path), logger)
    return [str(one) for one in logger.statements]


def same(found: Model, wanted: Model) -> None:
    """Whether two models have the same elements: bodies, layers, and where these lie."""
    assert {e.guid for e in found.elements} == {e.guid for e in wanted.elements}
    volumes, shall = (m.mesh.volumes(len(m.elements)) for m in (found, wanted))
    for k, element in enumerate(wanted.elements):
        n = found.element_by_guid[element.guid]
        assert found.boxes[n] == pytest.approx(wanted.boxes[k], abs=1e-5), element.name
        assert volumes[n] == pytest.approx(shall[k], rel=1e-6, abs=1e-9), element.name
        assert named(found, n) == named(wanted, k), element.name
        if element.frame is not None:
            other = found.elements[n].frame
            assert other is not None
            assert other.direction == pytest.approx(element.frame.direction, abs=1e-9)
            along = np.array(element.frame.direction)
            assert np.array(other.origin) @ along == pytest.approx(np.array(element.frame.origin) @ along, abs=1e-6)


def named(model: Model, k: int) -> list[tuple[str, float]]:
    element = model.elements[k]
    layers = model.build_ups[element.build_up].layers if element.build_up >= 0 else ()
    return [(model.materials[x.material].name, round(x.thickness, 6)) for x in layers]


@pytest.mark.parametrize("stays", ["first", "last", "middle"])
@pytest.mark.parametrize(("schema", "unit"), [("IFC2X3", "MILLI"), ("IFC4", ""), ("IFC4X3", "MILLI")])
def test_a_corrected_file_is_read_as_the_corrected_model(tmp_path: Path, schema: str, unit: str, stays: str) -> None:
    path = layered_hut(tmp_path / "hut.ifc", schema, unit)
    model = read_ifc(path)
    guid = {e.name: e.guid for e in model.elements}
    layers = layers_of(model, model.build_ups[model.elements[model.element_by_guid[guid["South"]]].build_up])
    said: list[Correction] = [
        BuildUpCorrection(element=guid["South"], layers=(*layers, CORK), stays=stays),  # type: ignore[arg-type]
        MovedElements(elements=(guid["North"],), by=(0.1, 0.5, 0.2), turn=12.0),
        LeftOut(elements=(guid["East"],), left_out=True),
    ]
    before = errors(path)
    made = corrected_ifc(path, model, said, lies(model))
    assert made.otherwise == ()
    assert made.changed >= 3
    out = tmp_path / "out.ifc"
    out.write_bytes(made.data)
    assert len(errors(out)) <= len(before)
    same(read_ifc(out), corrected(model, said)[0])


@pytest.mark.parametrize(("schema", "unit"), [("IFC2X3", "MILLI"), ("IFC4", ""), ("IFC4X3", "MILLI")])
def test_faces_copies_and_what_is_new_are_read_again(tmp_path: Path, schema: str, unit: str) -> None:
    path = layered_hut(tmp_path / "hut.ifc", schema, unit)
    model = read_ifc(path)
    guid = {e.name: e.guid for e in model.elements}
    wall = model.element_by_guid[guid["South"]]
    x, y, top = (model.boxes[wall, 1] + np.array(model.origin)).tolist()
    up = (0.0, 0.0, 1.0)
    new = {"kind": "footing", "material": "Cork", "is_a": "rigid insulation"}
    said: list[Correction] = [
        FaceElsewhere(
            element=guid["South"], face=FacePlane(looks=up, at=top), to=FacePlane(looks=up, at=top + 0.4)
        ),
        CopiedElements(elements=(guid["North"],), copies=((0.0, 2.0, 0.0), (0.0, 4.0, 0.5))),
        NewBody.model_validate({
            **new, "body": new_guid(), "name": "Upstand", "outline": [[0, 0], [0.3, 0], [0.3, 0.2]], "at": [x, y, top],
            "x": [1, 0, 0], "y": [0, 0, 1], "start": 0, "end": 2,
        }),
        NewRun.model_validate({
            **new, "body": new_guid(), "name": "Drain", "path": [[x, y, 0], [x + 2, y, 0], [x + 2, y + 1, -0.1]],
            "wide": 0.1, "high": 0.1, "round": True,
        }),
    ]  # fmt: skip
    before = errors(path)
    made = corrected_ifc(path, model, said, lies(model))
    assert made.otherwise == ()
    out = tmp_path / "out.ifc"
    out.write_bytes(made.data)
    assert len(errors(out)) <= len(before)
    again = read_ifc(out)
    same(again, corrected(model, said)[0])
    assert [one.already for one in corrected(again, said)[1]] == [1, 1, 1, 1]
    kept = ifcopenshell.open(str(out))
    assert {m.Name for m in kept.by_type("IfcMaterial")} >= {"Cork"}


def test_a_part_that_lies_elsewhere_is_written_as_its_own_file_has_it(tmp_path: Path) -> None:
    path, place = layered_hut(tmp_path / "hut.ifc", "IFC4", "MILLI"), PartPlace(x=5.0, y=-7.0, z=1.5, turn=30.0)
    model = placed(read_ifc(path), place, (2.0, 1.0, 0.0))
    guid = {e.name: e.guid for e in model.elements}
    layers = layers_of(model, model.build_ups[model.elements[model.element_by_guid[guid["South"]]].build_up])
    said: list[Correction] = [
        BuildUpCorrection(element=guid["South"], layers=(*layers, CORK)),
        MovedElements(elements=(guid["North"],), by=(0.1, 0.5, 0.2), turn=12.0),
    ]
    made = corrected_ifc(path, model, said, InFile.of(model.origin, place))
    assert made.otherwise == ()
    out = tmp_path / "out.ifc"
    out.write_bytes(made.data)
    same(placed(read_ifc(out), place, model.origin), corrected(model, said)[0])


def test_the_demo_with_corrections_is_read_as_it_is_drawn(tmp_path: Path) -> None:
    model = read_ifc(DEMO)
    guid = {e.name: e.guid for e in model.elements}
    layered = [k for k in range(len(model.elements)) if not why_not(model, k)]
    said: list[Correction] = []
    for name, stays in (("Lower outer wall", "first"), ("Upper outer wall", "last"), ("Ground floor", "middle")):
        build_up = next(b for b in (model.build_ups[model.elements[k].build_up] for k in layered) if b.name == name)
        said.append(
            BuildUpCorrection(build_up=name, layers=(*layers_of(model, build_up), CORK), stays=stays)  # type: ignore[arg-type]
        )
    said.append(LeftOut(elements=(guid["Bay column 2"],), left_out=True))
    said.append(MovedElements(elements=with_fillings(model, [guid["Partition C 1"]]), by=(0.2, 0.0, 0.0)))
    made = corrected_ifc(DEMO, model, said, lies(model))
    assert made.otherwise == ()
    out = tmp_path / "out.ifc"
    out.write_bytes(made.data)
    assert errors(out) == []
    same(read_ifc(out), corrected(model, said)[0])
    kept = ifcopenshell.open(str(out))
    sets = {str(s.GlobalId) for s in ifcopenshell.open(str(DEMO)).by_type("IfcPropertySet")}
    assert sets - {str(s.GlobalId) for s in kept.by_type("IfcPropertySet")} <= {
        str(r.RelatingPropertyDefinition.GlobalId)
        for r in ifcopenshell.open(str(DEMO)).by_guid(guid["Bay column 2"]).IsDefinedBy
    }  # of what is left out alone


def test_nothing_is_changed_where_nothing_is_corrected(tmp_path: Path) -> None:
    path = write_hut(tmp_path / "hut.ifc")
    made = corrected_ifc(path, read_ifc(path), [], lies(read_ifc(path)))
    assert made.changed == 0
    assert made.data == str(ifcopenshell.open(str(path)).to_string()).encode()


def test_windows_in_new_openings_steps_materials_and_layers_on_faces_are_read_again(tmp_path: Path) -> None:
    model = read_ifc(DEMO)
    guid = {e.name: e.guid for e in model.elements}
    slab = model.element_by_guid[guid["Concrete half landing"]]
    top = FacePlane(looks=(0.0, 0.0, 1.0), at=float(model.boxes[slab, 1, 2] + model.origin[2]))
    door = next(e.guid for k, e in enumerate(model.elements) if e.kind == "door" and len(materials_of(model, k)) > 1)
    timber = steps_of(model, model.element_by_guid[guid["Timber flight 2"]])
    had = None if isinstance(timber, str) else said_of(timber)
    frame = next(m for m in materials_of(model, model.element_by_guid[guid["W06 Tall window"]]) if m != "Glass")
    said: list[Correction] = [
        CopiedElements(
            elements=(guid["W11 Washroom window"],), copies=((0.0, 1.4, 0.0), (0.0, -1.4, 0.0)), openings=True
        ),
        CopiedElements(elements=(guid["Rooflight"],), copies=((1.4, 0.0, 0.0),), openings=True),
        OtherFlight(element=guid["Concrete flight 1"], risers=9, going=0.25),
        OtherFlight(element=guid["Timber flight 2"], risers=8, going=0.29, other_way=True, had=had),
        OtherMaterial(elements=(guid["Bay column 2"], door), material="Larch", is_a="timber"),
        OtherMaterial(elements=(guid["W06 Tall window"],), material="Larch", is_a="timber", in_place_of=frame),
        NewLayer.model_validate({
            "body": new_guid(), "name": "Rubber", "kind": "covering", "material": "Rubber", "on": top,
            "element": guid["Concrete half landing"], "thickness": 0.02,
        }),
        NewBody.model_validate({
            "body": PAD, "name": "Pad", "kind": "ground", "material": "Earth", "start": 0, "end": 0.4,
            "outline": [[0, 0], [3, 0], [3, 2], [0, 2]], "at": [-8, 3, 0], "x": [1, 0, 0], "y": [0, 1, 0],
        }),
    ]  # fmt: skip
    wanted, told = corrected(model, said)
    assert [(one.refused, one.lost) for one in told] == [((), False)] * len(said)
    made = corrected_ifc(DEMO, model, said, lies(model))
    assert made.otherwise == ()
    out = tmp_path / "out.ifc"
    out.write_bytes(made.data)
    assert errors(out) == []
    again = read_ifc(out)
    same(again, wanted)
    for element in wanted.elements:
        k, n = wanted.element_by_guid[element.guid], again.element_by_guid[element.guid]
        assert materials_of(again, n) == materials_of(wanted, k), element.name
    assert [one.elements for one in corrected(again, said)[1]] == [0] * len(said)
    assert again.elements[again.element_by_guid[PAD]].kind == "ground"
    kept = ifcopenshell.open(str(out))
    copy = kept.by_guid(guid_of_copy(guid["W11 Washroom window"], (0.0, 1.4, 0.0)))
    assert copy.FillsVoids[0].RelatingOpeningElement.VoidsElements[0].RelatingBuildingElement.is_a("IfcWall")
    flight = kept.by_guid(guid["Concrete flight 1"])
    assert flight.is_a("IfcStairFlight")


def test_what_a_flight_says_of_its_steps_is_that_of_the_new_ones_whatever_is_copied(tmp_path: Path) -> None:
    hut = Hut(tmp_path / "hut.ifc")
    steps = [hut.box((9000 + 270 * k, 0, 0), (9270 + 270 * k, 1000, 180 * (k + 1))) for k in range(8)]
    flight = hut.add("IfcStairFlight", "Flight", steps)
    flight.NumberOfRisers, flight.NumberOfTreads, flight.RiserHeight, flight.TreadLength = 8, 8, 180.0, 270.0
    model = read_ifc(hut.written())
    guid = {e.name: e.guid for e in model.elements}
    copies = tuple((0.0, 5.0 * k, 0.0) for k in range(1, 6))  # some of them come before the flight
    said: list[Correction] = [
        OtherFlight(element=guid["Flight"], risers=9, going=0.25),
        CopiedElements(elements=(guid["South"],), copies=copies),
    ]
    made = corrected_ifc(hut.path, model, said, lies(model))
    assert made.otherwise == ()
    (tmp_path / "out.ifc").write_bytes(made.data)
    found = ifcopenshell.open(str(tmp_path / "out.ifc")).by_type("IfcStairFlight")[0]
    assert (found.NumberOfRisers, found.NumberOfTreads) == (9, 9)
    assert (found.RiserHeight, found.TreadLength) == (pytest.approx(160.0, abs=1e-3), pytest.approx(250.0))
