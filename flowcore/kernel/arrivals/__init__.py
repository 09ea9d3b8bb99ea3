"""Where cases come from."""
