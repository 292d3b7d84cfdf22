"""What the program notes of its own doings, and shows when it is asked for."""
