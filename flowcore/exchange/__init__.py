"""Studies and parts of them in open formats."""
