"""The API over HTTP: drawings."""
