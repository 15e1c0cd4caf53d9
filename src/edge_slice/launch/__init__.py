"""Starts everything on one machine: PostgreSQL on loopback, migrations, demo data, web server and worker."""
