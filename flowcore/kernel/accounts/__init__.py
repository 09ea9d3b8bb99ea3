"""What is counted and written down: minutes, levels, rules and measures, clocks between points, the ledger."""
