"""A study as a BPMN file: its flow, its parameters and scenarios in BPSim, and a diagram."""

from collections.abc import Mapping

from lxml import etree
from pydantic import BaseModel

from flowcore.exchange.bpmn.draft.ours import ALL_OVER, PARTNER
from flowcore.exchange.bpmn.file.names import EXPORTER
from flowcore.exchange.bpmn.kept import KeptDrawing, shape_of
from flowcore.exchange.bpmn.writing.diagram import draw_diagram
from flowcore.exchange.bpmn.writing.elements import Element, below, new, text_below
from flowcore.exchange.bpmn.writing.flow import draw_flow
from flowcore.exchange.bpmn.writing.parameters import ScenarioWriter
from flowcore.exchange.bpmn.writing.partners import partners
from flowcore.exchange.bpmn.writing.places import Places
from flowcore.exchange.bpmn.writing.sketch import Sketch
from flowcore.exchange.bpmn.writing.unsaid import note_unsaid, note_unsaid_parts
from flowcore.exchange.notes import NotKept
from flowcore.problems import StudyError
from flowcore.study import StudyDocument
from flowcore.study.scenarios import BASELINE_NAME, apply_scenario

REFERENCES = {"id", "sourceRef", "targetRef", "attachedToRef", "bpmnElement", "elementRef"}
NAMESPACE = "urn:urban-queue:process"


class WrittenProcess(BaseModel):
    """A BPMN file, and what of the study it does not keep."""

    content: bytes
    not_kept: list[NotKept]


def write_process(study: StudyDocument, positions: Mapping[str, tuple[float, float]] | None = None) -> WrittenProcess:
    """Return a study as a BPMN file with BPSim.

    `positions` are those of the steps on a map, by their ids, in pixels; without them the steps stand in columns.
    """
    try:
        kept = KeptDrawing(study, study.drawing) if study.drawing else None
    except StudyError as error:
        drawn = _drawn_anew(study, positions)
        lost = NotKept(element="drawing", name="The drawing", what=str(error), instead="It is drawn anew.")
        return drawn.model_copy(update={"not_kept": [*drawn.not_kept, lost]})
    if kept is not None and kept.is_same_flow:
        return _in_its_drawing(kept)
    drawn = _drawn_anew(study, (kept.middles() if kept else None) or positions)
    return drawn if kept is None else drawn.model_copy(update={"content": _with_ids(drawn.content, kept.ids())})


def ids_in_file(study: StudyDocument) -> tuple[dict[str, str], dict[str, str]]:
    """Return which elements of its file the steps and the teams of a study are, by their ids."""
    steps = {step.id: f"step_{step.id}" for step in study.steps}
    teams = {team.id: f"team_{team.id}" for team in study.teams}
    try:
        kept = KeptDrawing(study, study.drawing) if study.drawing else None
    except StudyError:
        kept = None
    if kept is None:
        return steps, teams
    if not kept.is_same_flow:
        return {step: kept.ids().get(own, own) for step, own in steps.items()}, teams
    drawn = {step: node for step in steps if (node := kept.step(step)) is not None}
    return drawn, {team: kept.team(team) for team in teams}


def _drawn_anew(study: StudyDocument, positions: Mapping[str, tuple[float, float]] | None) -> WrittenProcess:
    root = new("bpmn:definitions", id="definitions", name=study.name, targetNamespace=NAMESPACE, exporter=EXPORTER)
    simulation = _simulation()
    for team in study.teams:
        below(root, "bpmn:resource", id=f"team_{team.id}", name=team.name)
    sketch = _sketched(root, study)
    draw_flow(sketch)
    _name_messages(root, sketch)
    _draw_participants(root, sketch)
    _write_scenarios(simulation[0][0], sketch)
    note_unsaid(sketch)
    draw_diagram(root, sketch, positions)
    root.append(simulation)
    content = etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True)
    return WrittenProcess(content=content, not_kept=sketch.not_kept)


def _in_its_drawing(kept: KeptDrawing) -> WrittenProcess:
    """Return the drawing of a study, with the names that its steps and the values that its parameters have now."""
    kept.with_new_teams()
    _write_scenarios(kept.new_simulation(), kept)
    note_unsaid_parts(kept)
    not_kept = [*kept.not_kept, *kept.differences()]
    kept.renamed()
    content = etree.tostring(kept.root, xml_declaration=True, encoding="UTF-8")
    return WrittenProcess(content=content, not_kept=not_kept)


def _with_ids(content: bytes, ids: Mapping[str, str]) -> bytes:
    """Return a file in which nodes have other ids."""
    root = etree.fromstring(content)
    for element in root.iter():
        for name in REFERENCES:
            if element.get(name) in ids:
                element.set(name, ids[element.get(name) or ""])
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8"))


def _sketched(root: Element, study: StudyDocument) -> Sketch:
    """Return an empty sketch: a process for the cases, and one for each partner."""
    process = below(root, "bpmn:process", id="process", name=study.name, isExecutable=False)
    if study.about:
        text_below(process, "bpmn:documentation", study.about)
    for part, elements in (("type", study.case_types), ("trait", study.traits)):
        for element in elements:
            declared = below(process, "bpmn:property", id=f"{part}_{element.id}", name=element.name)
            for value in getattr(element, "values", []):
                text_below(declared, "bpmn:documentation", value)
    found = partners(study)
    names = {step.id: step.name for step in study.steps}
    processes = {"": process}
    for join in found:
        name = names[join].removesuffix(ALL_OVER)
        processes[join] = below(root, "bpmn:process", id=f"{PARTNER}{join}", name=name, isExecutable=False)
    return Sketch(study, processes, {step: join for join, steps in found.items() for step in steps})


def _draw_participants(root: Element, sketch: Sketch) -> None:
    """Add the collaboration of a flow with partners, in front of the processes."""
    if len(sketch.processes) == 1:
        return
    collaboration = new("bpmn:collaboration", id="collaboration")
    for process in sketch.processes.values():
        own = process.get("id")
        below(collaboration, "bpmn:participant", id=f"participant_{own}", name=process.get("name"), processRef=own)
    for number, (source, target) in enumerate(sketch.messages):
        below(collaboration, "bpmn:messageFlow", id=f"message_flow_{number}", sourceRef=source, targetRef=target)
    root.insert(root.index(sketch.processes[""]), collaboration)


def _simulation() -> Element:
    """Return where BPSim has its data: a relationship of the definitions."""
    relation = new("bpmn:relationship", type="BPSimData")
    below(below(relation, "bpmn:extensionElements"), "bpsim:BPSimData")
    text_below(relation, "bpmn:source", "definitions")
    text_below(relation, "bpmn:target", "definitions")
    return relation


def _name_messages(root: Element, sketch: Sketch) -> None:
    """Add the messages and signals that nodes name, in front of the process."""
    awaited = {signal for signals in sketch.told.values() for signal in signals}
    begun = [fork.id for fork in sketch.study.steps if sketch.leaves_branches(fork)]
    named = [("branch", each) for each in begun]
    named += [("message", each) for each in sorted(awaited)] + [("signal", each) for each in sorted(sketch.raised)]
    place = root.index(sketch.processes[""])
    for kind, step in named:
        name = sketch.steps[step].name if step in sketch.steps else step
        tag = "signal" if kind == "signal" else "message"
        root.insert(place, new(f"bpmn:{tag}", id=f"{kind}_{step}", name=name))
        place += 1


def _write_scenarios(data: Element, places: Places) -> None:
    study = places.study
    ScenarioWriter(data, study, places, "scenario", BASELINE_NAME).write()
    shape = shape_of(study)
    for scenario in study.scenarios:
        try:
            changed = apply_scenario(study, scenario.id)
        except StudyError as error:
            places.lose(scenario.id, scenario.name, f"It does not fit: {error.problems[0].what}", "It is left out.")
            continue
        if shape_of(changed) != shape:
            what = "It changes the flow, the teams or the streams, and a BPMN file draws one flow."
            places.lose(scenario.id, scenario.name, what, "It is left out: export the study as this scenario has it.")
            continue
        ScenarioWriter(data, changed, places, f"scenario_{scenario.id}", scenario.name).write()
