"""What a cut passes through: from triangles to closed faces in layers, without overlaps."""
