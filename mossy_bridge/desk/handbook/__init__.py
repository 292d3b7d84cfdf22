"""The handbook: its pages, and the panel that shows them beside the work."""
