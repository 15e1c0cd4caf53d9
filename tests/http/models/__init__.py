"""The API over HTTP: models."""
