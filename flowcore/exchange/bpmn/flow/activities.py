"""Tasks and sub-processes: what is done, by whom, how long, and how often."""

import re
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, Way
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.conditions import rule_in
from flowcore.exchange.bpmn.file.drawn import Node
from flowcore.exchange.bpmn.file.names import BY_ITSELF
from flowcore.exchange.bpmn.file.values import added, is_nothing, plain_number_of
from flowcore.exchange.bpmn.parts.calendars import opening
from flowcore.exchange.bpmn.parts.properties import fact_for, property_stop
from flowcore.exchange.bpmn.parts.teams import needs_of

WORK = ("SetUpTime", "ProcessingTime", "ValidationTime", "ReworkTime")
WAITING = ("TransferTime", "QueueTime", "WaitTime", "LagTime")
BY_SOMEBODY = ("task", "userTask", "manualTask")
WORK_TIME, WORK_ASSUMED = "How long does it take?", "10 min"
MOST_AT_ONCE = 20
MOST_URGENT = 1e6


def make_task(reading: Reading, node: Node) -> None:
    """Make the stops of a task: what comes before, the work, the message that it sends, and whether it is repeated."""
    stops = _before(reading, node)
    sent = reading.messages.told_by(node)
    if node.tag == "receiveTask" and (sent or not reading.of(node.id).values.get("ProcessingTime")):
        stops.append(receiving(reading, node))
    work = _work(reading, node)
    if work is not None:
        stops.append(work)
    if node.id in reading.messages.tellers:
        told = reading.stop(node, {"kind": "choose"}, "sent" if work is not None else "")
        reading.told[node.id] = told
        stops.append(told)
    if node.calls and not sent:
        reading.lose(node, "It calls a process of its own.", "It is a step, and what it calls is not looked into.")
    reading.chain(node, stops or [reading.stop(node, {"kind": "choose"})])
    repeat(reading, node)


def _before(reading: Reading, node: Node) -> list[Stop]:
    stops = []
    waiting = added(reading.times(node.id, node.called, *WAITING))
    if not is_nothing(waiting.value):
        time = reading.kept(node.id, node.called, waiting)
        stops.append(reading.stop(node, {"kind": "delay", "time": time}, "before"))
    written = property_stop(reading, node)
    return [*stops, written] if written is not None else stops


def _work(reading: Reading, node: Node) -> Stop | None:
    """Return the stop at which a task's work is done; None where it takes no time and nobody does it."""
    needs = needs_of(reading, node)
    told = reading.times(node.id, node.called, *WORK)
    if told:
        work = reading.kept(node.id, node.called, added(told))
    elif node.tag in BY_ITSELF or (node.tag == "receiveTask" and not node.roles):
        work, needs = "0 min", []
    else:
        work = reading.notes.ask(node.id, node.called, WORK_TIME, "time", WORK_ASSUMED)
    if not needs and node.tag in BY_SOMEBODY and node.process in reading.staffed and not reading.drawn.is_ours:
        reading.lose(node, "Nobody is named who does it.", "It runs by itself and nobody waits: give it a team.")
    says = _costs(reading, node) | _hours(reading, node)
    if not needs and not says and is_nothing(work):
        return None
    if reading.of(node.id).first("Interruptible") is not None:
        instead = "Work is put down for steps whose urgent cases displace less urgent work: set that there."
        reading.lose(node, "It says whether it may be interrupted.", instead)
    body = {"kind": "serve", "work": work} | ({"needs": needs} if needs else {})
    return reading.stop(node, body | says | _priority(reading, node))


def _priority(reading: Reading, node: Node) -> dict[str, Any]:
    said = reading.of(node.id).first("Priority")
    priority = plain_number_of(said)
    if priority is not None and abs(priority) <= MOST_URGENT:
        return {"priority": priority} if priority else {}
    if said is not None:
        reading.lose(node, "Its priority is no plain number up to a million.", "It has none: give the step one.")
    return {}


def _costs(reading: Reading, node: Node) -> dict[str, Any]:
    if reading.of(node.id).first("UnitCost") is not None:
        reading.lose(node, "It costs something for each unit of time.", "Nothing of that; give a team that rate.")
    fixed = plain_number_of(reading.of(node.id).first("FixedCost"))
    return {"cost": fixed} if fixed is not None and 0 < fixed < 1e9 else {}


def _hours(reading: Reading, node: Node) -> dict[str, Any]:
    for value in reading.of(node.id).values.get("Availability", []):
        if value.valid_for and value.attributes.get("value") in ("true", "1"):
            calendar = opening(reading, value.valid_for)
            return {"open": calendar} if calendar else {}
    return {}


def receiving(reading: Reading, node: Node) -> Stop:
    """Return the stop at which a node waits for a message or a signal: of the file, or from elsewhere."""
    if node.id in reading.raced:
        return reading.stop(node, {"kind": "choose"})
    tellers = [each.id for each in reading.messages.told_by(node)]
    if not tellers:
        return reading.stop(node, {"kind": "delay", "time": outside(reading, node)})
    stop = reading.stop(node, {"kind": "signal"})
    stop.body["clears"] = {"told_by": tellers, "to_all": node.event == "signal"}
    return stop


def outside(reading: Reading, node: Node) -> Any:
    """Return how long it takes until something comes from outside the file."""
    value = reading.of(node.id).first("InterTriggerTimer")
    told = None if value is None else reading.time(node.id, node.called, value)
    return told or reading.notes.ask(node.id, node.called, "How long until it comes?", "time", "1 d")


def repeat(reading: Reading, node: Node) -> None:
    """Let a task or a sub-process be done several times, as its loop says."""
    if node.loop == "standard":
        _loop(reading, node)
    elif node.loop:
        _instances(reading, node)


def _loop(reading: Reading, node: Node) -> None:
    first, last = reading.entry[node.id], reading.way_out[node.id]
    after = reading.stop(node, {"kind": "choose"})
    again = reading.stop(node, {"kind": "choose"}, "again?")
    rule = rule_in(node.loop_condition, lambda name: fact_for(reading, name)) if node.loop_condition else None
    most = int(node.loop_most) if node.loop_most.isdigit() else None
    reading.draft.lead(last, again.id)
    if rule is None and (node.loop_condition or most is None):
        share = reading.notes.ask(node.id, node.called, "How often is it done once more?", "share", 0.5)
        repeated = again if most is None else _at_most(reading, node, again, after, _fewer(first, most))
        reading.draft.lead(repeated, first.id, share=share)
        reading.draft.lead(repeated, after.id, share=1 - share)
    else:
        clauses = [rule] if rule else []
        clauses += [_fewer(first, most)] if most is not None else []
        _back_where(reading, again, first, after, clauses)
    if node.tests_before:
        before = reading.stop(node, dict(again.body), "needed?")
        before.ways = [Way(way.to, dict(way.says)) for way in again.ways]
        reading.entry[node.id] = before
    reading.way_out[node.id] = after


def _at_most(reading: Reading, node: Node, again: Stop, after: Stop, fewer: dict[str, Any]) -> Stop:
    """Let a case go on that has been there as often as it may; return the stop where the others draw their luck."""
    drawn = reading.stop(node, {"kind": "choose"}, "once more?")
    _back_where(reading, again, drawn, after, [fewer])
    return drawn


def _back_where(reading: Reading, again: Stop, back: Stop, after: Stop, clauses: list[dict[str, Any]]) -> None:
    """Lead from a stop back where all clauses hold, else on."""
    again.body = {"kind": "choose", "pick": "rule"}
    reading.draft.lead(again, back.id, when={"all": clauses})
    reading.draft.lead(again, after.id, otherwise=True)


def _fewer(stop: Stop, most: int) -> dict[str, Any]:
    return {"fact": f"visits:{stop.id}", "is": "under", "value": most}


def _instances(reading: Reading, node: Node) -> None:
    """Do something for each of several: one after the other, or at once."""
    many = int(node.loop_most) if re.fullmatch(r"\d{1,4}", node.loop_most) else 0
    if not many:
        many = reading.notes.ask(node.id, node.called, "For how many is it done?", "count", 2)
    if many <= 1:
        return
    first, last = reading.entry[node.id], reading.way_out[node.id]
    if node.loop == "sequential":
        again = reading.stop(node, {}, "all done?")
        after = reading.stop(node, {"kind": "choose"})
        reading.draft.lead(last, again.id)
        _back_where(reading, again, first, after, [_fewer(first, many)])
        reading.way_out[node.id] = after
        return
    if many > MOST_AT_ONCE:
        reading.lose(node, f"It is done for {many} at once.", f"It is done for {MOST_AT_ONCE} at once.")
    each = reading.stop(node, {"kind": "fork"}, "for each")
    together = reading.stop(node, {"kind": "join"}, "all done")
    each.body["join"] = together.id
    for _ in range(min(many, MOST_AT_ONCE)):
        reading.draft.lead(each, first.id)
    reading.draft.lead(last, together.id)
    reading.entry[node.id], reading.way_out[node.id] = each, together
