"""The order strip: the whole sequence as beads, in the designer's order, grouped by region."""
