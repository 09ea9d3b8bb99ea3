"""What targets ask, what trials say of them, and how the best is chosen by that."""
