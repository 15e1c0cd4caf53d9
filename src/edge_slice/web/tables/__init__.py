"""Routes of tables of the building."""
