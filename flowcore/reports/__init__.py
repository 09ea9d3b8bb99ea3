"""What the workbench and the command line show: made of theory, a run, or a replication gone through again."""
