"""Where a cut lies: planes of each kind of cut with axes and windows, and sets of cuts made in one act."""
