"""A project as a file: its text, what it is made of, its pictures and its sheets drawn."""
