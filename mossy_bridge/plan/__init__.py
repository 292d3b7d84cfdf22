"""Numeric geometry on plans."""
