"""Touch-ups: what people change of generated linework."""
