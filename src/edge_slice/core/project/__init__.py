"""A whole project: its drawings by what they follow, with their markers, names and annotations, and its sheets. What it
consists of comes from a `Source`: the rows of a database, or the files of a project."""
