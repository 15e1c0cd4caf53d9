"""Routes of review."""
