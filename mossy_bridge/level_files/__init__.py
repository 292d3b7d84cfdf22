"""What the level files of a game hold, held against the flow: matched, compared, taken over."""
