"""Tests of the core: texts."""
