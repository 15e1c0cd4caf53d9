"""Lettering: faces, widths, lines."""
