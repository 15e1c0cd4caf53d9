"""Routes of drawings."""
