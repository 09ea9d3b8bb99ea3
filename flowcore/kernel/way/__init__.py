"""The way of a case: visits, routes, blocking and travel, forks and batches."""
