"""What follows another cut: callouts, shared extents, new revisions."""
