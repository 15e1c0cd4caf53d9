"""Reading IFC: the demo as designed, other units and places, damaged files."""

import math
from pathlib import Path

import numpy as np
import pytest

from edge_slice.core.cut import PlanCut, cut_model
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.kinds import element_kind
from tests.conftest import DEMO
from tests.ifc_files import write_hut


def test_demo_is_the_building_that_was_designed(demo: Model) -> None:
    assert [(s.name, round(s.elevation, 6)) for s in demo.storeys] == [
        ("Boat bay", -0.9), ("Lower", 0.0), ("Upper", 3.3), ("Lookout", 6.6), ("Roof edge", 10.4),
    ]  # fmt: skip
    assert math.degrees(math.atan2(*demo.north)) == pytest.approx(14)
    assert {a.name: a.start[0] for a in demo.grid if a.name in "ABCD"} == pytest.approx(
        {"A": 0, "B": 7.2, "C": 14.4, "D": 21.6}
    )
    assert {s.name for s in demo.spaces} >= {"Wet lab", "Boat bay", "Dry lab", "Library", "Lookout", "Roof terrace"}
    assert len(demo.elements) > 300
    assert 20_000 < len(demo.mesh.triangles) < 100_000
    assert not demo.problems


def test_every_body_of_the_demo_is_closed(demo: Model) -> None:
    assert [demo.elements[i].name for i in demo.leaking] == []
    assert (demo.mesh.volumes(len(demo.elements)) > 0).all()


def test_build_ups_of_the_demo_in_millimetres(demo: Model) -> None:
    wall = next(b for b in demo.build_ups if b.name == "Upper outer wall")
    assert [round(layer.thickness * 1000) for layer in wall.layers] == [22, 38, 1, 9, 220, 1, 25, 13]
    layered = [e for e in demo.elements if e.kind == "wall" and e.build_up >= 0]
    assert len(layered) >= 25


def test_openings_are_cut_out_of_the_demos_walls(demo: Model) -> None:
    south = next(i for i, e in enumerate(demo.elements) if e.name == "Lower outer wall 1")
    gross = 0.423 * (3.228 + 1.8) * (21.6 + 2 * 0.0585)  # mean length of the mitred wall
    openings = 0.423 * (3.6 * 3.0 + 4.2 * 1.2 + 1.5 * 1.35)
    assert demo.mesh.volumes(len(demo.elements))[south] == pytest.approx(gross - openings, rel=2e-3)


@pytest.mark.parametrize("unit", ["MILLI", ""])
@pytest.mark.parametrize("schema", ["IFC2X3", "IFC4", "IFC4X3"])
def test_units_and_schemas_give_the_same_metres(tmp_path: Path, unit: str, schema: str) -> None:
    model = read_ifc(write_hut(tmp_path / "hut.ifc", unit=unit, schema=schema))
    low, high = model.bounds
    assert (high - low).tolist() == pytest.approx([4, 3, 2.8])
    assert model.kinds == {"slab": 1, "wall": 4}
    assert model.mesh.volumes(5).sum() == pytest.approx(2 * 4 * 0.2 * 2.5 + 2 * 2.6 * 0.2 * 2.5 + 12 * 0.3)


def test_far_away_model_is_re_based_without_loss(tmp_path: Path) -> None:
    place = (2_600_000.0, 1_200_000.0, 431.25)
    model = read_ifc(write_hut(tmp_path / "far.ifc", at=place))
    assert model.origin == (2_600_000.0, 1_200_000.0, 0.0)
    assert np.abs(model.mesh.vertices[:, :2]).max() < 10
    cut = cut_model(model, PlanCut(storey=model.storeys[0].guid, height=1.0))
    area = sum(f.polygon.area for f in cut.faces) / 1e6
    assert area == pytest.approx(2 * 4 * 0.2 + 2 * 2.6 * 0.2, rel=1e-6)


def test_model_without_storeys_gets_one_at_its_lowest_point(tmp_path: Path) -> None:
    model = read_ifc(write_hut(tmp_path / "flat.ifc", storeys=False))
    assert [(s.name, s.elevation) for s in model.storeys] == [("Base", -0.3)]
    cut = cut_model(model, PlanCut(storey=model.storeys[0].guid))
    assert len(cut.faces) == 4


def test_elements_without_a_material_stay_without(tmp_path: Path) -> None:
    model = read_ifc(write_hut(tmp_path / "plain.ifc"))
    assert model.materials == ()
    assert {e.material for e in model.elements} == {-1}


def test_one_bad_element_is_left_out_and_named(tmp_path: Path) -> None:
    model = read_ifc(write_hut(tmp_path / "bad.ifc", broken=True))
    assert len(model.elements) == 5
    assert len(model.problems) == 1
    assert "Nothing" in model.problems[0]


def test_file_without_geometry_is_refused(tmp_path: Path) -> None:
    with pytest.raises(UnreadableModel, match="no building geometry"):
        read_ifc(write_hut(tmp_path / "empty.ifc", bodies=False))


@pytest.mark.parametrize(
    ("content", "message"),
    [(b"", "empty"), (b"PK\x03\x04 something else", "not an IFC file"), (DEMO.read_bytes()[:50_000], "cut short")],
    ids=["empty", "other", "truncated"],
)
def test_what_is_no_whole_ifc_file_is_refused(tmp_path: Path, content: bytes, message: str) -> None:
    path = tmp_path / "file.ifc"
    path.write_bytes(content)
    with pytest.raises(UnreadableModel, match=message):
        read_ifc(path)


def test_reading_can_be_cancelled() -> None:
    class Stop(Exception):
        pass

    def progress(share: float, text: str) -> None:
        if share > 0.05:
            raise Stop

    with pytest.raises(Stop):
        read_ifc(DEMO, progress)


@pytest.mark.parametrize(
    ("ifc_class", "predefined", "object_type", "kind"),
    [
        ("IfcWallStandardCase", None, None, "wall"),
        ("IfcSlab", "ROOF", None, "roof"),
        ("IfcGeographicElement", "TERRAIN", None, "ground"),
        ("IfcGeographicElement", "USERDEFINED", "Planting", "planting"),
        ("IfcBuildingElementProxy", "USERDEFINED", "Person", "person"),
        ("IfcFlowTerminal", None, None, "services"),
        ("IfcSomethingNew", None, None, "object"),
    ],
)
def test_kinds(ifc_class: str, predefined: str | None, object_type: str | None, kind: str) -> None:
    assert element_kind(ifc_class, predefined, object_type) == kind
