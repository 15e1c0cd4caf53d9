"""The HTTP interface: JSON in and out, compact drawings for the screen, server-sent events."""
