"""Play-tests in the window: which logs were read, what they add up to, games that are listened to."""
