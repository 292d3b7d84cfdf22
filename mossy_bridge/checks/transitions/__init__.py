"""Checks of what happens between two levels."""
