"""Tests of the core: model."""
