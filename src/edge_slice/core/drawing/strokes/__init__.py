"""Lines on paper: borders of cut pieces, dashes."""
