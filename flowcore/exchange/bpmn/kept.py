"""A study that was made of a drawing goes out in that drawing: its ids, its diagram, all that nobody changed."""

from collections.abc import Mapping
from typing import Any

from lxml import etree

from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import what_is_drawn
from flowcore.exchange.bpmn.file.names import BPMN, BPSIM, bpmn
from flowcore.exchange.bpmn.file.parameters import UNSAID, scenarios_in
from flowcore.exchange.bpmn.file.parsing import read_xml
from flowcore.exchange.bpmn.making import document_of, made
from flowcore.exchange.bpmn.writing.elements import Element, below
from flowcore.exchange.bpmn.writing.places import Places
from flowcore.exchange.notes import Notes, NotKept
from flowcore.study import StudyDocument, read_study, written
from flowcore.study.drawing import Drawing
from flowcore.study.graph import links_of

Point = tuple[float, float]


class KeptDrawing(Places):
    """The drawing of a study: which of its elements are which nodes, and the study that it alone makes."""

    def __init__(self, study: StudyDocument, drawing: Drawing) -> None:
        self.study = study
        self.not_kept: list[NotKept] = []
        self._drawing = drawing
        self.root = read_xml("\n".join(drawing.lines).encode())
        self.reading = self._made(self.root)
        self.alone = read_study(document_of(self.reading, drawing.file))
        self._stops = self.reading.draft.stops
        self._teams = {team["id"]: element for element, team in self.reading.teams.items()}
        self._before = {step.id: step for step in self.alone.steps}

    def _made(self, root: Element) -> Reading:
        scenario = next(iter(scenarios_in(root)), UNSAID)
        return made(what_is_drawn(root, False), scenario, Notes(self._drawing.answers))

    @property
    def is_same_flow(self) -> bool:
        """Whether the study still has the flow that is drawn."""
        return shape_of(self.study) == shape_of(self.alone)

    @property
    def has_types(self) -> bool:
        """Whether case types have a place: not in a drawing from elsewhere."""
        return False

    def step(self, step: str) -> str | None:
        """Return the node that a step is the main part of."""
        return self.reading.main.get(step)

    def stream(self, stream: str) -> str | None:
        """Return the start event of a stream."""
        return self.reading.starts.get(stream)

    def deadline(self, deadline: str) -> str | None:
        """Return the event of a deadline."""
        return self.reading.clocks.get(deadline)

    def team(self, team: str) -> str:
        """Return the resource, the lane or the process of a team; a resource of its own where it is new."""
        element = self._teams.get(team, f"team_{team}")
        return f"team_{team}" if element.startswith("role:") else element

    def way(self, step: str, number: int) -> str | None:
        """Return the sequence flow of a way, or the event that leads it aside."""
        stop = self._stops.get(step)
        return (stop.ways[number].drawn or None) if stop is not None and number < len(stop.ways) else None

    def selection(self, step: str, number: int) -> str | None:
        """Return where it stands whom a step needs: at its node, once."""
        before = self._before.get(step)
        is_drawn = before is not None and getattr(before, "needs", None) == getattr(
            self.study.step(step), "needs", None
        )
        node = self.reading.drawn.nodes.get(self.step(step) or "")
        if number > 0 or node is None or (is_drawn and not any(self.reading.of(role.id).values for role in node.roles)):
            return None
        return node.id

    def renamed(self) -> None:
        """Give nodes the names that their steps have now."""
        by_id = {element.get("id"): element for element in self.root.iter() if isinstance(element.tag, str)}
        for step in self.study.steps:
            node = by_id.get(self.step(step.id) or "")
            before = self._before.get(step.id)
            if node is not None and before is not None and before.name != step.name:
                node.set("name", step.name)

    def with_new_teams(self) -> None:
        """Add a resource for each team that the drawing does not have."""
        for team in self.study.teams:
            if (
                self.team(team.id) == f"team_{team.id}"
                and self.root.find(f"{bpmn('resource')}[@id='team_{team.id}']") is None
            ):
                resource = etree.Element(bpmn("resource"), {"id": f"team_{team.id}", "name": team.name})
                self.root.insert(0, resource)

    def new_simulation(self) -> Element:
        """Take the parameters of the file away, and return where those of the study are written."""
        for data in list(self.root.iter(f"{{{BPSIM}}}BPSimData")):
            extensions = data.getparent()
            owner = extensions.getparent() if extensions is not None else None
            if owner is not None and owner.tag == bpmn("relationship") and owner.getparent() is not None:
                owner.getparent().remove(owner)  # type: ignore[union-attr]
            elif extensions is not None:
                extensions.remove(data)
        etree.register_namespace("bpsim", BPSIM)
        etree.register_namespace("bpmn", BPMN)
        relation = etree.SubElement(self.root, bpmn("relationship"), {"type": "BPSimData"})
        data = below(below(relation, "bpmn:extensionElements"), "bpsim:BPSimData")
        for tag in ("source", "target"):
            below(relation, f"bpmn:{tag}").text = self.root.get("id") or "definitions"
        return data

    def differences(self) -> list[NotKept]:
        """Return what of the study the drawing, as it is written now, does not say when it is read again.

        Names apart: by them steps are told from each other, and nodes bear them in any case.
        """
        again = document_of(self._made(read_xml(etree.tostring(self.root))), self._drawing.file)
        read = _by_id(written(read_study(again)))
        now = _by_id(written(self.study))
        return [_lost(now[key], key[0]) for key in now if not _is_same(now[key], read.get(key))]

    def middles(self) -> dict[str, Point]:
        """Return where the drawing has the steps."""
        bounds = {}
        for shape in self.root.iter("{http://www.omg.org/spec/BPMN/20100524/DI}BPMNShape"):
            box = shape.find("{http://www.omg.org/spec/DD/20100524/DC}Bounds")
            if box is not None:
                x, y, width, height = (float(box.get(name) or 0) for name in ("x", "y", "width", "height"))
                bounds[shape.get("bpmnElement") or ""] = (x + width / 2, y + height / 2)
        return {step.id: bounds[node] for step in self.study.steps if (node := self.step(step.id)) in bounds}

    def ids(self) -> dict[str, str]:
        """Return the ids that the drawing has for nodes that we would call otherwise."""
        steps = {f"step_{step.id}": node for step in self.study.steps if (node := self.step(step.id))}
        streams = {f"stream_{each.id}": node for each in self.study.streams if (node := self.stream(each.id))}
        taken: dict[str, str] = {}
        for own, node in (steps | streams).items():
            if node not in taken.values():
                taken[own] = node
        return taken


def shape_of(study: StudyDocument) -> object:
    """Return what of a study's flow is drawn."""
    steps = {step.id: (step.kind, [(link.to, str(link.when)) for link in links_of(step)]) for step in study.steps}
    deadlines = {each.id: (each.from_, each.to, each.then.send, each.then.divert) for each in study.deadlines}
    clears = {step.id: str(getattr(step, "clears", "")) for step in study.steps}
    return steps, clears, deadlines, {each.id: each.to for each in study.streams}


def _by_id(document: Mapping[str, Any]) -> dict[tuple[str, str], Any]:
    lists = ("calendars", "case_types", "traits", "streams", "steps", "deadlines", "teams")
    return {(part, each["id"]): each for part in lists for each in document.get(part, [])}


def _is_same(one: Mapping[str, Any], other: Mapping[str, Any] | None) -> bool:
    return other is not None and dict(one) | {"name": ""} == dict(other) | {"name": ""}


def _lost(element: Mapping[str, Any], part: str) -> NotKept:
    what = f"The drawing has no place for all that the study says of it ({part.replace('_', ' ')})."
    return NotKept(
        element=element["id"], name=element["name"], what=what, instead="What the drawing can say is written."
    )
