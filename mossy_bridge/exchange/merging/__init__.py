"""Two and three versions of a flow held against one another, thing by thing and field by field."""
