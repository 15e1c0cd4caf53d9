"""Drawings: made, changed, named, marked on one another, called out."""
