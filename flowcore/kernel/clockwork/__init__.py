"""What knows nothing of the service: draws, distributions, queues, the event list, the agenda, the log."""
