"""The API over HTTP: annotating."""
