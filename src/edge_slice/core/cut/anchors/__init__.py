"""Anchors: what an annotation is tied to in the model."""
