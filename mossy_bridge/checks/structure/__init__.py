"""Checks of what is written, one chapter."""
