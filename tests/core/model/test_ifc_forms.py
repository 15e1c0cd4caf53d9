"""What IFC files hold besides plain walls: feet, mapped items, booleans, curves, several buildings, other materials."""

import math
from pathlib import Path

import ifcopenshell.api.aggregate
import ifcopenshell.api.material
import ifcopenshell.api.pset
import ifcopenshell.api.root
import ifcopenshell.api.type
import ifcopenshell.guid
import pytest

from edge_slice.core.cut import Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.model import Element, Model
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.ifc_files import Hut, write_hut


def element(model: Model, name: str) -> Element:
    return next(e for e in model.elements if e.name == name)


def volume(model: Model, name: str) -> float:
    return float(model.mesh.volumes(len(model.elements))[model.elements.index(element(model, name))])


@pytest.fixture
def hut(tmp_path: Path) -> Hut:
    return Hut(tmp_path / "hut.ifc")


def test_feet_are_metres_inside(tmp_path: Path) -> None:
    model = read_ifc(write_hut(tmp_path / "feet.ifc", unit="foot"))
    assert volume(model, "South") == pytest.approx(4 * 0.2 * 2.5, rel=1e-6)
    assert model.unit in ("ft", "foot", "'")


def test_mapped_items_stand_where_they_are_mapped_to(hut: Hut) -> None:
    f = hut.file
    origin = f.create_entity("IfcAxis2Placement3D", f.create_entity("IfcCartesianPoint", [0.0, 0.0, 0.0]))
    shape = f.create_entity(
        "IfcShapeRepresentation", hut.body, "Body", "SweptSolid", [hut.box((0, 0, 0), (500, 500, 2000))]
    )
    shared = f.create_entity("IfcRepresentationMap", origin, shape)
    for k, x in enumerate((1000.0, 2500.0)):
        to = f.create_entity(
            "IfcCartesianTransformationOperator3D", None, None, f.create_entity("IfcCartesianPoint", [x, 1000.0, 0.0])
        )
        hut.add("IfcColumn", f"Post {k}", [f.create_entity("IfcMappedItem", shared, to)], "MappedRepresentation")
    model = read_ifc(hut.written())
    assert volume(model, "Post 0") == pytest.approx(0.5, rel=1e-6)
    plan = cut_model(model, PlanCut(storey=model.storeys[0].guid))
    posts = sorted(f.polygon.bounds for f in plan.faces if model.elements[f.element].kind == "column")
    assert [b[0] for b in posts] == pytest.approx([1000, 2500])


def test_boolean_results_are_cut_out(hut: Hut) -> None:
    whole, hole = hut.box((0, 5000, 0), (2000, 5300, 2000)), hut.box((500, 4900, 500), (1500, 5400, 1500))
    hut.add("IfcWall", "Pierced", [hut.file.create_entity("IfcBooleanResult", "DIFFERENCE", whole, hole)], "CSG")
    model = read_ifc(hut.written())
    assert volume(model, "Pierced") == pytest.approx((4 - 1) * 0.3, rel=1e-6)
    through = cut_model(model, SectionCut(line=((1, 4), (1, 6)), extents=Extents(base=-1, top=3)))
    own = [f for f in through.faces if model.elements[f.element].name == "Pierced"]
    assert sum(f.polygon.area for f in own) == pytest.approx(300 * 1000, rel=1e-6)


def layered(hut: Hut, wall: object, layers: list[tuple[str, float]]) -> None:
    made = ifcopenshell.api.material.add_material_set(hut.file, name="Build-up", set_type="IfcMaterialLayerSet")
    for name, thick in layers:
        material = ifcopenshell.api.material.add_material(hut.file, name=name)
        layer = ifcopenshell.api.material.add_layer(hut.file, layer_set=made, material=material)
        layer.LayerThickness = thick
    usage = ifcopenshell.api.material.assign_material(
        hut.file, products=[wall], type="IfcMaterialLayerSetUsage", material=made
    )
    usage.RelatingMaterial.OffsetFromReferenceLine = 0.0


def test_curved_wall_keeps_its_layers(hut: Hut) -> None:
    """A quarter of a ring of 3 m to 3.3 m, its reference line on the inner face, y pointing inwards at its start."""
    f = hut.file

    def at(radius: float, degrees: float) -> list[float]:
        a = math.radians(degrees)
        return [radius * math.cos(a), 9000.0 + radius * math.sin(a)]

    points = f.create_entity(
        "IfcCartesianPointList2D", [at(3000, 0), at(3000, 45), at(3000, 90), at(3300, 90), at(3300, 45), at(3300, 0)]
    )
    parts = [("IfcArcIndex", (1, 2, 3)), ("IfcLineIndex", (3, 4)), ("IfcArcIndex", (4, 5, 6)), ("IfcLineIndex", (6, 1))]
    curve = f.create_entity("IfcIndexedPolyCurve", points, [f.create_entity(k, i) for k, i in parts], False)
    wall = hut.add("IfcWall", "Curved", [hut.solid(curve, 2500)])
    layered(hut, wall, [("Plaster", 50.0), ("Concrete", 250.0)])
    model = read_ifc(hut.written())
    curved = element(model, "Curved")
    assert curved.frame is not None
    assert curved.frame.radius > 2.9
    faces = cut_model(model, PlanCut(storey=model.storeys[0].guid)).faces
    own = {f.layer: f.polygon.area / 1e6 for f in faces if model.elements[f.element] is curved}
    ring = [math.pi / 4 * (b**2 - a**2) for a, b in ((3.0, 3.05), (3.05, 3.3), (3.25, 3.3), (3.0, 3.25))]
    assert list(own.values()) == pytest.approx(ring[:2], rel=0.03) or list(own.values()) == pytest.approx(
        ring[2:], rel=0.03
    )


def test_several_buildings_stand_on_their_storeys(hut: Hut) -> None:
    second = ifcopenshell.api.root.create_entity(hut.file, ifc_class="IfcBuilding", name="Shed")
    storey = ifcopenshell.api.root.create_entity(hut.file, ifc_class="IfcBuildingStorey", name="Shed floor")
    storey.Elevation = 500.0
    site = hut.file.by_type("IfcSite")[0]
    ifcopenshell.api.aggregate.assign_object(hut.file, products=[second], relating_object=site)
    ifcopenshell.api.aggregate.assign_object(hut.file, products=[storey], relating_object=second)
    hut.add("IfcWall", "Shed wall", [hut.box((9000, 0, 500), (9200, 3000, 2500))], storey=storey)
    model = read_ifc(hut.written())
    assert {s.name for s in model.storeys} == {"Ground", "Shed floor"}
    assert model.storeys[element(model, "Shed wall").storey].name == "Shed floor"


def test_profile_sets_and_constituents_give_the_material(hut: Hut) -> None:
    f = hut.file
    beam = hut.add("IfcBeam", "Beam", [hut.box((0, 6000, 0), (3000, 6200, 300))])
    steel = ifcopenshell.api.material.add_material(f, name="Steel S355")
    profiles = ifcopenshell.api.material.add_material_set(f, name="Beam", set_type="IfcMaterialProfileSet")
    flat = f.create_entity("IfcRectangleProfileDef", "AREA", None, None, 200.0, 300.0)
    ifcopenshell.api.material.add_profile(f, profile_set=profiles, material=steel, profile=flat)
    ifcopenshell.api.material.assign_material(f, products=[beam], type="IfcMaterialProfileSet", material=profiles)
    door = hut.add("IfcDoor", "Door", [hut.box((0, 7000, 0), (900, 7060, 2100))])
    parts = ifcopenshell.api.material.add_material_set(f, name="Door", set_type="IfcMaterialConstituentSet")
    for name, share in (("Glass", 0.2), ("Oak", 0.8)):
        material = ifcopenshell.api.material.add_material(f, name=name)
        part = ifcopenshell.api.material.add_constituent(f, constituent_set=parts, material=material)
        part.Fraction = share
    ifcopenshell.api.material.assign_material(f, products=[door], type="IfcMaterialConstituentSet", material=parts)
    model = read_ifc(hut.written())
    names = {e.name: model.materials[e.material].name for e in model.elements if e.material >= 0}
    assert (names["Beam"], names["Door"]) == ("Steel S355", "Oak")


def constituents(hut: Hut, product: object, *names: str) -> None:
    made = ifcopenshell.api.material.add_material_set(hut.file, name="Parts", set_type="IfcMaterialConstituentSet")
    for name in names:
        material = ifcopenshell.api.material.add_material(hut.file, name=name)
        part = ifcopenshell.api.material.add_constituent(hut.file, constituent_set=made, material=material)
        part.Name = f"Part of {name}"
    ifcopenshell.api.material.assign_material(
        hut.file, products=[product], type="IfcMaterialConstituentSet", material=made
    )


def cut_areas(model: Model, name: str) -> dict[tuple[str, int], float]:
    """Areas (m2) of an element's faces in the plan, by material and layer."""
    faces = cut_model(model, PlanCut(storey=model.storeys[0].guid)).faces
    areas: dict[tuple[str, int], float] = {}
    for face in faces:
        if model.elements[face.element].name == name:
            key = (model.materials[face.material].name, face.layer)
            areas[key] = areas.get(key, 0.0) + face.polygon.area / 1e6
    return areas


def test_constituents_with_widths_are_layers(hut: Hut) -> None:
    f = hut.file
    wall = hut.add("IfcWall", "Parted", [hut.box((0, 9000, 0), (4000, 9300, 2500))])
    constituents(hut, wall, "Brick", "Mineral wool", "Plaster")
    widths = [("Part of Brick", 115.0), ("Part of Mineral wool", 170.0), ("Part of Plaster", 15.0)]
    rows = [
        f.create_entity(
            "IfcPhysicalComplexQuantity",
            n,
            None,
            [f.create_entity("IfcQuantityLength", "Width", None, None, w)],
            "layer",
        )
        for n, w in widths
    ]
    quantities = f.create_entity("IfcElementQuantity", ifcopenshell.guid.new(), None, "Layers", None, None, rows)
    f.create_entity("IfcRelDefinesByProperties", ifcopenshell.guid.new(), None, None, None, [wall], quantities)
    areas = cut_areas(read_ifc(hut.written()), "Parted")
    assert {k: round(v, 6) for k, v in areas.items()} == {
        ("Brick", 0): 0.46,
        ("Mineral wool", 1): 0.68,
        ("Plaster", 2): 0.06,
    }


def test_constituents_by_shape_aspect_are_the_materials_of_their_bodies(hut: Hut) -> None:
    f = hut.file
    bodies = [hut.box((0, 9000, 0), (2000, 9200, 2500)), hut.box((0, 9200, 0), (2000, 9300, 2500))]
    wall = hut.add("IfcWall", "Parted", bodies)
    constituents(hut, wall, "Concrete", "Cork")
    for name, body in zip(("Concrete", "Cork"), bodies, strict=True):
        shape = f.create_entity("IfcShapeRepresentation", hut.body, "Body", "SweptSolid", [body])
        f.create_entity("IfcShapeAspect", [shape], f"Part of {name}", None, True, wall.Representation)
    areas = cut_areas(read_ifc(hut.written()), "Parted")
    assert {k: round(v, 6) for k, v in areas.items()} == {("Concrete", -1): 0.4, ("Cork", -1): 0.2}


def test_several_profiles_are_the_materials_of_what_is_swept_from_them(hut: Hut) -> None:
    f = hut.file
    bodies = [hut.box((0, 9000, 0), (300, 9300, 2500)), hut.box((300, 9000, 0), (400, 9300, 2500))]
    post = hut.add("IfcColumn", "Clad post", bodies)
    made = ifcopenshell.api.material.add_material_set(f, name="Post", set_type="IfcMaterialProfileSet")
    for name, body in zip(("Concrete", "Larch"), bodies, strict=True):
        material = ifcopenshell.api.material.add_material(f, name=name)
        ifcopenshell.api.material.add_profile(f, profile_set=made, material=material, profile=body.SweptArea)
    ifcopenshell.api.material.assign_material(f, products=[post], type="IfcMaterialProfileSet", material=made)
    areas = cut_areas(read_ifc(hut.written()), "Clad post")
    assert {k: round(v, 6) for k, v in areas.items()} == {("Concrete", -1): 0.09, ("Larch", -1): 0.03}


def test_elements_keep_their_own_frame(hut: Hut) -> None:
    model = read_ifc(hut.written())
    placement = element(model, "South").placement
    assert placement is not None
    assert (placement.origin, placement.x, placement.y) == ((0, 0, 0), (1, 0, 0), (0, 1, 0))


@pytest.mark.parametrize("schema", ["IFC2X3", "IFC4", "IFC4X3"])
def test_doors_say_how_they_open_by_themselves_or_by_their_type(tmp_path: Path, schema: str) -> None:
    hut = Hut(tmp_path / "doors.ifc", schema)
    leaf = (500, 100, 0), (1400, 150, 2000)
    typed = hut.add("IfcDoor", "Typed", [hut.box(*leaf)])
    hut.add("IfcDoor", "Silent", [hut.box(*leaf)])
    style = ifcopenshell.api.root.create_entity(
        hut.file, ifc_class="IfcDoorStyle" if schema == "IFC2X3" else "IfcDoorType", name="Style"
    )
    style.OperationType = "DOUBLE_DOOR_SINGLE_SWING"
    ifcopenshell.api.type.assign_type(hut.file, related_objects=[typed], relating_type=style)
    if schema != "IFC2X3":
        own = hut.add("IfcDoor", "Own", [hut.box(*leaf)])
        own.OperationType = "SLIDING_TO_LEFT"
        ifcopenshell.api.type.assign_type(hut.file, related_objects=[own], relating_type=style)
        own.OperationType = "SLIDING_TO_LEFT"
    model = read_ifc(hut.written())
    assert element(model, "Typed").operation == style.OperationType
    assert element(model, "Silent").operation == ""
    if schema != "IFC2X3":
        assert element(model, "Own").operation == "SLIDING_TO_LEFT"
    assert model_from_bytes(model_to_bytes(model)).elements == model.elements


@pytest.mark.parametrize(("schema", "said"), [("IFC2X3", "OperationType"), ("IFC4", "PredefinedType")])
def test_lifts_are_known_from_other_transport(tmp_path: Path, schema: str, said: str) -> None:
    hut = Hut(tmp_path / "lift.ifc", schema)
    lift = hut.add("IfcTransportElement", "Lift", [hut.box((1000, 1000, 0), (2000, 2000, 2000))])
    setattr(lift, said, "ELEVATOR")
    hut.add("IfcTransportElement", "Escalator", [hut.box((2500, 1000, 0), (3000, 2000, 2000))])
    model = read_ifc(hut.written())
    assert element(model, "Lift").kind == "lift"
    assert element(model, "Escalator").kind == "vehicle"


def test_properties_and_quantities_of_elements_and_their_types_are_kept(hut: Hut) -> None:
    api = ifcopenshell.api
    wall = hut.add("IfcWall", "Tested", [hut.box((0, 0, 0), (100, 100, 100))])
    kind = api.root.create_entity(hut.file, ifc_class="IfcWallType", name="Kind")
    api.type.assign_type(hut.file, related_objects=[wall], relating_type=kind)

    def describe(element: object, name: str, **values: object) -> None:
        made = api.pset.add_pset(hut.file, product=element, name=name)
        api.pset.edit_pset(hut.file, pset=made, properties=values)

    describe(wall, "Pset_WallCommon", IsExternal=False, FireRating="EI 60", ThermalTransmittance=0.25)
    describe(kind, "Pset_WallCommon", LoadBearing=True)
    describe(kind, "Own", Note="x" * 500, Empty="")
    model = read_ifc(hut.written())
    said = dict(next(e for e in model.elements if e.name == "Tested").properties)
    assert {k: v for k, v in said.items() if k.startswith("Pset")} == {
        "Pset_WallCommon: FireRating": "EI 60",
        "Pset_WallCommon: IsExternal": "no",
        "Pset_WallCommon: LoadBearing": "yes",
        "Pset_WallCommon: ThermalTransmittance": "0.25",
    }
    assert len(said["Own: Note"]) == 200
    assert "Own: Empty" not in said
    again = model_from_bytes(model_to_bytes(model))
    assert again.elements == model.elements
