"""Members: what they do, whom they serve, why they are away."""
