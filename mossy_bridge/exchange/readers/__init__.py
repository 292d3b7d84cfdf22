"""Level files read by the rules of readers. Nothing here ever writes into a level file or fetches anything."""
