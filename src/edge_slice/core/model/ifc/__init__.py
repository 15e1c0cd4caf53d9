"""IFC files: their bodies, materials and properties."""
