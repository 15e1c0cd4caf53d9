"""Ground that a project holds of its own: as documents, as a relief on plan, as a body in the model, and what it takes
to make one ground of another."""
