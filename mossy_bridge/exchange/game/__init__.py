"""What the game reads: a table to follow the flow by, and constants to name its parts by."""
