"""What only files of our own have: ids that say which element of a study they are, and helpers on the way."""

from flowcore.exchange.bpmn.draft.draft import Way
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node

STEP, STREAM, TEAM, DEADLINE, CALENDAR = "step_", "stream_", "team_", "deadline_", "calendar_"
TYPE, SCENARIO = "type_", "scenario_"
PARTNER = "join_"
"""How the process of branches is called that a case does not wait for, before the id of their join."""
ALL_OVER = ": all over"
"""How the join of a partner's branches is called, after the name of the partner."""
PARTS = "parts_"
"""A gateway of its own at which the ways out of a task or an event part."""
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


def lead_from_the_step(reading: Reading) -> None:
    """Let the ways that part at a gateway of its own lead from the step before it, as a study has them."""
    for flow in reading.drawn.flows:
        if flow.target.startswith(PARTS) and flow.target in reading.way_out:
            step, parts = reading.way_out[flow.source], reading.way_out[flow.target]
            step.ways = parts.ways
            reading.way_out[flow.target] = step
            del reading.draft.stops[parts.id]


def our_partners(reading: Reading) -> set[str]:
    """Return the processes of a file of ours that are branches for which the case does not wait."""
    return {each for each in reading.branches if reading.drawn.is_ours and each.startswith(PARTNER)}


def begin_partner(reading: Reading, process: str, begins: list[Node]) -> None:
    """Let the branches of a process begin at the forks that send them their messages."""
    join = reading.entry.get(f"{STEP}{process.removeprefix(PARTNER)}")
    for node in begins:
        for teller in reading.messages.told_by(node):
            fork = reading.told.get(teller.id)
            if fork is not None and join is not None:
                join.body = {"kind": "join"}
                fork.body = {"kind": "fork", "join": join.id}
                fork.ways.append(Way(reading.entry[node.id].id, is_message=True))
