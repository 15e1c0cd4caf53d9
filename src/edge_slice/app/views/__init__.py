"""Composed drawings, kept by what they depend on."""
