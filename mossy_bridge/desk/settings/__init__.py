"""What each user has set: what there is to set, where it is kept, and the dialog for it."""
