"""Routes of sheets."""
