"""One small renderer per output over the same display list."""
