"""The flow of a study, made of tasks, events, gateways and messages."""
