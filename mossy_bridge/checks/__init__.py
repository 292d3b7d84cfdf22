"""The checks: one small function each, gathered by chapter; findings and repairs."""
