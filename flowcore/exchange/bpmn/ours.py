"""What only files of our own have: ids that say which element of a study they are, and helpers on the way."""

from flowcore.exchange.bpmn.drawn import Node
from flowcore.exchange.bpmn.reading import Reading

STEP, STREAM, TEAM, DEADLINE, CALENDAR = "step_", "stream_", "team_", "deadline_", "calendar_"
TOLD, ENDED, TRAVEL = "told_", "ended_", "travel_"
"""Events that stand for what the step after them tells, what the step before them raises, and the time of a way."""


def own_id(reading: Reading, prefix: str, element: str, otherwise: str) -> str:
    """Return the id that an element of a file of ours has in a study; of another file, what it is called."""
    is_ours = reading.drawn.is_ours and element.startswith(prefix)
    return element.removeprefix(prefix) if is_ours else otherwise


def is_ours(reading: Reading, prefix: str, node: Node) -> bool:
    """Say whether a node is one that only files of ours have."""
    return reading.drawn.is_ours and node.id.startswith(prefix)


def name_our_tellers(reading: Reading) -> None:
    """Let the steps beside our helpers tell what those tell."""
    for node_id in list(reading.told):
        if node_id.startswith(TOLD):
            for flow in reading.flows_from(node_id):
                reading.told[node_id] = reading.entry[flow.target]
    for flow in reading.drawn.flows:
        if flow.target.startswith(ENDED) and flow.target in reading.told:
            reading.told[flow.target] = reading.way_out[flow.source]
