"""What is drawn of a study: the BPMN elements, and between which of them flows lead."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

from flowcore.exchange.bpmn.writing.elements import Element, below
from flowcore.exchange.bpmn.writing.places import Places
from flowcore.exchange.notes import NotKept
from flowcore.study import StudyDocument
from flowcore.study.graph import link_ways, side_ways
from flowcore.study.steps import Choose, Fork, Gather, Scatter, Signal, Step

EVENT, GATEWAY, TASK = (36, 36), (50, 50), (110, 80)
SIZES = {"Event": EVENT, "Gateway": GATEWAY}


@dataclass
class Box:
    """A node of the drawing: its size, the step at which it stands, and on which side of it."""

    size: tuple[int, int]
    step: str
    side: str = "at"
    """`at` the step, `before` or `after` it, or `below` it at its edge."""


@dataclass
class Arrow:
    """A sequence flow of the drawing."""

    id: str
    source: str
    target: str


@dataclass
class Sketch(Places):
    """The process of a study, its nodes and flows, and what of the study is not kept."""

    study: StudyDocument
    processes: dict[str, Element]
    """The process of the cases under an empty id, and those of partners by the join of their branches."""
    home: dict[str, str]
    """By step: the process in which it is drawn."""
    boxes: dict[str, Box] = field(default_factory=dict)
    arrows: list[Arrow] = field(default_factory=list)
    ways: dict[tuple[str, int], str] = field(default_factory=dict)
    """By step and number of its link: the first flow of that way."""
    messages: list[tuple[str, str]] = field(default_factory=list)
    """Message flows between participants."""
    travels: dict[tuple[str, int], str] = field(default_factory=dict)
    """By step and number of its link: the event at which the way's time passes."""
    not_kept: list[NotKept] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.steps: Mapping[str, Step] = {step.id: step for step in self.study.steps}
        signals = [step for step in self.study.steps if isinstance(step, Signal) and step.clears]
        self.told: dict[str, list[str]] = {}
        for step in signals:
            for teller in step.clears.messages if step.clears else []:
                self.told.setdefault(teller, []).append(step.id)
        self.raised = {step.clears.after_step for step in signals if step.clears and step.clears.after_step}
        self.into = Counter(stream.to for stream in self.study.streams)
        for ways in (link_ways(self.study), side_ways(self.study)):
            self.into.update(to for targets in ways.values() for to in targets)
        self.hosts = {deadline.from_ for deadline in self.study.deadlines}

    def step(self, step: str) -> str:
        """Return the node of a step."""
        return f"step_{step}"

    def stream(self, stream: str) -> str:
        """Return the node of a stream."""
        return f"stream_{stream}"

    def deadline(self, deadline: str) -> str | None:
        """Return the node of a deadline, if it is drawn."""
        return f"deadline_{deadline}" if f"deadline_{deadline}" in self.boxes else None

    def team(self, team: str) -> str:
        """Return the resource of a team."""
        return f"team_{team}"

    def way(self, step: str, number: int) -> str | None:
        """Return the first flow of a way out of a step."""
        return self.ways.get((step, number))

    def selection(self, step: str, number: int) -> str:
        """Return the role of a need."""
        return f"need_{step}_{number}"

    def travel(self, step: str, number: int) -> str | None:
        """Return the event at which the time of a way passes."""
        return self.travels.get((step, number))

    def node(self, tag: str, node_id: str, name: str | None, box: Box, **attributes: object) -> Element:
        """Draw a node."""
        self.boxes[node_id] = box
        return below(self._process_of(box.step), f"bpmn:{tag}", id=node_id, name=name, **attributes)

    def flow(self, flow_id: str, source: str, target: str) -> Element:
        """Draw a sequence flow."""
        self.arrows.append(Arrow(flow_id, source, target))
        process = self._process_of(self.boxes[source].step)
        return below(process, "bpmn:sequenceFlow", id=flow_id, sourceRef=source, targetRef=target)

    def _process_of(self, step: str) -> Element:
        return self.processes[self.home.get(step, "")]

    def leaves_branches(self, step: Step) -> bool:
        """Say whether a step is a fork whose branches are a process of their own, for which the case does not wait."""
        return isinstance(step, Fork) and step.join in self.processes

    def is_plain_teller(self, step: Step) -> bool:
        """Say whether nothing happens at a step but that somebody is told."""
        single = isinstance(step, Choose) and len(step.next) < 2
        return single or isinstance(step, Gather | Scatter) or self.leaves_branches(step)

    def entry(self, step_id: str) -> str:
        """Return the node to which ways to a step lead."""
        step = self.steps[step_id]
        if step_id in self.told and not self.is_plain_teller(step):
            return f"told_{step_id}"
        is_gateway = isinstance(step, Fork) and not self.leaves_branches(step)
        return f"merge_{step_id}" if is_gateway and self.into[step_id] > 1 else f"step_{step_id}"


def size_of(tag: str) -> tuple[int, int]:
    """Return how large a node of a kind is drawn."""
    return next((size for ending, size in SIZES.items() if tag.endswith(ending)), TASK)
