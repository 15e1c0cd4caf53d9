"""Use cases, one transaction each: they join the store and the core."""
