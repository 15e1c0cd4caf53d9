"""Routes of projects."""
