"""The API over HTTP: projects."""
