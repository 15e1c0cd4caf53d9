"""The API over HTTP: sheets."""
