"""A small game of its own that knows a game table and nothing else, as a game would. It imports nothing of the
program."""
