"""What people add to drawings: annotations, touch-ups, pictures, and what these are tied to."""
