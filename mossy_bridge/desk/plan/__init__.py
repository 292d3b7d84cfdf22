"""Plans on screen: painted to scale, and laid out by hand and by number."""
