"""The one place where what views ask for becomes an edit of the flow: one named step each."""
