"""Materials of an IFC file said of its products."""

from __future__ import annotations

from typing import Any

import ifcopenshell.guid
import ifcopenshell.util.element

from edge_slice.core.model.corrections.documents import OtherMaterial

SETS = {  # what is a set of materials, what it lists, and where each of these says which
    "IfcMaterialConstituentSet": "MaterialConstituents",
    "IfcMaterialProfileSet": "MaterialProfiles",
    "IfcMaterialList": "Materials",
}
USAGES = ("IfcMaterialLayerSetUsage", "IfcMaterialProfileSetUsage")


def material_named(file: Any, name: str, is_a: str) -> Any:
    """The material of a name, which the file has, or gets."""
    known = next((m for m in file.by_type("IfcMaterial") if m.Name == name), None)
    if known is not None:
        return known
    said = {"Category": is_a} if is_a and file.schema != "IFC2X3" else {}
    return file.create_entity("IfcMaterial", Name=name, **said)


def associate(file: Any, product: Any, material: Any) -> None:
    """Say of a product that it is of a material, or of a set of them, and of nothing else."""
    usage = ifcopenshell.util.element.get_material(product, should_inherit=True)
    for rel in [r for r in product.HasAssociations if r.is_a("IfcRelAssociatesMaterial")]:
        others = [o for o in rel.RelatedObjects if o != product]
        if others:
            rel.RelatedObjects = others
        else:
            file.remove(rel)
    if usage is not None and usage.is_a() in USAGES and not file.get_total_inverses(usage):
        file.remove(usage)  # a usage of nothing is not valid
    owner = next(iter(file.by_type("IfcRelAssociatesMaterial")), product).OwnerHistory
    file.create_entity(
        "IfcRelAssociatesMaterial", GlobalId=ifcopenshell.guid.new(), OwnerHistory=owner, RelatedObjects=[product],
        RelatingMaterial=material,
    )  # fmt: skip


def make_of(file: Any, product: Any, one: OtherMaterial) -> bool:
    """Say of a product, or of those of its parts that are meant, that they are of another material; whether the file
    can say that."""
    new = material_named(file, one.material, one.is_a)
    if not one.in_place_of:
        associate(file, product, new)
        if product.Representation is not None:
            _restyled(file, product, one)
        return True
    found = ifcopenshell.util.element.get_material(product, should_inherit=True, should_skip_usage=True)
    if found is None:
        return False
    if found.is_a("IfcMaterial"):
        if found.Name != one.in_place_of:
            return False
        associate(file, product, new)
        return True
    listed = next((field for name, field in SETS.items() if found.is_a(name)), None)
    if listed is None:
        return False
    if all(_material_of(part) != one.in_place_of for part in getattr(found, listed)):
        return False
    parts = [_part(file, part, one.in_place_of, new) for part in getattr(found, listed)]
    associate(file, product, _copied(file, found, {listed: parts}))
    named = any(a.is_a("IfcShapeAspect") for a in file.get_inverse(product.Representation))
    return _restyled(file, product, one) or named


def _restyled(file: Any, product: Any, one: OtherMaterial) -> bool:
    """Give items of a product's shape whose styles have the name of a material styles that have that of the other one;
    whether there were any."""
    found = False
    for shape in product.Representation.Representations:
        for item in shape.Items:
            for styled in getattr(item, "StyledByItem", ()):
                other = [_named(file, style, one) for style in styled.Styles]
                if other != list(styled.Styles):
                    styled.Styles, found = other, True
    return found


def _named(file: Any, style: Any, one: OtherMaterial) -> Any:
    """A style under the name of the other material, where it is that of what shall be of it."""
    if style.is_a("IfcPresentationStyleAssignment"):  # of IFC2x3
        inner = [_named(file, each, one) for each in style.Styles]
        return style if inner == list(style.Styles) else _copied(file, style, {"Styles": inner})
    if style.Name not in ((one.in_place_of,) if one.in_place_of else (style.Name,)):
        return style
    return _copied(file, style, {"Name": one.material})


def _material_of(part: Any) -> str:
    """The name of the material of a part of a set, empty for none."""
    material = part if part.is_a("IfcMaterial") else part.Material
    return str(material.Name) if material is not None else ""


def _part(file: Any, part: Any, name: str, new: Any) -> Any:
    """A part of a set for another set: of the new material where it was of the one of that name."""
    meant = _material_of(part) == name
    if part.is_a("IfcMaterial"):
        return new if meant else part
    return _copied(file, part, {"Material": new} if meant else {})


def _copied(file: Any, one: Any, other: dict[str, Any]) -> Any:
    """An entity once more, with some of its fields otherwise."""
    said = {field: value for field, value in one.get_info(include_identifier=False).items() if field != "type"}
    return file.create_entity(one.is_a(), **{**said, **other})
