"""Replays: one replication made again from its seed, and what is seen of it from moment to moment."""
