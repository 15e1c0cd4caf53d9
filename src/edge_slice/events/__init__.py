"""Tells open windows what has changed: an asynchronous process of its own, in which a window holds a socket and nothing
else, so that any number of them leave the web server's threads alone."""
