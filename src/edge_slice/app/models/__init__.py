"""Models of projects: taken in, revised, compared, shown and cut in three dimensions."""
