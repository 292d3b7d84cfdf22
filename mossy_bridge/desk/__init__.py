"""Everything Qt: the window and its bands. Views show values and ask for edits; they never change data."""
