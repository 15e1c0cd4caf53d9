"""Tests of the core: drawing."""
