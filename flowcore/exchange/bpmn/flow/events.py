"""Events: where cases come from, what they wait for on the way, how they leave, and clocks at the edge of a task."""

from datetime import datetime
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, short
from flowcore.exchange.bpmn.draft.ours import STEP, STREAM, TRAVEL, is_ours, own_id
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node
from flowcore.exchange.bpmn.file.parameters import Value
from flowcore.exchange.bpmn.file.times import from_cycle, from_period
from flowcore.exchange.bpmn.file.values import Unreadable, plain_number_of, trait_of
from flowcore.exchange.bpmn.flow.activities import outside, receiving
from flowcore.exchange.bpmn.parts.calendars import opening
from flowcore.exchange.bpmn.parts.properties import OUR_TYPE, property_stop, written
from flowcore.study.durations import minutes

MOST_DATES = 1000
GAP, GAP_ASSUMED = "How far apart do cases come?", {"dist": "exponential", "mean": "10 min"}


def make_start(reading: Reading, node: Node) -> None:
    """Make the stop at which cases, or branches that a message begins, come in."""
    reading.chain(node, [reading.stop(node, {"kind": "choose"})])


def make_stream(reading: Reading, node: Node) -> None:
    """Make the streams of a start event: one, or one for each calendar that its trigger has."""
    timers = reading.of(node.id).values.get("InterTriggerTimer", [])
    bodies = [body for value in timers if (body := _by_timer(reading, node, value)) is not None]
    for body in bodies or [_without_timer(reading, node)]:
        stream_id = reading.draft.new_id("streams", own_id(reading, STREAM, node.id, node.called), "stream")
        reading.starts[stream_id] = node.id
        traits = written(reading, node.id, node.called, reading.of(node.id))
        common: dict[str, Any] = {
            "id": stream_id,
            "name": short(node.name or "Arrivals"),
            "to": reading.entry[node.id].id,
        }
        common |= body | ({"traits": traits} if traits else {})
        limit = plain_number_of(reading.of(node.id).first("TriggerCount"))
        if limit is not None and 1 <= limit <= 1_000_000 and body["kind"] == "random":
            common["limit"] = round(limit)
        reading.draft.streams.append(common | _mix(reading, node))


def _by_timer(reading: Reading, node: Node, value: Value) -> dict[str, Any] | None:
    gap = reading.time(node.id, node.called, value)
    if gap is None or (isinstance(gap, str) and minutes(gap) <= 0):
        return None
    calendar = opening(reading, value.valid_for) if value.valid_for else None
    return {"kind": "random", "gap": gap} | ({"open": calendar} if calendar else {})


def _without_timer(reading: Reading, node: Node) -> dict[str, Any]:
    said, text = node.timer
    every, times = from_cycle(text) if said == "timeCycle" else (None, None)
    if every:
        return {"kind": "random", "gap": every} | ({"limit": times} if times else {})
    if said == "timeDate" and (moment := _moment(text)):
        return {"kind": "dates", "arrivals": [{"at": moment}]}
    count = plain_number_of(reading.of(node.id).first("TriggerCount"))
    if count is not None and 1 <= count <= MOST_DATES:
        return {"kind": "dates", "arrivals": [{"at": reading.begin}] * round(count)}
    return {"kind": "random", "gap": reading.notes.ask(node.id, node.called, GAP, "time", GAP_ASSUMED)}


def _moment(text: str) -> str | None:
    try:
        return datetime.fromisoformat(text).replace(tzinfo=None, microsecond=0).isoformat()
    except ValueError:
        return None


def _mix(reading: Reading, node: Node) -> dict[str, Any]:
    """Return the mix of case types that a file of ours has as a property."""
    if not reading.drawn.is_ours or OUR_TYPE not in reading.of(node.id).properties:
        return {}
    try:
        told = trait_of(reading.of(node.id).properties[OUR_TYPE][1]).value
    except Unreadable:
        return {}
    shares = {told: 1.0} if isinstance(told, str) else told.get("shares", {}) if isinstance(told, dict) else {}
    mix = [{"type": reading.case_type(name), "share": share} for name, share in shares.items()]
    return {"mix": mix} if mix else {}


def make_intermediate(reading: Reading, node: Node) -> None:
    """Make the stops of an event on the way: a time, a message or signal awaited or told, or nothing."""
    stops = [each for each in (property_stop(reading, node),) if each is not None]
    if node.tag == "intermediateThrowEvent" or node.event in ("", "link"):
        stops.append(reading.stop(node, {"kind": "choose"}))
        reading.told[node.id] = stops[-1]
    elif is_ours(reading, TRAVEL, node):
        stops.append(reading.stop(node, {"kind": "choose"}))
        reading.travel[node.id] = _waits(reading, node)
    elif node.event == "timer":
        stops.append(_timer(reading, node))
    elif node.event in ("message", "signal"):
        stops.append(receiving(reading, node))
    else:
        stops.append(reading.stop(node, {"kind": "delay", "time": outside(reading, node)}))
    reading.chain(node, stops)


def _timer(reading: Reading, node: Node) -> Stop:
    if node.id in reading.raced:
        return reading.stop(node, {"kind": "choose"})
    said, text = node.timer
    told = _waits(reading, node)
    every, _ = from_cycle(text) if said == "timeCycle" else (None, None)
    if told is None and every:
        return reading.stop(node, {"kind": "signal", "clears": {"every": every}})
    if told is None:
        told = reading.notes.ask(node.id, node.called, "How long does it wait?", "time", "1 h")
    return reading.stop(node, {"kind": "delay", "time": told})


def _waits(reading: Reading, node: Node) -> Any:
    """Return how long a timer waits; None where it does not say."""
    said, text = node.timer
    value = reading.of(node.id).first("InterTriggerTimer")
    told = None if value is None else reading.time(node.id, node.called, value)
    return told or (from_period(text) if said == "timeDuration" else None)


def timer_of(reading: Reading, node: Node) -> tuple[str, str | None]:
    """Return after how long a clock runs out, and how far apart it does so again.

    The trigger's values in turn are the first of these and the others.
    """
    said, text = node.timer
    value = reading.of(node.id).first("InterTriggerTimer")
    again, times = from_cycle(text) if said == "timeCycle" else (None, None)
    told = again or (from_period(text) if said == "timeDuration" else None)
    if value is not None and value.kind == "EnumParameter" and len(value.points) > 1:
        gaps = [reading.time(node.id, node.called, value.points[place][1]) for place in (0, 1)]
        told, again = gaps[0], reading.constant(node, gaps[1] or again)
    elif value is not None:
        told = reading.time(node.id, node.called, value) or told
    if told is None:
        told = reading.notes.ask(node.id, node.called, "After how long?", "time", "1 d")
    repeats = again is not None and times != 1 and not node.interrupts
    return reading.constant(node, told), again if repeats else None


def make_end(reading: Reading, node: Node) -> None:
    """Make the stops of an end: the message that it tells, and the exit, or where its sub-process is over."""
    leads_on = bool(node.within) or (node.process in reading.branches and not is_ours(reading, STEP, node))
    stops = [each for each in (property_stop(reading, node),) if each is not None]
    if node.event in ("message", "signal"):
        stops.append(reading.stop(node, {"kind": "choose"}, "" if leads_on else "sent"))
        reading.told[node.id] = stops[-1]
    if leads_on:
        stops = stops or [reading.stop(node, {"kind": "choose"})]
    else:
        is_failure = node.event in ("error", "cancel")
        stops.append(reading.stop(node, {"kind": "exit"} | ({"abandoned": True} if is_failure else {})))
    reading.chain(node, stops)
