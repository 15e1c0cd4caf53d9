"""Where cuts are placed: reports, fitting, picking, wall sections and starter sets."""
