"""Right-sizing: people by the hour, rosters that cover them, and the cheapest of these that keeps its targets."""
