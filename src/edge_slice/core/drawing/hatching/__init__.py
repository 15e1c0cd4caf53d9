"""What fills cut faces: tints, hatches that know their shape, bands of ground."""
