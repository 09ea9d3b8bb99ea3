"""The flow of a study, made of all that a file draws: one flow for each participant, joined by messages."""

from collections.abc import Iterator
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, Way, short
from flowcore.exchange.bpmn.draft.ours import (
    ALL_OVER,
    begin_partner,
    lead_from_the_step,
    name_our_tellers,
    our_partners,
)
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node
from flowcore.exchange.bpmn.file.names import GATEWAYS, SUB_PROCESSES, TASKS
from flowcore.exchange.bpmn.flow.activities import make_task, repeat
from flowcore.exchange.bpmn.flow.edges import end_listeners, make_boundary, set_edge
from flowcore.exchange.bpmn.flow.events import make_end, make_intermediate, make_start, make_stream
from flowcore.exchange.bpmn.flow.gateways import lead_on, make_gateway, raced
from flowcore.exchange.bpmn.flow.joins import join_forks
from flowcore.exchange.bpmn.flow.loops import let_loops_take_time


def make_flow(reading: Reading) -> None:
    """Make the steps, streams, deadlines and spans of a study."""
    _choose_the_case(reading)
    reading.raced = raced(reading)
    nodes = [node for node in reading.drawn.nodes.values() if not _is_left_out(reading, node)]
    for node in nodes:
        _make(reading, node)
    within = [node for node in nodes if node.is_entered]
    begins = {node.id: reading.entry[node.id] for node in within}
    ends = {node.id: reading.way_out[node.id] for node in within}
    for node in within:
        repeat(reading, node)
    for node in nodes:
        if node.tag == "boundaryEvent" and not _thrown_within(reading, node):
            set_edge(reading, node)
    for node in within:
        _enter(reading, node, begins[node.id])
    for process in sorted(reading.branches - our_partners(reading)):
        name = reading.drawn.processes[process].name or "Partner"
        ends[process] = reading.draft.add(_begins_of(reading, process, "")[0].id, f"{name}: over", {"kind": "choose"})
    for node in nodes:
        lead_on(reading, node)
        _close(reading, node, ends)
    if reading.drawn.is_ours:
        lead_from_the_step(reading)
    for process in reading.drawn.processes:
        _begin(reading, process, ends)
    end_listeners(reading, ends.values())
    join_forks(reading, ends)
    if reading.drawn.is_ours:
        name_our_tellers(reading)
    _name_tellers(reading)
    _drop_unreached(reading)
    reading.draft.without_blanks()
    if not reading.drawn.is_ours:
        let_loops_take_time(reading)


def _choose_the_case(reading: Reading) -> None:
    """Say which processes are branches that messages begin, and whose participants do the work."""
    drawn = reading.drawn
    called = {node.calls for node in drawn.nodes.values() if node.calls and node.calls != node.process}
    reading.called = called if called < drawn.processes.keys() else set()
    alive = [each for each in drawn.processes if each not in reading.called and _begins_of(reading, each, "")]
    for process in alive:
        if all(reading.messages.told_by(node) for node in _begins_of(reading, process, "")):
            reading.branches.add(process)
    if alive and reading.branches == set(alive):
        reading.branches.discard(alive[0])
        name = drawn.processes[alive[0]].name or alive[0]
        reading.notes.lose(alive[0], name, "Every process waits for another to begin it.", "Cases come in at this one.")
    reading.staffed = reading.branches if reading.branches else set(alive)


def _begins_of(reading: Reading, process: str, within: str) -> list[Node]:
    """Return the nodes at which a process or a sub-process begins: its start events, else those no flow leads to."""
    children = reading.drawn.children(process, within)
    starts = [node for node in children if node.tag == "startEvent"]
    led_to = {flow.target for node in reading.drawn.nodes for flow in reading.flows_from(node)}
    return starts or [
        node
        for node in children
        if node.id not in led_to
        and node.tag not in ("boundaryEvent", "endEvent")
        and not (node.is_aside or node.by_event or _goes_on(node))
    ]


def _is_left_out(reading: Reading, node: Node) -> bool:
    """Say whether a node is of no flow: of a process that is called, or of a sub-process that an event begins."""
    if node.process in reading.called:
        return True
    if node.by_event or node.is_aside:
        what = "It begins by an event, whatever the process is at." if node.by_event else "It undoes what was done."
        reading.lose(node, what, "It is left out.")
        return True
    above = reading.drawn.nodes.get(node.within)
    while above is not None:
        if above.by_event or above.is_aside:
            return True
        above = reading.drawn.nodes.get(above.within)
    return False


def _make(reading: Reading, node: Node) -> None:
    """Make the stops of one node."""
    if node.is_entered:
        _make_sub_process(reading, node)
    elif node.tag in TASKS or node.tag in SUB_PROCESSES:
        make_task(reading, node)
    elif node.tag in GATEWAYS:
        make_gateway(reading, node)
    elif node.tag == "startEvent":
        make_start(reading, node)
    elif node.tag == "endEvent":
        make_end(reading, node)
    elif node.tag == "boundaryEvent":
        make_boundary(reading, node)
    else:
        make_intermediate(reading, node)


def _make_sub_process(reading: Reading, node: Node) -> None:
    """Make the stops at which a sub-process begins and is over, and a span of its name between them."""
    begin = reading.stop(node, {"kind": "choose"}, "begins")
    over = reading.stop(node, {"kind": "choose"}, "over")
    reading.entry[node.id], reading.way_out[node.id] = begin, over
    reading.told[node.id] = over
    ends = {"from": {"step": begin.id, "at": "entering"}, "to": {"step": over.id, "at": "entering"}}
    span_id = reading.draft.new_id("spans", node.called, "span")
    reading.draft.spans.append({"id": span_id, "name": short(node.called)} | ends)
    if node.tag == "adHocSubProcess":
        reading.lose(node, "Its tasks are done in any order, or not.", "All are done, side by side.")


def _enter(reading: Reading, node: Node, begin: Stop) -> None:
    """Lead from the beginning of a sub-process to its first nodes, side by side where they are several."""
    first = [each for each in _begins_of(reading, node.process, node.id) if each.id in reading.entry]
    if len(first) > 1:
        begin.body = {"kind": "fork"}
        reading.open_forks.append(begin)
    for each in first:
        reading.draft.lead(begin, reading.entry[each.id].id)


def _close(reading: Reading, node: Node, ends: dict[str, Stop]) -> None:
    """Lead from a node without a flow of its own to where its sub-process or its process is over."""
    stop = reading.way_out[node.id]
    if reading.flows_from(node.id) or stop.body["kind"] == "exit" or stop.ways:
        return
    linked = _linked(reading, node)
    if linked is not None:
        reading.draft.lead(stop, reading.entry[linked.id].id)
    elif node.within:
        caught = _catcher(reading, node)
        reading.draft.lead(stop, (reading.entry[caught.id] if caught else ends[node.within]).id)
    elif node.process in ends:
        reading.draft.lead(stop, ends[node.process].id)
    else:
        reading.draft.lead(stop, reading.draft.add(node.id, "End", {"kind": "exit"}).id)


def _linked(reading: Reading, node: Node) -> Node | None:
    """Return where a flow goes on that an event leads to another place of the drawing."""
    if node.tag != "intermediateThrowEvent" or node.event != "link":
        return None
    same = reading.drawn.children(node.process, node.within)
    return next((each for each in same if _goes_on(each) and each.event_refs == node.event_refs), None)


def _goes_on(node: Node) -> bool:
    return node.tag == "intermediateCatchEvent" and node.event == "link"


def _catcher(reading: Reading, node: Node) -> Node | None:
    """Return the event at the edge of a sub-process that catches an error thrown in it."""
    if node.tag != "endEvent" or node.event != "error":
        return None
    edge = (each for each in reading.drawn.nodes.values() if each.attached_to == node.within and each.event == "error")
    return next((each for each in edge if each.event_refs in ([], node.event_refs)), None)


def _thrown_within(reading: Reading, node: Node) -> bool:
    """Say whether an error that an event at the edge catches is thrown by an end within."""
    inside = reading.drawn.nodes.values()
    return any(each.within == node.attached_to and _catcher(reading, each) is node for each in inside)


def _begin(reading: Reading, process: str, ends: dict[str, Stop]) -> None:
    """Let cases come to where a process begins, or branches where messages begin it."""
    begins = [node for node in _begins_of(reading, process, "") if node.id in reading.entry]
    if process not in reading.branches:
        for node in begins:
            make_stream(reading, node)
        return
    if process in our_partners(reading):
        begin_partner(reading, process, begins)
        return
    name = reading.drawn.processes[process].name or "Partner"
    over = ends[process]
    join = reading.draft.add(over.node, f"{name}{ALL_OVER}", {"kind": "join"})
    reading.draft.lead(over, join.id)
    reading.draft.lead(join, reading.draft.add(over.node, f"{name}: done", {"kind": "exit"}).id)
    for node in begins:
        for teller in reading.messages.told_by(node):
            if teller.id in reading.told:
                _part(reading, reading.told[teller.id], node, name, join)


def _part(reading: Reading, told: Stop, begin: Node, name: str, join: Stop) -> None:
    """Let a branch begin where a message is sent."""
    fork = reading.draft.add(told.node, f"{name} begins", {"kind": "fork", "join": join.id})
    fork.ways, told.ways = told.ways, []
    reading.draft.lead(told, fork.id)
    fork.ways.append(Way(reading.entry[begin.id].id, is_message=True))


def _name_tellers(reading: Reading) -> None:
    """Let each signal name the steps that tell its messages."""
    for stop in reading.draft.stops.values():
        clears = stop.body.get("clears", {})
        if "told_by" not in clears:
            continue
        tellers = list(dict.fromkeys(reading.told[each].id for each in clears["told_by"] if each in reading.told))
        tellers += [clears["also"]] if "also" in clears else []
        node = reading.drawn.nodes[stop.node]
        if not tellers:
            reading.lose(node, "What it waits for is told by nothing that was kept.", "It takes a day.")
            stop.body = {"kind": "delay", "time": "1 d"}
        elif clears["to_all"]:
            stop.body["clears"] = {"after_step": tellers[0]}
            if len(tellers) > 1:
                reading.lose(node, "Its signal is sent from several places.", "It waits for the first of them.")
        else:
            stop.body["clears"] = _by_message(tellers)


def _drop_unreached(reading: Reading) -> None:
    """Leave out the stops to which no case can come."""
    draft = reading.draft
    reached: set[str] = set()
    ahead = [stream["to"] for stream in draft.streams]
    while ahead:
        stop = draft.stops[ahead.pop()]
        if stop.id not in reached:
            reached.add(stop.id)
            ahead += [way.to for way in stop.ways]
            ahead += [stop.body["join"]] if "join" in stop.body else []
            ahead += [to for deadline in draft.deadlines if deadline["from"] == stop.id for to in _sent_to(deadline)]
    gone = {stop.node for stop in draft.stops.values() if stop.id not in reached}
    for node_id in sorted(gone - {draft.stops[each].node for each in reached}):
        reading.lose(reading.drawn.nodes[node_id], "No flow leads to it.", "It is left out.")
    draft.stops = {stop_id: stop for stop_id, stop in draft.stops.items() if stop_id in reached}
    draft.deadlines = [each for each in draft.deadlines if {each["from"], each["to"]} <= reached]
    draft.spans = [each for each in draft.spans if {each["from"]["step"], each["to"]["step"]} <= reached]
    for stop in draft.stops.values():
        _forget_untold(reading, stop, reached)
        _forget_unheard(reading, stop, reached)


def _sent_to(deadline: dict[str, dict[str, str]]) -> Iterator[str]:
    yield from (deadline["then"][key] for key in ("send", "divert") if key in deadline["then"])


def _forget_untold(reading: Reading, stop: Stop, reached: set[str]) -> None:
    """Let a signal wait for those messages only that can be told."""
    clears = stop.body.get("clears", {})
    told = [clears[key] for key in ("message", "after_step") if key in clears] + clears.get("also", [])
    kept = [each for each in told if each in reached]
    if told and not kept:
        reading.lose(reading.drawn.nodes[stop.node], "What it waits for is never told.", "It takes a day.")
        stop.body = {"kind": "delay", "time": "1 d"}
    elif "message" in clears:
        stop.body["clears"] = _by_message(kept)


def _forget_unheard(reading: Reading, stop: Stop, reached: set[str]) -> None:
    """Leave out what rules ask about stops that are left out, and the rules where one way is left."""
    before = len(stop.ways)
    stop.ways = [way for way in stop.ways if "when" not in way.says or _is_left(reading, way.says["when"], reached)]
    if len(stop.ways) < before:
        reading.lose(reading.drawn.nodes[stop.node], "A rule asks about what is left out.", "Its way is left out.")
    if not any("when" in way.says for way in stop.ways):
        if stop.body.get("pick") == "rule":
            del stop.body["pick"]
        for way in stop.ways:
            way.says.pop("otherwise", None)


def _is_left(reading: Reading, clause: dict[str, Any], reached: set[str]) -> bool:
    """Say whether a rule still asks something once what it asks about stops that are left out is forgotten."""
    for clauses in (clause[key] for key in ("all", "any") if key in clause):
        clauses[:] = [each for each in clauses if _is_left(reading, each, reached)]
        return bool(clauses)
    kind, _, about = str(clause.get("fact", "")).partition(":")
    if kind == "message":
        return clause["value"] in reached
    if kind == "line":
        return about in reached and reading.draft.stops[about].body["kind"] in ("serve", "signal")
    return kind != "visits" or about in reached


def _by_message(tellers: list[str]) -> dict[str, Any]:
    return {"message": tellers[0]} | ({"also": tellers[1:]} if len(tellers) > 1 else {})
