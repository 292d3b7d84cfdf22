"""Rules made by pointing: from a thing in a sample file to a rule that finds all of its kind."""
