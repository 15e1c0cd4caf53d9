"""Triangles: their edges, joints, winding, and what is mended of them."""
