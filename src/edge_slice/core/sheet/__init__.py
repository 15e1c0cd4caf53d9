"""Sheets: sizes, designs, placements and their titles; ends in a display list in paper millimetres."""

from edge_slice.core.sheet.compose import compose_sheet
from edge_slice.core.sheet.design import SheetDesign, design_problems
from edge_slice.core.sheet.shipped import CORNER, shipped_designs
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize
from edge_slice.core.sheet.spec import (
    IssuedRow,
    KeyOutline,
    ListedDrawing,
    ListedSheet,
    PlacedDrawing,
    SheetSpec,
    TitleStyle,
    placement_box,
    trimmed_box,
)

__all__ = [
    "CORNER",
    "SHEET_SIZES",
    "IssuedRow",
    "KeyOutline",
    "ListedDrawing",
    "ListedSheet",
    "PlacedDrawing",
    "SheetDesign",
    "SheetSize",
    "SheetSpec",
    "TitleStyle",
    "compose_sheet",
    "design_problems",
    "placement_box",
    "shipped_designs",
    "trimmed_box",
]
