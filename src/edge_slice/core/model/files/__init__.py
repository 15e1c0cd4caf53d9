"""Files of models in any format."""
