"""A report to hand round: what is in it, as plain values, and as one HTML file."""
