"""Tests of the core: placing."""
