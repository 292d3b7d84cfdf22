"""Checks of what the designer has promised, recorded and put off, one chapter."""
