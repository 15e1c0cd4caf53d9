"""Tests of the core: cutting."""
