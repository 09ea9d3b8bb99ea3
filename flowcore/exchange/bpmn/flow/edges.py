"""Events at the edge of a task or sub-process: clocks, messages that come meanwhile, and what goes wrong in it."""

from collections.abc import Collection
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, short
from flowcore.exchange.bpmn.draft.ours import DEADLINE, own_id
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node
from flowcore.exchange.bpmn.file.values import plain_number_of
from flowcore.exchange.bpmn.flow.events import timer_of
from flowcore.exchange.bpmn.flow.joins import reached

FAILS, FAILS_ASSUMED = "How often does this happen?", 0.1


def make_boundary(reading: Reading, node: Node) -> None:
    """Make the stop from which the ways of an event at the edge of a task lead on."""
    reading.chain(node, [reading.stop(node, {"kind": "choose"})])


def set_edge(reading: Reading, node: Node) -> None:
    """Let what happens at the edge of a task or sub-process happen: by a clock, by a message, or so often."""
    host = reading.drawn.nodes.get(node.attached_to)
    if host is None or host.id not in reading.entry:
        reading.lose(node, "It is at the edge of nothing.", "It is left out.")
        return
    tellers = [each.id for each in reading.messages.told_by(node) if each.id in reading.told]
    waiting = next((stop for stop in reading.draft.stops.values() if stop.node == host.id and _hears(stop)), None)
    if node.event == "timer":
        _deadline(reading, node, host)
    elif node.event == "compensate":
        reading.lose(node, "What was done is undone later.", "It is left out.")
    elif tellers and not node.interrupts:
        _listen(reading, node, host, tellers)
    elif tellers and waiting is not None:
        _hear_instead(reading, node, host, waiting, tellers)
    else:
        _happens(reading, node, host)


def _hears(stop: Stop) -> bool:
    return "told_by" in stop.body.get("clears", {})


def _listen(reading: Reading, node: Node, host: Node, tellers: list[str]) -> None:
    """Let a branch listen while something is done: each message sends it along the event's ways, until that is over."""
    draft, over = reading.draft, _own_over(reading, host)
    join = reading.stop(node, {"kind": "join"}, "no longer awaited")
    hears = reading.stop(node, {"kind": "signal", "clears": {"told_by": tellers, "to_all": False, "also": over.id}})
    what = reading.stop(node, {"kind": "choose", "pick": "rule"}, "or over")
    parts = reading.stop(node, {"kind": "fork", "join": join.id}, "has come")
    begin = reading.stop(host, {"kind": "fork", "join": join.id}, "and listens")
    draft.lead(begin, reading.entry[host.id].id)
    draft.lead(begin, hears.id)
    draft.lead(hears, what.id)
    draft.lead(what, join.id, when=heard(over.id))
    draft.lead(what, parts.id, otherwise=True)
    draft.lead(parts, hears.id)
    draft.lead(parts, reading.entry[node.id].id)
    draft.lead(over, join.id)
    reading.entry[host.id], reading.way_out[host.id] = begin, join
    reading.listeners.append((reading.entry[node.id], join))


def heard(*tellers: str) -> dict[str, Any]:
    """Return the rule that the message that came last is from one of some stops."""
    clauses = [{"fact": "message", "is": "equal", "value": each} for each in tellers]
    return {"all" if len(clauses) == 1 else "any": clauses}


def _own_over(reading: Reading, host: Node) -> Stop:
    """Return a stop of its own at which a task or a sub-process is over."""
    over = reading.stop(host, {"kind": "choose"}, "over")
    reading.draft.lead(reading.way_out[host.id], over.id)
    reading.way_out[host.id] = over
    return over


def end_listeners(reading: Reading, ends: Collection[Stop]) -> None:
    """Let the ways that a message begins meanwhile end where the listening does: before what comes after, or an end."""
    draft = reading.draft
    for first, join in reading.listeners:
        exits = {stop.id for stop in draft.stops.values() if not stop.ways}
        barrier = reached(draft, [join.id]) | {stop.id for stop in ends} | exits
        ahead, meanwhile = [first.id], set()
        while ahead:
            stop_id = ahead.pop()
            if stop_id in meanwhile:
                continue
            meanwhile.add(stop_id)
            for way in (each for each in draft.stops[stop_id].ways if not each.is_message):
                way.to = join.id if way.to in barrier else way.to
                ahead += [way.to] if way.to != join.id else []


def _hear_instead(reading: Reading, node: Node, host: Node, waiting: Stop, tellers: list[str]) -> None:
    """Let who waits for a message hear that of the event as well, and go on at the event if it was that one."""
    waiting.body["clears"]["told_by"] = [*waiting.body["clears"]["told_by"], *tellers]
    after = reading.stop(host, {"kind": "choose"}, "goes on")
    which = reading.stop(node, {"kind": "choose", "pick": "rule"}, "or not")
    reading.draft.lead(which, reading.entry[node.id].id, when=heard(*(reading.told[each].id for each in tellers)))
    reading.draft.lead(which, after.id, otherwise=True)
    reading.draft.lead(reading.way_out[host.id], which.id)
    reading.way_out[host.id] = after


def _deadline(reading: Reading, node: Node, host: Node) -> None:
    within, again = timer_of(reading, node)
    over = _over(reading, host)
    then: dict[str, Any] = {"divert" if node.interrupts else "send": reading.entry[node.id].id}
    if again:
        then["every"] = again
    if node.interrupts:
        what = "It interrupts work that has begun."
        reading.lose(node, what, "Who still waits goes on at this event; work that has begun is finished.")
    name = node.name or f"{host.called}: {within}"
    called = node.name or f"{host.called} late"
    deadline_id = reading.draft.new_id("deadlines", own_id(reading, DEADLINE, node.id, called), "deadline")
    reading.clocks[deadline_id] = node.id
    reading.draft.deadlines.append(
        {
            "id": deadline_id,
            "name": short(name),
            "from": reading.entry[host.id].id,
            "to": over.id,
            "within": within,
            "then": then,
        }
    )


def _over(reading: Reading, host: Node) -> Stop:
    """Return the stop at which a task or a sub-process is over and nobody waits."""
    last = reading.way_out[host.id]
    return last if last.body["kind"] == "choose" and not host.is_entered else _own_over(reading, host)


def _happens(reading: Reading, node: Node, host: Node) -> None:
    """Let something happen to a share of the cases when the task is over: errors, messages, conditions."""
    what = f"“{node.event or 'event'}” can come at any time while it is done."
    reading.lose(node, what, "It happens to a share of the cases when that is over.")
    flow = next(iter(reading.flows_from(node.id)), None)
    told = plain_number_of(reading.of(node.id).first("Probability"))
    if told is None and flow is not None:
        told = plain_number_of(reading.of(flow.id).first("Probability"))
    share = told if told is not None and 0 <= told <= 1 else None
    if share is None:
        share = reading.notes.ask(node.id, node.called, FAILS, "share", FAILS_ASSUMED)
    last = reading.way_out[host.id]
    after = reading.stop(host, {"kind": "choose"}, "goes on")
    if node.interrupts:
        happens = reading.stop(node, {"kind": "choose"}, "or not")
        reading.draft.lead(happens, reading.entry[node.id].id, node.id, share=share)
        reading.draft.lead(happens, after.id, share=1 - share)
    else:
        happens = reading.stop(node, {"kind": "fork"}, "or not")
        reading.draft.lead(happens, after.id)
        reading.draft.lead(happens, reading.entry[node.id].id, node.id, chance=share)
        reading.open_forks.append(happens)
    reading.draft.lead(last, happens.id)
    reading.way_out[host.id] = after
