"""Checks by the rules of play, one chapter."""
