"""Corrections: what a project wishes the model otherwise, kept above it and applied before it is cut."""
