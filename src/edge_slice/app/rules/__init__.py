"""Rules for new drawings: of a project, of the office, and the drawings that follow them."""
