"""The flow as immutable values, and edits as pure functions from flow to flow."""
