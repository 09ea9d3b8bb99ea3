"""A study from a BPMN file: what was found in it, what it does not say, and what of it cannot be kept."""

from collections.abc import Mapping
from typing import Any

from lxml import etree
from pydantic import BaseModel

from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Drawn, what_is_drawn
from flowcore.exchange.bpmn.file.names import EXPORTER, SUB_PROCESSES, TASKS
from flowcore.exchange.bpmn.file.parameters import UNSAID, Assumed, scenarios_in
from flowcore.exchange.bpmn.file.parsing import read_xml
from flowcore.exchange.bpmn.making import document_of, made
from flowcore.exchange.bpmn.parts.variants import scenarios_between
from flowcore.exchange.notes import Count, Missing, Notes, NotKept
from flowcore.problems import StudyError, error_at
from flowcore.study import StudyDocument, read_study

LONGEST_LINE, MOST_KEPT = 20_000, 1_000_000
"""Letters of a drawing that a study keeps."""
MOST_NODES, MOST_SCENARIOS = 1000, 20


class ProcessRead(BaseModel):
    """The study that a file becomes, with what is to be known before it is made."""

    study: StudyDocument
    found: list[Count]
    missing: list[Missing]
    not_kept: list[NotKept]


def read_process(content: bytes, file: str = "", answers: Mapping[str, Any] | None = None) -> ProcessRead:
    """Return what a BPMN file becomes, with answers (by their keys) to what it does not say.

    Raises StudyError where it is no BPMN, draws no process, or an answer does not fit.
    """
    root = read_xml(content)
    drawn = what_is_drawn(root, root.get("exporter") == EXPORTER)
    if not drawn.nodes:
        raise StudyError([error_at("file", "The file draws no process.", "Choose one that has tasks and events.")])
    if len(drawn.nodes) > MOST_NODES:
        what = f"The file draws {len(drawn.nodes):,} tasks, events and gateways."
        raise StudyError([error_at("file", what, f"Bring in at most {MOST_NODES:,} at once.")])
    scenarios = (scenarios_in(root) or [UNSAID])[:MOST_SCENARIOS]
    reading = made(drawn, scenarios[0], Notes(answers or {}))
    document = document_of(reading, file)
    quiet = Notes(answers or {})
    others = [(each, document_of(made(drawn, each, quiet), file)) for each in scenarios[1:]]
    document |= scenarios_between(document, others)
    if not drawn.is_ours:
        document |= _kept(root, reading, file, answers or {})
    _note_unknown(reading)
    study = read_study(document)
    found = [Count.of(one, many, count) for (one, many), count in _counts(drawn, scenarios).items() if count]
    return ProcessRead(
        study=study, found=found, missing=list(reading.notes.missing.values()), not_kept=reading.notes.not_kept
    )


def _kept(root: etree._Element, reading: Reading, file: str, answers: Mapping[str, Any]) -> dict[str, Any]:
    """Return the drawing as the study keeps it, to go out in it again; nothing of one that is too large."""
    lines = etree.tostring(root, encoding="unicode").splitlines()
    if max(map(len, lines)) > LONGEST_LINE:
        etree.indent(root)
        lines = etree.tostring(root, encoding="unicode").splitlines()
    if max(map(len, lines)) > LONGEST_LINE or sum(map(len, lines)) > MOST_KEPT:
        what = f"The drawing has more than {MOST_KEPT // 1_000_000} MB, or lines too long to be kept."
        reading.notes.lose("file", file or "The file", what, "It is drawn anew when the study goes out.")
        return {}
    return {"drawing": {"file": file[:300], "lines": lines} | ({"answers": dict(answers)} if answers else {})}


def _note_unknown(reading: Reading) -> None:
    for element, name, kind in reading.drawn.unknown:
        reading.notes.lose(element, name or element, f"A {kind} is none of the kinds that are read.", "It is left out.")


def _counts(drawn: Drawn, scenarios: list[Assumed]) -> dict[tuple[str, str], int]:
    """Return how many of what a file has, by the words for one and for several."""
    nodes = drawn.nodes.values()
    return {
        ("participant", "participants"): len(drawn.processes),
        ("lane", "lanes"): len(drawn.lanes),
        ("task", "tasks"): sum(node.tag in TASKS for node in nodes),
        ("event", "events"): sum(node.tag.endswith("Event") for node in nodes),
        ("gateway", "gateways"): sum(node.tag.endswith("Gateway") for node in nodes),
        ("sub-process", "sub-processes"): sum(node.tag in SUB_PROCESSES for node in nodes),
        ("sequence flow", "sequence flows"): len(drawn.flows),
        ("message between participants", "messages between participants"): len(drawn.messages),
        ("resource", "resources"): len(drawn.resources),
        ("scenario with parameters", "scenarios with parameters"): sum(each is not UNSAID for each in scenarios),
    }
