"""Tests of the core: output."""
