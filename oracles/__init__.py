"""Independent checks of what the core draws, for tests and benches: brute force, and nothing of the core's own ways."""
