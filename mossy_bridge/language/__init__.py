"""Conditions and effects: text to tree and back, evaluation, and wording with display names."""
