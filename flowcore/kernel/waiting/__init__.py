"""Waiting: who is there, what is missing, where a case stands."""
