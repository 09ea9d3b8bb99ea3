"""The steps of a study as nodes of a BPMN process, and their ways as sequence flows."""

from typing import Any

from flowcore.exchange.bpmn.file.conditions import expression_of
from flowcore.exchange.bpmn.file.times import as_period
from flowcore.exchange.bpmn.parts.properties import OUR_FACT, OUR_TYPE
from flowcore.exchange.bpmn.writing.elements import below, text_below
from flowcore.exchange.bpmn.writing.sketch import EVENT, GATEWAY, Box, Sketch, size_of
from flowcore.study.checkpoints import Deadline
from flowcore.study.distributions import mean_of
from flowcore.study.durations import in_unit
from flowcore.study.graph import links_of
from flowcore.study.rules import Condition, Rule
from flowcore.study.steps import Choose, Delay, Exit, Fork, Join, Serve, SetTraits, Signal, Step
from flowcore.study.streams import DateStream, Stream

CATCH, THROW = "intermediateCatchEvent", "intermediateThrowEvent"


def draw_flow(sketch: Sketch) -> None:
    """Draw streams, steps, deadlines and the ways between them."""
    for stream in sketch.study.streams:
        _draw_stream(sketch, stream)
    for step in sketch.study.steps:
        _draw_step(sketch, step)
    for deadline in sketch.study.deadlines:
        _draw_deadline(sketch, deadline)
    for step in sketch.study.steps:
        _draw_ways(sketch, step)


def _draw_stream(sketch: Sketch, stream: Stream) -> None:
    start = sketch.node("startEvent", f"stream_{stream.id}", stream.name, Box(EVENT, stream.to, "before"))
    if isinstance(stream, DateStream) and len(stream.arrivals) == 1:
        timer = below(start, "bpmn:timerEventDefinition")
        text_below(timer, "bpmn:timeDate", stream.arrivals[0].at)
    if stream.to in sketch.steps:
        sketch.flow(f"begins_{stream.id}", f"stream_{stream.id}", sketch.entry(stream.to))


def _draw_step(sketch: Sketch, step: Step) -> None:
    tag = _tag(sketch, step)
    node_id = f"step_{step.id}"
    ways = len(links_of(step))
    direction = None
    if tag.endswith("Gateway"):
        direction = "Converging" if isinstance(step, Join) else "Diverging"
    box = Box(size_of(tag), step.id)
    node = sketch.node(
        tag,
        node_id,
        step.name,
        box,
        gatewayDirection=direction,
        default=_default_way(step) if tag == "exclusiveGateway" else None,
        messageRef=f"message_{step.id}" if tag == "receiveTask" else None,
    )
    if isinstance(step, Delay):
        timer = below(node, "bpmn:timerEventDefinition")
        text_below(timer, "bpmn:timeDuration", as_period(_one_time(step.time)))
    elif isinstance(step, Signal) and tag == CATCH:
        _draw_signal(sketch, step, node)
    elif isinstance(step, Exit) and step.abandoned:
        below(node, "bpmn:errorEventDefinition")
    elif isinstance(step, Serve):
        for number, need in enumerate(step.needs):
            role = below(node, "bpmn:potentialOwner", id=f"need_{step.id}_{number}", name=need.skill)
            if need.team:
                text_below(role, "bpmn:resourceRef", f"team_{need.team}")
    if tag == THROW:
        _tell(sketch, step.id, node)
        _raise(sketch, step.id, node)
        if isinstance(step, Fork):
            _begin_partner(sketch, step, node)
    elif step.id in sketch.told:
        before = sketch.node(THROW, f"told_{step.id}", f"{step.name}: told", Box(EVENT, step.id, "before"))
        _tell(sketch, step.id, before)
        sketch.flow(f"told_{step.id}_on", f"told_{step.id}", node_id)
    merge = f"merge_{step.id}"
    if sketch.entry(step.id) == merge:
        sketch.node("exclusiveGateway", merge, None, Box(GATEWAY, step.id, "before"), gatewayDirection="Converging")
        sketch.flow(f"{merge}_on", merge, node_id)
    if tag != THROW and step.id in sketch.raised:
        for number in range(ways):
            after = sketch.node(THROW, f"ended_{step.id}_{number}", None, Box(EVENT, step.id, "after"))
            _raise(sketch, step.id, after)


def _tag(sketch: Sketch, step: Step) -> str:
    """Return which element of BPMN a step is drawn as."""
    match step:
        case Serve():
            return "userTask" if step.needs else "task"
        case Signal() if step.id in sketch.hosts and step.clears and step.clears.message:
            return "receiveTask"
        case Delay() | Signal():
            return CATCH
        case Exit():
            return "endEvent"
        case SetTraits():
            return "scriptTask"
        case Fork() if sketch.leaves_branches(step):
            return THROW
        case Fork():
            chances = any(link.chance is not None for link in step.next)
            return "inclusiveGateway" if chances else "parallelGateway"
        case Join():
            return "inclusiveGateway" if _joins_chances(sketch, step) else "parallelGateway"
        case Choose() if len(step.next) > 1:
            return "exclusiveGateway"
    return THROW


def _joins_chances(sketch: Sketch, join: Join) -> bool:
    forks = [step for step in sketch.study.steps if isinstance(step, Fork) and step.join == join.id]
    return any(link.chance is not None for fork in forks for link in fork.next)


def _one_time(time: Any) -> str:
    """Return a time as one duration: the mean of one that varies."""
    if isinstance(time, str):
        return time
    return in_unit(mean_of(getattr(time, "otherwise", time)), "min", 6)


def _draw_signal(sketch: Sketch, step: Signal, node: Any) -> None:
    clears = step.clears
    if clears and clears.every:
        timer = below(node, "bpmn:timerEventDefinition")
        text_below(timer, "bpmn:timeCycle", f"R/{as_period(clears.every)}")
    elif clears and clears.message:
        below(node, "bpmn:messageEventDefinition", messageRef=f"message_{step.id}")
    elif clears and clears.after_step:
        below(node, "bpmn:signalEventDefinition", signalRef=f"signal_{clears.after_step}")
    else:
        condition = below(node, "bpmn:conditionalEventDefinition")
        text_below(condition, "bpmn:condition", "it clears")
        what = "It clears at times of day, when so many wait, or while it is open."
        sketch.lose(step.id, step.name, what, "It is drawn as an event without a time.")


def _begin_partner(sketch: Sketch, fork: Fork, node: Any) -> None:
    """Draw the starts of a partner's branches, which the message of a fork begins."""
    below(node, "bpmn:messageEventDefinition", messageRef=f"branch_{fork.id}")
    for number, link in enumerate(fork.next[1:], start=1):
        if link.to not in sketch.steps:
            continue
        start_id = f"begin_{fork.id}_{number}"
        start = sketch.node("startEvent", start_id, None, Box(EVENT, link.to, "before"))
        below(start, "bpmn:messageEventDefinition", messageRef=f"branch_{fork.id}")
        sketch.flow(f"{start_id}_on", start_id, sketch.entry(link.to))
        sketch.messages.append((f"step_{fork.id}", start_id))


def _tell(sketch: Sketch, step: str, node: Any) -> None:
    for signal in sketch.told.get(step, []):
        below(node, "bpmn:messageEventDefinition", messageRef=f"message_{signal}")
        if sketch.home.get(step, "") != sketch.home.get(signal, ""):
            sketch.messages.append((node.get("id"), f"step_{signal}"))


def _raise(sketch: Sketch, step: str, node: Any) -> None:
    if step in sketch.raised:
        below(node, "bpmn:signalEventDefinition", signalRef=f"signal_{step}")


def _default_way(step: Step) -> str | None:
    links = links_of(step)
    if not any(link.when for link in links):
        return None
    return next((f"way_{step.id}_{number}" for number, link in enumerate(links) if link.when is None), None)


def _where_ways_part(sketch: Sketch, step: Step) -> str:
    """Return the node from which the ways of a step lead: a gateway of its own, where they are several."""
    if isinstance(step, Choose | Fork) or len(links_of(step)) < 2:
        return f"step_{step.id}"
    parts = f"parts_{step.id}"
    box = Box(GATEWAY, step.id, "after")
    sketch.node("exclusiveGateway", parts, None, box, gatewayDirection="Diverging", default=_default_way(step))
    sketch.flow(f"step_{step.id}_on", f"step_{step.id}", parts)
    return parts


def _draw_ways(sketch: Sketch, step: Step) -> None:
    source = _where_ways_part(sketch, step)
    for number, link in enumerate(links_of(step)):
        if link.to not in sketch.steps or (number > 0 and sketch.leaves_branches(step)):
            continue
        flow_id = f"way_{step.id}_{number}"
        target = sketch.entry(link.to)
        sketch.ways[step.id, number] = flow_id
        if link.travel is not None and link.travel != "walk":
            travel = f"travel_{step.id}_{number}"
            event = sketch.node(CATCH, travel, None, Box(EVENT, step.id, "after"))
            timer = below(event, "bpmn:timerEventDefinition")
            text_below(timer, "bpmn:timeDuration", as_period(_one_time(link.travel)))
            sketch.travels[step.id, number] = travel
            sketch.flow(f"{travel}_on", travel, target)
            target = travel
        after = f"ended_{step.id}_{number}"
        if after in sketch.boxes:
            sketch.flow(f"{after}_on", after, target)
            target = after
        flow = sketch.flow(flow_id, source, target)
        if link.when is not None:
            _draw_condition(sketch, step, flow, link.when)


def _draw_condition(sketch: Sketch, step: Step, flow: Any, rule: Rule) -> None:
    if not is_plain(rule):
        instead = "It is written as a property that other programs do not know."
        sketch.lose(step.id, step.name, "A rule asks for more than traits and case types.", instead)
    text_below(flow, "bpmn:conditionExpression", expression_of(rule, property_of))


def property_of(fact: str) -> str:
    """Return the name of the property that a fact of a rule is written as."""
    kind, _, about = fact.partition(":")
    return OUR_TYPE if kind == "type" else about if kind == "trait" else f"{OUR_FACT}{fact}"


def is_plain(clause: Condition | Rule) -> bool:
    """Say whether a rule or a condition of one asks for traits and case types only."""
    if isinstance(clause, Rule):
        return all(is_plain(each) for each in clause.clauses)
    return clause.kind in ("type", "trait")


def _draw_deadline(sketch: Sketch, deadline: Deadline) -> None:
    host = sketch.steps.get(deadline.from_)
    then = deadline.then.send or deadline.then.divert or ""
    is_task = isinstance(host, Serve) or (isinstance(host, Signal) and host.clears and host.clears.message)
    if not is_task or host is None or then not in sketch.steps or not _ends_behind(sketch, deadline):
        instead = "It is left out of the drawing."
        sketch.lose(deadline.id, deadline.name, "It spans more than one task, or hangs at no task.", instead)
        return
    node_id = f"deadline_{deadline.id}"
    node = sketch.node(
        "boundaryEvent",
        node_id,
        deadline.name,
        Box(EVENT, host.id, "below"),
        attachedToRef=f"step_{host.id}",
        cancelActivity=deadline.then.divert is not None,
    )
    timer = below(node, "bpmn:timerEventDefinition")
    if deadline.then.every:
        text_below(timer, "bpmn:timeCycle", f"R/{as_period(deadline.then.every)}")
    else:
        text_below(timer, "bpmn:timeDuration", as_period(deadline.within))
    sketch.flow(f"late_{deadline.id}", node_id, sketch.entry(then))


def _ends_behind(sketch: Sketch, deadline: Deadline) -> bool:
    """Say whether a deadline ends at the only step to which its step leads, where nobody waits."""
    host, last = sketch.steps[deadline.from_], sketch.steps.get(deadline.to)
    into = [link for step in sketch.study.steps for link in links_of(step) if link.to == deadline.to]
    begins = any(stream.to == deadline.to for stream in sketch.study.streams)
    waits_not = isinstance(last, Choose | SetTraits | Fork | Delay)
    is_next = [link.to for link in links_of(host)] == [deadline.to]
    return is_next and len(into) == 1 and into[0].travel is None and not begins and waits_not
