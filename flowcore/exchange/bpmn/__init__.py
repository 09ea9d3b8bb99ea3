"""Processes drawn elsewhere: BPMN 2.0 with simulation parameters in BPSim 1.0, in and out."""
