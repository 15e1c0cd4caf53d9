"""People: accounts, signing in, what they may do, links for others, and what was done."""
