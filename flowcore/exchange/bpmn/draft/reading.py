"""What everyone has at hand who makes a study of a drawing."""

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Draft, Stop, short
from flowcore.exchange.bpmn.draft.messages import Messages
from flowcore.exchange.bpmn.file.drawn import Drawn, Flow, Node
from flowcore.exchange.bpmn.file.parameters import Assumed, Parameters, Value
from flowcore.exchange.bpmn.file.times import as_duration
from flowcore.exchange.bpmn.file.values import Read, Unreadable, time_of
from flowcore.exchange.notes import Notes
from flowcore.study.distributions import mean_of
from flowcore.study.distributions.described import Measure, read_distribution


@dataclass
class Reading:
    """A drawing, the scenario that is read, and what has been made of both so far."""

    drawn: Drawn
    scenario: Assumed
    notes: Notes
    messages: Messages
    staffed: set[str] = field(default_factory=set)
    """The processes whose participant does the work where no lane says who."""
    draft: Draft = field(default_factory=Draft)
    entry: dict[str, Stop] = field(default_factory=dict)
    """By node: the stop to which the ways to it lead."""
    way_out: dict[str, Stop] = field(default_factory=dict)
    """By node: the stop from which its ways lead on."""
    told: dict[str, Stop] = field(default_factory=dict)
    """By node that sends a message or a signal: the stop that tells it."""
    teams: dict[str, dict[str, Any]] = field(default_factory=dict)
    """By resource, lane or process: the team made of it."""
    traits: dict[str, dict[str, Any]] = field(default_factory=dict)
    """By the name of a property: the trait made of it."""
    calendars: dict[str, dict[str, Any]] = field(default_factory=dict)
    """By the id of a calendar in the file: the one made of it."""
    case_types: dict[str, dict[str, Any]] = field(default_factory=dict)
    """By its name in a file of ours: the case type made of it."""
    travel: dict[str, Any] = field(default_factory=dict)
    """By node: the time that the way onward from it takes."""
    begin: str = ""
    """The moment at which the study starts."""
    called: set[str] = field(default_factory=set)
    """The processes that tasks of others call: no case comes to them by itself."""
    main: dict[str, str] = field(default_factory=dict)
    """By stop: the node that it is the main part of."""
    starts: dict[str, str] = field(default_factory=dict)
    """By stream: its start event."""
    clocks: dict[str, str] = field(default_factory=dict)
    """By deadline: its event."""
    branches: set[str] = field(default_factory=set)
    """The processes that a message begins: branches of the cases of others."""
    raced: set[str] = field(default_factory=set)
    """The events of which the first to come decides the way."""
    open_forks: list[Stop] = field(default_factory=list)
    """Forks that have no join yet."""
    meetings: list[Stop] = field(default_factory=list)
    """Stops at which ways wait for each other, if a fork's branches come together there."""
    listeners: list[tuple[Stop, Stop]] = field(default_factory=list)
    """Where a way begins that a message sends somebody along meanwhile, and where the listening ends."""
    shortcuts: list[Stop] = field(default_factory=list)
    """Stops that begin a branch, which is over at once unless its rule holds."""

    def of(self, element: str) -> Parameters:
        """Return what the scenario says of an element."""
        return self.scenario.of(element)

    def lose(self, node: Node, what: str, instead: str) -> None:
        """Note what of a node cannot be kept."""
        self.notes.lose(node.id, node.called, what, instead)

    def stop(self, node: Node, body: dict[str, Any], more: str = "") -> Stop:
        """Add a stop of a node, which bears its name, or that with something more."""
        name = f"{node.called}: {more}" if more else node.called
        is_own = self.drawn.is_ours and node.id.startswith("step_") and not more
        own = node.id.removeprefix("step_") if is_own else ""
        stop = self.draft.add(node.id, name, body, own)
        stop.is_own = bool(own)
        if not more and node.id not in self.main.values():
            self.main[stop.id] = node.id
        return stop

    def chain(self, node: Node, stops: list[Stop]) -> None:
        """Lead from each stop of a node to its next; ways to the node come to the first and leave from the last."""
        for one, other in pairwise(stops):
            self.draft.lead(one, other.id)
        self.entry[node.id], self.way_out[node.id] = stops[0], stops[-1]

    def case_type(self, name: str) -> str:
        """Return the id of the case type that a file of ours calls so."""
        if name not in self.case_types:
            called = self.drawn.properties.get(f"type_{name}", name)
            self.case_types[name] = {"id": self.draft.new_id("case_types", name, "type"), "name": short(called)}
        return str(self.case_types[name]["id"])

    def flows_from(self, node_id: str) -> list[Flow]:
        """Return the sequence flows out of a node, in the order of the file."""
        return self._flows.get(node_id, [])

    def __post_init__(self) -> None:
        self._flows: dict[str, list[Flow]] = {}
        for flow in self.drawn.flows:
            if flow.source in self.drawn.nodes and flow.target in self.drawn.nodes:
                self._flows.setdefault(flow.source, []).append(flow)
            else:
                instead = "The flow is left out."
                self.notes.lose(flow.id, flow.name or flow.id, "It begins or ends nowhere.", instead)

    def times(self, element: str, name: str, *parameters: str) -> list[Any]:
        """Return the times that the scenario gives an element, as distributions."""
        found = (self.time(element, name, value) for each in parameters for value in self._only(element, name, each))
        return [each for each in found if each is not None]

    def _only(self, element: str, name: str, parameter: str) -> list[Value]:
        values = self.of(element).values.get(parameter, [])
        if len(values) > 1:
            self.notes.lose(element, name, f"{parameter} has several values.", "The first one is taken.")
        first = self.of(element).first(parameter)
        return [] if first is None else [first]

    def time(self, element: str, name: str, value: Value) -> Any:
        """Return a value as a distribution of time; None, with a note, where it is none."""
        try:
            return self.kept(element, name, time_of(value, self.scenario.time_unit))
        except Unreadable as reason:
            self.notes.lose(element, name, f"A time {reason}.", "It is as if it were not there.")
            return None

    def kept(self, element: str, name: str, read: Read) -> Any:
        """Return what was read of a value, and note what is not as it was."""
        if read.note:
            self.notes.lose(element, name, f"A value {read.note}.", "The mean stays.")
        return read.value

    def constant(self, node: Node, time: Any) -> str:
        """Return a time as one duration: the mean, with a note, of one that varies."""
        if isinstance(time, str):
            return time
        self.lose(node, "Its timer varies.", "The mean is taken.")
        return as_duration(round(mean_of(read_distribution(time, Measure.TIME)), 6))
