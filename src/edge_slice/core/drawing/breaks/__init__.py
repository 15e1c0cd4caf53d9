"""Broken drawings, their edges, and what is laid into them."""
