"""What people add to a drawing: notes, labels, dimensions, lines, areas and symbols; tied to the model by anchors."""
