"""What a BPMN file draws: participants, nodes, flows between them, messages, resources."""

from collections.abc import Iterator
from dataclasses import dataclass, field

from lxml import etree

from flowcore.exchange.bpmn.file.names import NODES, ROLES, SUB_PROCESSES, bpmn, local

UNNAMED = {
    "exclusiveGateway": "Ways part",
    "inclusiveGateway": "Some of these",
    "parallelGateway": "All of these",
    "eventBasedGateway": "What comes first",
    "startEvent": "Start",
    "endEvent": "End",
    "boundaryEvent": "At the edge",
    "timer": "Wait",
    "subProcess": "Sub-process",
}
"""How nodes without a name are called."""


@dataclass
class Role:
    """A part that somebody has in a node: a resource, if it names one."""

    id: str
    name: str
    resource: str


@dataclass
class Node:
    """A task, sub-process, gateway or event of a process."""

    id: str
    name: str
    tag: str
    process: str
    within: str
    """The sub-process in which it lies; empty directly in its process."""
    lane: str = ""
    event: str = ""
    """What kind of event it is, such as `timer`; empty for none."""
    event_refs: list[str] = field(default_factory=list)
    """The messages and signals that the event names, or the name of a link."""
    timer: tuple[str, str] = ("", "")
    """Of a timer: `timeDuration`, `timeCycle` or `timeDate`, and what it says."""
    attached_to: str = ""
    interrupts: bool = True
    loop: str = ""
    """`standard`, `parallel` or `sequential` where it is done several times."""
    loop_most: str = ""
    loop_condition: str = ""
    tests_before: bool = False
    is_converging: bool = False
    """Of a gateway: whether it says that ways only come together there."""
    by_event: bool = False
    is_aside: bool = False
    """Whether it only undoes what was done."""
    default: str = ""
    calls: str = ""
    roles: list[Role] = field(default_factory=list)
    is_entered: bool = False
    """Whether it is a sub-process with something in it."""

    @property
    def called(self) -> str:
        """Its name for people, else what it is."""
        return self.name or UNNAMED.get(self.event) or UNNAMED.get(self.tag) or self.id


@dataclass
class Flow:
    """A sequence flow from one node to another, with its condition."""

    id: str
    name: str
    source: str
    target: str
    condition: str = ""


@dataclass
class Process:
    """A process, by the name of the participant whose it is."""

    id: str
    name: str
    has_pool: bool = False


@dataclass
class Drawn:
    """All that a file draws, in its order."""

    is_ours: bool
    name: str
    processes: dict[str, Process] = field(default_factory=dict)
    nodes: dict[str, Node] = field(default_factory=dict)
    flows: list[Flow] = field(default_factory=list)
    messages: list[tuple[str, str]] = field(default_factory=list)
    """Message flows: from which node or participant to which."""
    resources: dict[str, str] = field(default_factory=dict)
    lanes: dict[str, str] = field(default_factory=dict)
    properties: dict[str, str] = field(default_factory=dict)
    values: dict[str, list[str]] = field(default_factory=dict)
    """What a property may be, by its id, where it says so."""
    about: str = ""
    """What the first process that says something about itself says."""
    unknown: list[tuple[str, str, str]] = field(default_factory=list)
    """Elements with sequence flows that are of no known kind: id, name, kind."""

    def children(self, process: str, within: str) -> list[Node]:
        """Return the nodes directly in a process or a sub-process."""
        return [node for node in self.nodes.values() if (node.process, node.within) == (process, within)]


def what_is_drawn(root: etree._Element, is_ours: bool) -> Drawn:
    """Return what a file's definitions draw."""
    drawn = Drawn(is_ours, root.get("name") or "")
    pools = {_text(each, "processRef"): each for each in root.iter(bpmn("participant")) if each.get("processRef")}
    for resource in root.findall(bpmn("resource")):
        drawn.resources[resource.get("id") or ""] = resource.get("name") or resource.get("id") or ""
    for process in root.findall(bpmn("process")):
        process_id = process.get("id") or ""
        pool = pools.get(process_id)
        name = (pool.get("name") if pool is not None else None) or process.get("name") or ""
        drawn.processes[process_id] = Process(process_id, name, pool is not None)
        drawn.about = drawn.about or (process.findtext(bpmn("documentation")) or "").strip()
        for each in process.findall(bpmn("property")):
            drawn.properties[each.get("id") or ""] = each.get("name") or ""
            drawn.values[each.get("id") or ""] = [told.text or "" for told in each.findall(bpmn("documentation"))]
        _add_lanes(process, drawn)
        _add_container(process, process_id, "", drawn)
    for collaboration in root.findall(bpmn("collaboration")):
        for flow in collaboration.findall(bpmn("messageFlow")):
            drawn.messages.append((_text(flow, "sourceRef"), _text(flow, "targetRef")))
    return drawn


def _text(element: etree._Element, attribute: str) -> str:
    """Return what an attribute says, without the prefix of a qualified name."""
    return (element.get(attribute) or "").rpartition(":")[2]


def _add_lanes(process: etree._Element, drawn: Drawn) -> None:
    """Note the lanes, from the outermost in: the innermost has its nodes."""
    for lane in process.iter(bpmn("lane")):
        drawn.lanes[lane.get("id") or ""] = lane.get("name") or ""


def _lane_of(process: etree._Element) -> dict[str, str]:
    lanes: dict[str, str] = {}
    for lane in process.iter(bpmn("lane")):
        if lane.get("name"):
            lanes |= {(ref.text or "").strip(): lane.get("id") or "" for ref in lane.findall(bpmn("flowNodeRef"))}
    return lanes


def _add_container(container: etree._Element, process: str, within: str, drawn: Drawn) -> None:
    lanes = _lane_of(container)
    for element in container:
        tag = local(element)
        if tag in NODES:
            node = _node(element, tag, process, within)
            node.lane = lanes.get(node.id, drawn.nodes[within].lane if within else "")
            drawn.nodes[node.id] = node
            if within:
                drawn.nodes[within].is_entered = True
            if tag in SUB_PROCESSES:
                _add_container(element, process, node.id, drawn)
        elif tag == "sequenceFlow":
            drawn.flows.append(_flow(element))
        elif element.find(bpmn("incoming")) is not None or element.find(bpmn("outgoing")) is not None:
            drawn.unknown.append((element.get("id") or "", element.get("name") or "", tag))


def _flow(element: etree._Element) -> Flow:
    condition = element.find(bpmn("conditionExpression"))
    return Flow(
        element.get("id") or "",
        element.get("name") or "",
        _text(element, "sourceRef"),
        _text(element, "targetRef"),
        "" if condition is None else (condition.text or "").strip(),
    )


def _node(element: etree._Element, tag: str, process: str, within: str) -> Node:
    node = Node(element.get("id") or "", " ".join((element.get("name") or "").split()), tag, process, within)
    node.attached_to = _text(element, "attachedToRef")
    node.interrupts = element.get("cancelActivity", element.get("isInterrupting", "true")) != "false"
    node.is_converging = element.get("gatewayDirection") == "Converging"
    node.is_aside = element.get("isForCompensation") == "true"
    node.by_event = element.get("triggeredByEvent") == "true"
    node.default = _text(element, "default")
    node.calls = _text(element, "calledElement")
    node.roles = list(_roles(element))
    if tag in ("receiveTask", "sendTask"):
        node.event_refs = [ref for ref in (_text(element, "messageRef"),) if ref]
    for child in element:
        _add_to(node, child, local(child))
    return node


def _add_to(node: Node, child: etree._Element, tag: str) -> None:
    if tag.endswith("EventDefinition"):
        event = tag.removesuffix("EventDefinition")
        node.event = node.event or event
        node.event_refs += [ref for ref in (_text(child, f"{event}Ref") or (child.get("name") or ""),) if ref]
        for said in ("timeDuration", "timeCycle", "timeDate"):
            found = child.find(bpmn(said))
            if found is not None:
                node.timer = (said, (found.text or "").strip())
    elif tag == "standardLoopCharacteristics":
        node.loop = "standard"
        node.loop_most = child.get("loopMaximum") or ""
        node.tests_before = child.get("testBefore") == "true"
        node.loop_condition = (child.findtext(bpmn("loopCondition")) or "").strip()
    elif tag == "multiInstanceLoopCharacteristics":
        node.loop = "sequential" if child.get("isSequential") == "true" else "parallel"
        node.loop_most = (child.findtext(bpmn("loopCardinality")) or "").strip()


def _roles(element: etree._Element) -> Iterator[Role]:
    for tag in ROLES:
        for role in element.findall(bpmn(tag)):
            resource = (role.findtext(bpmn("resourceRef")) or "").strip().rpartition(":")[2]
            yield Role(role.get("id") or "", role.get("name") or "", resource)
