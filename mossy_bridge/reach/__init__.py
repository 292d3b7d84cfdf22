"""Exact reachability: which states moves can lead to, and what follows from that."""
