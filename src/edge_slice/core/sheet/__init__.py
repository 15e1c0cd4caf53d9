"""Sheets: sizes, title block, placements and their titles; ends in a display list in paper millimetres."""

from edge_slice.core.sheet.compose import PlacedDrawing, SheetSpec, compose_sheet, placement_box
from edge_slice.core.sheet.sizes import SHEET_SIZES, SheetSize

__all__ = ["SHEET_SIZES", "PlacedDrawing", "SheetSize", "SheetSpec", "compose_sheet", "placement_box"]
