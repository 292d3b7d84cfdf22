"""Above the checks: survey, checks and verdict wired once, for the window and the command line."""
