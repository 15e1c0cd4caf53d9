"""Materials and build-ups of the field station, outside to inside or top to bottom, in millimetres."""

from __future__ import annotations

from ifcopenshell import entity_instance as Entity

from .writer import Writer

# name: (category, colour, transparency)
MATERIALS: dict[str, tuple[str, tuple[float, float, float], float]] = {
    "Brick, estuary buff": ("brick", (0.72, 0.60, 0.47), 0),
    "Cavity": ("air", (0.95, 0.95, 0.95), 0),
    "Rigid insulation": ("rigid insulation", (0.93, 0.86, 0.55), 0),
    "Concrete block": ("block", (0.66, 0.66, 0.63), 0),
    "Plaster": ("plaster", (0.94, 0.93, 0.90), 0),
    "Plasterboard": ("plaster", (0.93, 0.93, 0.92), 0),
    "Timber boarding": ("timber", (0.60, 0.52, 0.42), 0),
    "Battens and air": ("air", (0.90, 0.88, 0.84), 0),
    "Breather membrane": ("membrane", (0.30, 0.35, 0.40), 0),
    "Sheathing board": ("board", (0.78, 0.69, 0.52), 0),
    "Studs with soft insulation": ("soft insulation", (0.96, 0.85, 0.62), 0),
    "Vapour membrane": ("membrane", (0.25, 0.30, 0.35), 0),
    "Service void": ("air", (0.95, 0.95, 0.95), 0),
    "Screed": ("screed", (0.76, 0.75, 0.72), 0),
    "Damp-proof membrane": ("membrane", (0.15, 0.15, 0.15), 0),
    "Reinforced concrete": ("reinforced concrete", (0.70, 0.70, 0.69), 0),
    "Concrete": ("concrete", (0.73, 0.73, 0.72), 0),
    "Precast concrete": ("precast", (0.78, 0.78, 0.76), 0),
    "Sand": ("sand", (0.86, 0.79, 0.62), 0),
    "Hardcore": ("hardcore", (0.62, 0.58, 0.52), 0),
    "Floor boards": ("timber", (0.70, 0.55, 0.38), 0),
    "Acoustic insulation": ("soft insulation", (0.93, 0.88, 0.70), 0),
    "Plywood": ("plywood", (0.80, 0.67, 0.46), 0),
    "Pavers": ("stone", (0.66, 0.65, 0.62), 0),
    "Pedestals and air": ("air", (0.90, 0.90, 0.90), 0),
    "Roofing membrane": ("membrane", (0.20, 0.20, 0.22), 0),
    "Zinc": ("metal", (0.62, 0.66, 0.68), 0),
    "Roof boards": ("timber", (0.68, 0.56, 0.40), 0),
    "Ventilated air": ("air", (0.92, 0.92, 0.92), 0),
    "Rafters with soft insulation": ("soft insulation", (0.95, 0.84, 0.60), 0),
    "Roof membrane": ("membrane", (0.30, 0.30, 0.34), 0),
    "Softwood": ("timber", (0.76, 0.62, 0.43), 0),
    "Oak": ("timber", (0.62, 0.46, 0.28), 0),
    "Steel": ("steel", (0.40, 0.44, 0.47), 0),
    "Stainless steel": ("steel", (0.70, 0.72, 0.74), 0),
    "Aluminium": ("aluminium", (0.55, 0.57, 0.58), 0),
    "Glass": ("glass", (0.70, 0.84, 0.86), 0.6),
    "Resin worktop": ("board", (0.25, 0.27, 0.28), 0),
    "Painted board": ("board", (0.88, 0.90, 0.88), 0),
    "Ceramic": ("tile", (0.95, 0.95, 0.94), 0),
    "Earth": ("earth", (0.47, 0.42, 0.32), 0),
    "Reed": ("planting", (0.52, 0.58, 0.34), 0),
    "Hull laminate": ("board", (0.85, 0.88, 0.88), 0),
    "Cloth": ("cloth", (0.45, 0.50, 0.58), 0),
    "Stone": ("stone", (0.64, 0.62, 0.58), 0),
}

BUILD_UPS: dict[str, list[tuple[str, float]]] = {
    "Lower outer wall": [
        ("Brick, estuary buff", 100),
        ("Cavity", 50),
        ("Rigid insulation", 120),
        ("Concrete block", 140),
        ("Plaster", 13),
    ],
    "Upper outer wall": [
        ("Timber boarding", 22),
        ("Battens and air", 38),
        ("Breather membrane", 1),
        ("Sheathing board", 9),
        ("Studs with soft insulation", 220),
        ("Vapour membrane", 1),
        ("Service void", 25),
        ("Plasterboard", 13),
    ],
    "Parapet": [
        ("Timber boarding", 22),
        ("Battens and air", 38),
        ("Breather membrane", 1),
        ("Sheathing board", 9),
        ("Studs with soft insulation", 140),
        ("Sheathing board", 9),
        ("Roofing membrane", 1),
        ("Timber boarding", 22),
    ],
    "Block partition": [("Plaster", 13), ("Concrete block", 140), ("Plaster", 13)],
    "Stud partition": [("Plasterboard", 15), ("Studs with soft insulation", 95), ("Plasterboard", 15)],
    "Ground floor": [
        ("Screed", 65),
        ("Damp-proof membrane", 1),
        ("Rigid insulation", 150),
        ("Reinforced concrete", 150),
        ("Damp-proof membrane", 1),
        ("Sand", 50),
        ("Hardcore", 200),
    ],
    "Boat bay floor": [("Reinforced concrete", 200), ("Damp-proof membrane", 1), ("Sand", 50), ("Hardcore", 200)],
    "Upper floor": [("Floor boards", 20), ("Acoustic insulation", 30), ("Plywood", 22)],
    "Ceiling": [("Plasterboard", 13)],
    "Terrace roof": [
        ("Pavers", 40),
        ("Pedestals and air", 30),
        ("Roofing membrane", 1),
        ("Rigid insulation", 200),
        ("Vapour membrane", 1),
        ("Plywood", 22),
    ],
    "Laboratory roof": [
        ("Zinc", 1),
        ("Roof boards", 24),
        ("Ventilated air", 50),
        ("Rafters with soft insulation", 240),
        ("Roof membrane", 1),
        ("Plasterboard", 15),
    ],
}


def thickness(name: str) -> float:
    """Total thickness of a build-up in metres."""
    return sum(t for _, t in BUILD_UPS[name]) / 1000


def write_build_ups(writer: Writer) -> dict[str, Entity]:
    for name, (category, colour, clear) in MATERIALS.items():
        writer.material(name, category, colour, clear)
    return {name: writer.layer_set(name, layers) for name, layers in BUILD_UPS.items()}
