"""Routes of people: signing in, accounts, who belongs to a project, links, and the audit list."""
