"""The kind of an element from its IFC class (ISO 16739), predefined type and object type."""

from __future__ import annotations

_BY_CLASS = {
    "IfcWall": "wall",
    "IfcSlab": "slab",
    "IfcRoof": "roof",
    "IfcWindow": "window",
    "IfcDoor": "door",
    "IfcStair": "stair",
    "IfcStairFlight": "stair",
    "IfcRamp": "stair",
    "IfcRampFlight": "stair",
    "IfcRailing": "railing",
    "IfcBeam": "beam",
    "IfcColumn": "column",
    "IfcMember": "member",
    "IfcPlate": "plate",
    "IfcFooting": "footing",
    "IfcPile": "footing",
    "IfcCovering": "covering",
    "IfcCurtainWall": "wall",
    "IfcFurniture": "furniture",
    "IfcFurnishingElement": "furniture",
    "IfcSystemFurnitureElement": "furniture",
    "IfcSite": "ground",
    "IfcTransportElement": "vehicle",
    "IfcVehicle": "vehicle",
    "IfcChimney": "wall",
    "IfcShadingDevice": "member",
    "IfcBuildingElementProxy": "object",
    "IfcDiscreteAccessory": "accessory",
}
_SERVICES = (
    "IfcFlow",
    "IfcDistribution",
    "IfcSanitary",
    "IfcTank",
    "IfcPipe",
    "IfcDuct",
    "IfcLamp",
    "IfcLight",
    "IfcBoiler",
    "IfcPump",
    "IfcElectric",
    "IfcCable",
    "IfcOutlet",
    "IfcSpaceHeater",
    "IfcAir",
    "IfcFan",
)
_BY_OBJECT_TYPE = {
    "planting": "planting",
    "person": "person",
    "people": "person",
    "boat": "vehicle",
    "vegetation": "planting",
    "entourage": "person",
}
KINDS = tuple(
    sorted({*_BY_CLASS.values(), *_BY_OBJECT_TYPE.values(), "services", "planting", "ground", "lift", "roof", "object"})
)


def element_kind(ifc_class: str, predefined: str | None = None, object_type: str | None = None) -> str:
    """The kind of element, in the words of the application's vocabulary; `object` when nothing fits."""
    by_type = _BY_OBJECT_TYPE.get((object_type or "").strip().lower())
    if by_type:
        return by_type
    if ifc_class in ("IfcGeographicElement", "IfcCivilElement", "IfcEarthworksFill"):
        return "planting" if predefined == "VEGETATION" else "ground"
    base = ifc_class.removesuffix("StandardCase").removesuffix("ElementedCase")
    if base == "IfcSlab" and predefined == "ROOF":
        return "roof"
    if base == "IfcTransportElement" and predefined == "ELEVATOR":
        return "lift"
    if base in _BY_CLASS:
        return _BY_CLASS[base]
    return "services" if ifc_class.startswith(_SERVICES) else "object"
