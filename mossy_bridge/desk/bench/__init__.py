"""The bench: a crossing as a bridge between two banks, or a level with its ways in and out."""
