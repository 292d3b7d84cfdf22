"""What games log of what was played: read, explained by the flow, counted."""
