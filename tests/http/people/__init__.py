"""People over HTTP: signing in, roles, links, what nobody else may see."""
