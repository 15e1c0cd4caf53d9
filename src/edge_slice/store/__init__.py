"""Keeps the documents of the core in PostgreSQL: tables, blobs by content hash, change log, notices."""
