"""Another version of the flow: compared, taken over, brought together."""
