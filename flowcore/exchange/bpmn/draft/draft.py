"""The flow of a study while it is made of a drawing: stops with ways between them, none of them final."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from flowcore.study.ids import id_for

LONGEST_NAME = 120


@dataclass
class Way:
    """A way from one stop to another: what its link says, and the sequence flow that it is drawn as."""

    to: str
    says: dict[str, Any] = field(default_factory=dict)
    drawn: str = ""
    is_message: bool = False
    """Whether it is a branch that a message begins."""


@dataclass
class Stop:
    """A step in the making, of the node that it comes from."""

    id: str
    name: str
    node: str
    body: dict[str, Any]
    ways: list[Way] = field(default_factory=list)
    is_own: bool = False
    """Whether it is a step of a file of ours, which stays even if nothing happens there."""

    @property
    def is_blank(self) -> bool:
        """Whether nothing happens there and one way leads on."""
        return self.body == {"kind": "choose"} and len(self.ways) == 1


class Draft:
    """Stops by id, in order, with the deadlines, spans and streams that name them."""

    def __init__(self) -> None:
        self.stops: dict[str, Stop] = {}
        self.streams: list[dict[str, Any]] = []
        self.deadlines: list[dict[str, Any]] = []
        self.spans: list[dict[str, Any]] = []
        self.taken: dict[str, set[str]] = {}

    def new_id(self, part: str, name: str, otherwise: str) -> str:
        """Return a free id of a list of the study for what has this name."""
        return id_for(name, self.taken.setdefault(part, set()), otherwise)

    def add(self, node: str, name: str, body: dict[str, Any], wanted: str = "") -> Stop:
        """Add a stop of a node; its id is the wanted one, where it is free, or made of the name."""
        stop_id = self.new_id("steps", wanted or name, "step")
        stop = Stop(stop_id, short(name), node, body)
        self.stops[stop_id] = stop
        return stop

    def lead(self, stop: Stop, to: str, drawn: str = "", **says: Any) -> Way:
        """Lead a way from one stop to another."""
        way = Way(to, says, drawn)
        stop.ways.append(way)
        return way

    def insert_before(self, stop_id: str, node: str, name: str, body: dict[str, Any], only: set[str]) -> Stop:
        """Put a stop between a stop and those ways to it that come from some stops."""
        new = self.add(node, name, body)
        for each in only:
            for way in self.stops[each].ways:
                if way.to == stop_id:
                    way.to = new.id
        self.lead(new, stop_id)
        return new

    def without_blanks(self) -> None:
        """Take away the stops at which nothing happens, but those that something else must name."""
        into: dict[str, list[Way]] = {stop_id: [] for stop_id in self.stops}
        for stop in self.stops.values():
            for way in stop.ways:
                into[way.to].append(way)
        kept = set(self._named())
        begins = {stream["to"] for stream in self.streams}
        for stop in list(self.stops.values()):
            if not stop.is_blank or stop.is_own or stop.id in kept or stop.ways[0].to == stop.id:
                continue
            onward = stop.ways[0]
            if "travel" in onward.says and (stop.id in begins or any("travel" in way.says for way in into[stop.id])):
                continue
            clocks = self._clocks_at(stop.id)
            is_only = len(into[onward.to]) == 1 and onward.to not in begins and "travel" not in onward.says
            if clocks and not (is_only and self._can_stand_for(onward.to, stop.id)):
                continue
            self._lead_past(stop, into)
            begins = {stream["to"] for stream in self.streams}

    def _lead_past(self, stop: Stop, into: dict[str, list[Way]]) -> None:
        """Take a stop away: what leads or refers to it does so to the next one."""
        onward = stop.ways[0]
        travel = {key: said for key, said in onward.says.items() if key == "travel"}
        for way in into[stop.id]:
            way.to = onward.to
            way.says |= travel
        into[onward.to] = [way for way in into[onward.to] if way is not onward] + into[stop.id]
        for named, key in (*((stream, "to") for stream in self.streams), *self._sent(), *self._clocks_at(stop.id)):
            if named.get(key) == stop.id:
                named[key] = onward.to
        del self.stops[stop.id]

    def _sent(self) -> Iterator[tuple[dict[str, Any], str]]:
        for deadline in self.deadlines:
            yield from ((deadline["then"], "send"), (deadline["then"], "divert"))

    def _clocks_at(self, stop_id: str) -> list[tuple[dict[str, Any], str]]:
        """Return where deadlines and spans name a stop as their beginning or end."""
        points = [(deadline, key) for deadline in self.deadlines for key in ("from", "to")]
        points += [(span[key], "step") for span in self.spans for key in ("from", "to")]
        return [(each, key) for each, key in points if each[key] == stop_id]

    def _can_stand_for(self, stop_id: str, before: str) -> bool:
        """Say whether a clock that ends at the stop before may as well end at this one: none is kept waiting here."""
        ends = any(key == "to" and each[key] == before for each, key in self._clocks_at(before))
        return not ends or self.stops[stop_id].body["kind"] in ("choose", "set", "fork", "delay")

    def _named(self) -> Iterator[str]:
        """Yield the stops that signals, forks and rules name."""
        for stop in self.stops.values():
            yield from (step for way in stop.ways for step in _visited(way.says.get("when", {})))
            told = stop.body.get("clears", {})
            yield from (told.get("message", ""), *told.get("also", []), told.get("after_step", ""))
            yield stop.body.get("join", "")

    def steps(self) -> list[dict[str, Any]]:
        """Return the steps of the study."""
        return [self._step(stop) for stop in self.stops.values()]

    def _step(self, stop: Stop) -> dict[str, Any]:
        links = [{"to": way.to} | way.says for way in stop.ways]
        ways = {"next": links} if links else {}
        return {"id": stop.id, "name": stop.name} | stop.body | ways


def _visited(rule: dict[str, Any]) -> Iterator[str]:
    """Yield the stops whose visits a rule counts."""
    for clause in (*rule.get("all", ()), *rule.get("any", ())):
        yield from _visited(clause)
        if clause.get("fact", "").startswith("visits:"):
            yield clause["fact"].partition(":")[2]


def short(name: str) -> str:
    """Return a name that is not too long."""
    plain = " ".join(name.split())
    return plain if len(plain) <= LONGEST_NAME else plain[: LONGEST_NAME - 1].rstrip() + "…"
