"""Reports on paper and as files."""
