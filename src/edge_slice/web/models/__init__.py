"""Routes of models."""
