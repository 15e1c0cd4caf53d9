"""Tables of the building: made, changed, filled, read, sent and taken back as files."""
