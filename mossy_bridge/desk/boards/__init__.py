"""Boards as the player sees them: painting a page of tiles, and laying it out by hand."""
