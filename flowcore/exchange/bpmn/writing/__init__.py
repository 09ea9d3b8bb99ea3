"""The way out: a study as BPMN with BPSim and a diagram, and figures of a run as BPSim results."""
