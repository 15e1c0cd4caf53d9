"""Models that are put together from several files: whose they are, where they lie, what two of them both hold."""
