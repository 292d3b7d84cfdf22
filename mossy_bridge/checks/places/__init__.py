"""Checks of areas and spawn points on plans, one chapter: Triggers and places."""
