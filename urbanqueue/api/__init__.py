"""The HTTP surface."""
