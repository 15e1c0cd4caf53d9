"""The API over HTTP: serving."""
