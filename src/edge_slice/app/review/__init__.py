"""Review: remarks that are pinned to places."""
