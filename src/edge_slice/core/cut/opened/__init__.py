"""Views of a model that is opened by other planes than that of the drawing."""
