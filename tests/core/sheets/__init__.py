"""Tests of the core: sheets."""
