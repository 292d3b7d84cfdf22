"""Seven steps on the demo for whoever is new: each waits until it is done, and says what has changed."""
