"""Seen surfaces on paper: fills, shadows, patterns, and the line round the building."""
