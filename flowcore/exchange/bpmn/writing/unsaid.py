"""What of a study BPMN and BPSim have no words for: told by element before a file leaves."""

from pydantic import BaseModel

from flowcore.exchange.bpmn.writing.places import Places
from flowcore.exchange.bpmn.writing.sketch import Sketch
from flowcore.exchange.bpmn.writing.streams import is_said
from flowcore.study.steps import Choose, Fork, Gather, Scatter, Serve, Step, WorkByType

LEFT_OUT = "It is left out."
WORDS = {
    "kind": "whether it is people, places or equipment",
    "closing": "how long people stay after closing",
    "overtime": "overtime",
    "line": "how cases wait: order, limits, patience",
    "doors": "when the doors close",
    "interval": "the interval of figures",
    "value": "what it is worth",
    "when_blocked": "what a blocked case keeps",
    "at_break": "what becomes of work at a break",
    "at_shift_end": "what becomes of work at the end of a shift",
    "mix_by_hour": "the mix by hour",
    "lets_go": "how many go on at once",
    "filled": "how many slots are booked",
    "no_show": "who does not come",
}
"""How keys are called that are not told by their own name."""
SAID: dict[str, set[str]] = {
    "serve": {"work", "needs", "cost", "open", "priority"},
    "delay": {"time"},
    "signal": {"clears"},
    "choose": {"pick"},
    "fork": {"join"},
    "join": set(),
    "set": {"traits"},
    "exit": {"abandoned"},
    "gather": set(),
    "scatter": set(),
}
"""Of each kind of step: the keys that a file says."""
EVERY_STEP = {"id", "name", "kind", "next"}
TEAM = {"id", "name", "size", "roster", "skills", "rate", "use_cost", "closed"}
STREAM = {"id", "name", "kind", "to", "gap", "open", "limit", "mix", "traits", "arrivals"}
WHEN = {"week", "interval", "spread", "sessions", "chance"}
CASE_TYPE = {"id", "name", "colour"}
RUN = {"length", "warm_up", "replications", "seed"}
WHOLE = {
    "targets": "Targets",
    "observed": "Observed figures",
    "board": "Figures on the board",
    "measures": "Own measures",
    "spans": "Spans",
    "site": "Places",
    "sizing": "Searches for staffing",
    "levers": "Levers",
    "sources": "Where values come from",
}
"""Parts of a study that are no part of a process, and how they are called."""


def note_unsaid(sketch: Sketch) -> None:
    """Note what a sketch and its parameters do not say of its study."""
    study = sketch.study
    for step in study.steps:
        _note_step(sketch, step)
    for team in study.teams:
        _note_keys(sketch, team, TEAM)
    for stream in study.streams:
        _note_keys(sketch, stream, STREAM if is_said(stream) else STREAM | WHEN)
        if not is_said(stream):
            what = f"Cases come by {stream.kind}, which is more than a gap between them."
            sketch.lose(stream.id, stream.name, what, "They come at random, as many in a week.")
    for kind in study.case_types:
        _note_keys(sketch, kind, CASE_TYPE)
    note_unsaid_parts(sketch)


def note_unsaid_parts(places: Places) -> None:
    """Note which parts of a study are no part of a process."""
    study = places.study
    _note_keys(places, study.run, RUN, "run", "Settings of a run")
    for part in sorted(WHOLE.keys() & study.model_dump(exclude_defaults=True).keys()):
        places.lose(part, WHOLE[part], "They are no part of a process.", "They are left out.")


def _note_keys(places: Places, element: BaseModel, said: set[str], own: str = "", name: str = "") -> None:
    unsaid = sorted(element.model_dump(mode="json", by_alias=True, exclude_defaults=True).keys() - said)
    if unsaid:
        own, name = own or getattr(element, "id", ""), name or getattr(element, "name", "")
        words = ", ".join(WORDS.get(each, each.replace("_", " ")) for each in unsaid)
        places.lose(own, name, f"BPMN has no word for: {words}.", LEFT_OUT)


def _note_step(sketch: Sketch, step: Step) -> None:
    _note_keys(sketch, step, EVERY_STEP | SAID[step.kind])
    if isinstance(step, Gather | Scatter):
        sketch.lose(step.id, step.name, "Cases do not travel as one in BPMN.", "It is drawn as an event.")
    if isinstance(step, Serve):
        if isinstance(step.work, WorkByType):
            sketch.lose(step.id, step.name, "Its work differs by case type.", "That of all others is written.")
        if any(need.model_dump(exclude_defaults=True).keys() - {"team", "skill", "count"} for need in step.needs):
            sketch.lose(
                step.id, step.name, "Whom it needs is remembered, kept or preferred.", "The team alone is written."
            )
    if isinstance(step, Choose) and step.pick in ("shortest-line", "in-turn"):
        sketch.lose(step.id, step.name, "Cases pick a way by its line or in turn.", "Its ways have shares alike.")
    others = [link for link in getattr(step, "next", []) if link.when is None]
    if len(others) > 1 and any(link.when for link in getattr(step, "next", [])):
        sketch.lose(step.id, step.name, "Beside rules, several ways have shares.", "The first of these is the default.")
    if not isinstance(step, Fork) and any(link.share_by_type for link in getattr(step, "next", [])):
        sketch.lose(step.id, step.name, "Its shares differ by case type.", "Their mean is written.")
    if any(link.escort or link.travel == "walk" for link in getattr(step, "next", [])):
        sketch.lose(step.id, step.name, "Its ways are walked, or need an escort.", "They take no time.")
