"""The trial walk: the flow played move by move."""
