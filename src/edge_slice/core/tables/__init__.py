"""Tables: doors, windows, rooms, walls, materials and so on as rows, computed from the model."""
