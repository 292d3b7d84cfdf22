"""The demo flow, Tidewick, and the pictures made from it."""
