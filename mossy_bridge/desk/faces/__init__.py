"""The faces of the middle: other ways of looking at the whole flow, under the same strip."""
