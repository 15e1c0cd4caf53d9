"""Projects, their history, who is there, and what they have of their own: standards, shown sets, shared extents."""
