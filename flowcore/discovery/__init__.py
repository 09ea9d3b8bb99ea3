"""A flow discovered from a log: what follows what, what goes on at the same time, what is done again.

The method is the inductive miner for infrequent behaviour. Source: Leemans, Fahland and van der Aalst, Discovering
block-structured process models from event logs containing infrequent behaviour, BPM Workshops (2013), 66-78.
"""
