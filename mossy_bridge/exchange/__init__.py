"""Flow files, and every import and export."""
