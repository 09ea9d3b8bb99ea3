"""Where ways part: by a share or a rule, along several at once, or by what comes first."""

from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, Way, short
from flowcore.exchange.bpmn.draft.messages import waits
from flowcore.exchange.bpmn.draft.ours import STEP, is_ours
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.conditions import rule_in
from flowcore.exchange.bpmn.file.drawn import Flow, Node
from flowcore.exchange.bpmn.file.values import plain_number_of
from flowcore.exchange.bpmn.flow.edges import heard
from flowcore.exchange.bpmn.flow.events import timer_of
from flowcore.exchange.bpmn.parts.properties import fact_for

SHARE, CHANCE = "How often is this way taken?", "How often is this way among those taken?"
EVEN_CHANCE = 0.5


def make_gateway(reading: Reading, node: Node) -> None:
    """Make the stops of a gateway: where ways come together, if any wait for each other, and where they part."""
    into = sum(flow.target == node.id for flow in reading.drawn.flows)
    out = len(reading.flows_from(node.id))
    stops = []
    if (into > 1 or node.is_converging) and node.tag in ("parallelGateway", "inclusiveGateway"):
        stops.append(reading.stop(node, {"kind": "choose"}, "together" if out > 1 else ""))
        reading.meetings.append(stops[-1])
    if node.tag == "complexGateway":
        reading.lose(
            node, "It has a rule of its own for who goes on.", "It parts ways by shares, and waits for nobody."
        )
    if not stops or out > 1:
        stops.append(reading.stop(node, {"kind": "choose"}))
    reading.chain(node, stops)


def lead_on(reading: Reading, node: Node) -> None:
    """Lead the ways on from a node to where its sequence flows go."""
    flows = reading.flows_from(node.id)
    stop = reading.way_out[node.id]
    is_fork = node.tag in ("parallelGateway", "inclusiveGateway") and stop not in reading.meetings
    if len(flows) <= 1 and not (is_fork and is_ours(reading, STEP, node)):
        says = {"travel": reading.travel[node.id]} if node.id in reading.travel else {}
        for flow in flows:
            reading.draft.lead(stop, reading.entry[flow.target].id, flow.id, **says)
        return
    if node.tag == "eventBasedGateway":
        by_what_comes(reading, node, stop, flows)
    elif node.tag in ("exclusiveGateway", "complexGateway"):
        by_choice(reading, stop, node, flows)
    else:
        at_once(reading, node, flows)


def by_choice(reading: Reading, stop: Stop, node: Node, flows: list[Flow]) -> None:
    """Part ways by rules where every condition can be read, else by shares."""
    rules = [_rule(reading, flow) for flow in flows]
    otherwise = _otherwise(node, flows, rules)
    if otherwise is not None:
        stop.body["pick"] = "rule"
        for flow, rule in zip(flows, rules, strict=True):
            says: dict[str, Any] = {"otherwise": True} if flow is otherwise else {"when": rule}
            reading.draft.lead(stop, reading.entry[flow.target].id, flow.id, **says)
        return
    for flow, rule in zip(flows, rules, strict=True):
        if rule is None and flow.condition and flow.id != node.default:
            reading.notes.lose(
                flow.id, flow.name or node.called, "Its condition is no rule of traits.", "It has a share."
            )
    for flow, share in zip(flows, shares_of(reading, node, flows), strict=True):
        reading.draft.lead(stop, reading.entry[flow.target].id, flow.id, share=share)


def _rule(reading: Reading, flow: Flow) -> dict[str, Any] | None:
    told = reading.of(flow.id).first("Condition")
    expression = told.attributes.get("value", "") if told is not None else flow.condition
    return rule_in(expression, lambda name: fact_for(reading, name)) if expression else None


def _otherwise(node: Node, flows: list[Flow], rules: list[dict[str, Any] | None]) -> Flow | None:
    """Return the flow that is taken where no rule holds; None where the ways do not part by rules."""
    without = [flow for flow, rule in zip(flows, rules, strict=True) if rule is None or flow.id == node.default]
    if len(without) == 1:
        return without[0]
    return flows[-1] if not without else None


def shares_of(reading: Reading, node: Node, flows: list[Flow]) -> list[float]:
    """Return the shares of the ways out of a gateway, which sum to 1: as told, else as asked."""
    told = [plain_number_of(reading.of(flow.id).first("Probability")) for flow in flows]
    known = [each for each in told if each is not None and each >= 0]
    if len(known) == len(flows) - 1 and sum(known) <= 1 + 1e-9:
        rest = max(0.0, 1 - sum(known))
        return [rest if each is None else each for each in told]
    if len(known) < len(flows):
        left = max(0.0, 1 - sum(known)) / (len(flows) - len(known)) or 1 / len(flows)
        told = [
            _asked(reading, node, flow, SHARE, round(left, 6)) if each is None else each
            for flow, each in zip(flows, told, strict=True)
        ]
    return _summing_to_one(reading, node, [each or 0.0 for each in told])


def _summing_to_one(reading: Reading, node: Node, shares: list[float]) -> list[float]:
    total = sum(shares)
    if abs(total - 1) < 1e-9:
        return shares
    if total <= 0:
        return [1 / len(shares)] * len(shares)
    if abs(total - 1) > 1e-4:
        reading.lose(node, f"Its shares sum to {total:.3g}.", "They are made to sum to 1.")
    rounded = [round(each / total, 9) for each in shares[:-1]]
    return [*rounded, max(0.0, 1 - sum(rounded))]


def _asked(reading: Reading, node: Node, flow: Flow, asks: str, assumed: float) -> float:
    target = reading.drawn.nodes[flow.target].called
    name = f"{node.name or 'Ways part'}: {flow.name or f'to {target}'}"
    return float(reading.notes.ask(flow.id, name, asks, "share", assumed))


def at_once(reading: Reading, node: Node, flows: list[Flow]) -> None:
    """Part ways along all of them, or along each that its condition or its chance allows."""
    stop = reading.way_out[node.id]
    if node.tag not in ("parallelGateway", "inclusiveGateway"):
        stop = reading.stop(node, {"kind": "choose"}, "ways part")
        reading.draft.lead(reading.way_out[node.id], stop.id)
        reading.way_out[node.id] = stop
    stop.body = {"kind": "fork"}
    reading.open_forks.append(stop)
    is_choice = node.tag == "inclusiveGateway" or any(flow.condition for flow in flows)
    chances = _chances(reading, node, flows) if is_choice and node.tag != "parallelGateway" else [None] * len(flows)
    for flow, chance in zip(flows, chances, strict=True):
        way = reading.draft.lead(stop, reading.entry[flow.target].id, flow.id)
        if isinstance(chance, dict):
            _only_when(reading, node, way, chance)
        elif chance is not None:
            way.says["chance"] = chance


def _only_when(reading: Reading, node: Node, way: Way, rule: dict[str, Any]) -> None:
    """Let a branch be over at once unless its rule holds."""
    decides = reading.stop(node, {"kind": "choose", "pick": "rule"}, "if so")
    reading.draft.lead(decides, way.to, way.drawn, when=rule)
    way.to = decides.id
    reading.shortcuts.append(decides)


def _chances(reading: Reading, node: Node, flows: list[Flow]) -> list[Any]:
    """Return of each way its rule or its chance; None for one that is always taken."""
    found: list[Any] = []
    others = 1.0
    for flow in flows:
        rule = _rule(reading, flow)
        told = plain_number_of(reading.of(flow.id).first("Probability"))
        is_always = node.tag != "inclusiveGateway" or (is_ours(reading, STEP, node) and told is None)
        if flow.id == node.default or (is_always and not flow.condition):
            found.append(None)
        elif rule is not None:
            found.append(rule)
        elif told is not None and 0 <= told <= 1:
            found.append(told)
        else:
            found.append(_asked(reading, node, flow, CHANCE, EVEN_CHANCE))
        others *= 1 - found[-1] if isinstance(found[-1], float) else 1.0
    default = next((number for number, flow in enumerate(flows) if flow.id == node.default), None)
    if default is not None:
        found[default] = round(others, 9)
        reading.lose(
            node, "Its default way is taken where no other is.", "It is taken as often, whatever the others are."
        )
    return found


def raced(reading: Reading) -> set[str]:
    """Return the events of which the first to come decides the way, where one is a message of the file."""
    found: set[str] = set()
    for node in reading.drawn.nodes.values():
        targets = [flow.target for flow in reading.flows_from(node.id)]
        if node.tag == "eventBasedGateway" and any(
            reading.messages.told_by(reading.drawn.nodes[each]) for each in targets
        ):
            found.update(targets)
    return found


def by_what_comes(reading: Reading, node: Node, stop: Stop, flows: list[Flow]) -> None:
    """Part ways by which message comes first, or when none has come in time."""
    targets = [reading.drawn.nodes[flow.target] for flow in flows]
    tellers = {target.id: reading.messages.told_by(target) for target in targets if waits(target)}
    awaited = [flow for flow in flows if tellers.get(flow.target)]
    timers = [flow for flow, target in zip(flows, targets, strict=True) if target.event == "timer"]
    if not awaited:
        by_choice(reading, stop, node, flows)
        return
    stop.body = {"kind": "signal"}
    told = [each.id for flow in awaited for each in tellers[flow.target]]
    stop.body["clears"] = {"told_by": list(dict.fromkeys(told)), "to_all": False}
    which = reading.stop(node, {"kind": "choose"}, "heard")
    reading.draft.lead(stop, which.id)
    for number, flow in enumerate(awaited):
        says: dict[str, Any] = {}
        if len(awaited) > 1:
            which.body["pick"] = "rule"
            told = [reading.told[each.id].id for each in tellers[flow.target] if each.id in reading.told]
            says = {"when": heard(*told)} if number < len(awaited) - 1 else {"otherwise": True}
        reading.draft.lead(which, reading.entry[flow.target].id, flow.id, **says)
    for flow in timers[:1]:
        _in_time(reading, node, stop, which, reading.drawn.nodes[flow.target])
    for flow in (each for each in flows if each not in awaited and each not in timers[:1]):
        reading.lose(reading.drawn.nodes[flow.target], "It races with a message.", "It never comes first.")


def _in_time(reading: Reading, node: Node, stop: Stop, which: Stop, timer: Node) -> None:
    within, _ = timer_of(reading, timer)
    deadline_id = reading.draft.new_id("deadlines", timer.name or f"{node.called} late", "deadline")
    reading.clocks[deadline_id] = timer.id
    reading.draft.deadlines.append(
        {
            "id": deadline_id,
            "name": short(timer.name or f"{node.called}: {within}"),
            "from": stop.id,
            "to": which.id,
            "within": within,
            "then": {"divert": reading.entry[timer.id].id},
        }
    )
