"""What the painted views show, as lists of ordinary lines, for screen readers and whoever likes lists better."""
