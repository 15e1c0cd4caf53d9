"""What stands at the edge of a drawing or in it by rule: levels, grid, rooms, markers."""
