"""Small sound flows to begin with, one for each shape that a game can have."""
