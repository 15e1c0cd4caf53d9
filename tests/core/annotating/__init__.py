"""Tests of the core: annotating."""
