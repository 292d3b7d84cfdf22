"""The rules of play: what a flow means. The only implementation; everything else asks here."""
