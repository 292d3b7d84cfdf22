"""Rules as sentences: words with blanks that open what can be put there."""
