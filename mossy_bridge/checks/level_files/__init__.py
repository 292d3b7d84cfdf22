"""Checks of what level files hold, as readers read them."""
