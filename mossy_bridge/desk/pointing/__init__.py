"""Readers made by pointing: a sample file, the rules and words that come of it, and the plan as it is read."""
