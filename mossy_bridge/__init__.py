"""Mossy Bridge: lay out the flow of a game's levels and prove that nobody gets stuck."""

__version__ = "0.1.0"
