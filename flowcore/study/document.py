"""The study document as a whole, and the way from JSON to it."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, ValidationError, model_validator

from flowcore.problems import MOST_PROBLEMS, StudyError, trouble
from flowcore.study.base import Id, Name, Part
from flowcore.study.calendars import Calendar, Moment
from flowcore.study.case_types import CaseType, Trait
from flowcore.study.checkpoints import Deadline, Span
from flowcore.study.plain import require_plain
from flowcore.study.runs import Lever, RunSettings, Scenario, Target
from flowcore.study.site import Site
from flowcore.study.steps import Exit, Link, Step
from flowcore.study.streams import Stream
from flowcore.study.teams import Team
from flowcore.study.wording import problem_of

MOST_STEPS_BY_TYPES = 30_000


class Study(Part):
    """Everything about one question: the service as it is, and how it is run."""

    format: Literal[1] = 1
    name: Name
    about: Annotated[str, StringConstraints(max_length=4000)] = ""
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"
    start: Moment = "2027-03-01T08:00"
    calendars: Annotated[list[Calendar], Field(max_length=200)] = []
    case_types: Annotated[list[CaseType], Field(max_length=100)] = []
    traits: Annotated[list[Trait], Field(max_length=200)] = []
    streams: Annotated[list[Stream], Field(max_length=200)] = []
    steps: Annotated[list[Step], Field(max_length=2000)] = []
    deadlines: Annotated[list[Deadline], Field(max_length=500)] = []
    spans: Annotated[list[Span], Field(max_length=500)] = []
    teams: Annotated[list[Team], Field(max_length=500)] = []
    site: Site = Site()
    targets: Annotated[list[Target], Field(max_length=500)] = []
    levers: Annotated[list[Lever], Field(max_length=500)] = []
    scenarios: Annotated[list[Scenario], Field(max_length=200)] = []
    run: RunSettings = RunSettings()

    @model_validator(mode="after")
    def _can_be_looked_through(self) -> Self:
        if len(self.steps) * len(self.case_types) > MOST_STEPS_BY_TYPES:
            raise trouble(
                f"{len(self.steps)} steps for {len(self.case_types)} case types are too many to be looked through.",
                f"Have at most {MOST_STEPS_BY_TYPES:,} of the one times the other.",
            )
        return self

    def step(self, step_id: Id) -> Step | None:
        """Return the step with this id, or None."""
        return next((step for step in self.steps if step.id == step_id), None)

    @property
    def has_shifts(self) -> bool:
        """Whether a team works in shifts, after which there may be overtime."""
        return any(team.roster for team in self.teams)


def checkpoints_of(study: Study) -> list[Id]:
    """Return the steps that are checkpoints, in the order of the document."""
    return [step.id for step in study.steps if step.checkpoint]


def links_of(step: Step) -> list[Link]:
    """Return the ways out of a step; an exit has none."""
    return [] if isinstance(step, Exit) else step.next


def shares_of(step: Step, case_type: Id) -> list[float]:
    """Return the share of each way for one case type, as written.

    A single way without a share has 1; a way without any share has 0, and so has a way by rule; beside
    ways by rule, the one that is marked as otherwise has 1.
    """
    links = links_of(step)
    if len(links) == 1 and links[0].share is None and not links[0].share_by_type:
        return [1.0]
    if any(link.otherwise for link in links) and any(link.when for link in links):
        return [float(link.otherwise and link.when is None) for link in links]
    by_share = [link for link in links if link.when is None]
    if len(by_share) == 1 and by_share[0].share is None and not by_share[0].share_by_type:
        return [float(link is by_share[0]) for link in links]
    return [
        0.0 if link.when is not None else (link.share_by_type or {}).get(case_type, link.share or 0.0) for link in links
    ]


def may_take(step: Step, case_type: Id) -> list[bool]:
    """Return, for each way out, whether cases of a type may take it at all."""
    links = links_of(step)
    if step.kind == "fork":
        return [link.chance is None or link.chance > 0 for link in links]
    if step.kind == "choose" and step.pick in ("shortest-line", "in-turn"):
        return [True for _ in links]
    shares = shares_of(step, case_type)
    return [link.when is not None or share > 0 for link, share in zip(links, shares, strict=True)]


def side_ways(step: Step) -> list[tuple[str, Id]]:
    """Return the other steps that a case may be sent to from a step, each with the key that says so."""
    ways: list[tuple[str, Id]] = []
    if step.kind == "serve":
        line = step.line
        named = (
            ("line/full_to", line.full_to),
            ("line/balks_to", line.balks_to),
            ("line/gives_up_to", line.gives_up_to),
        )
        ways += [(key, to) for key, to in named if to is not None]
    if step.kind == "fork":
        ways.append(("join", step.join))
    return ways


def types_of(study: Study, stream: Stream) -> set[Id]:
    """Return the case types that a stream brings; without a mix, the first of the study."""
    first = {case_type.id for case_type in study.case_types[:1]} or {""}
    mixes = [stream.mix, *(part.mix for part in stream.mix_by_hour)]
    named = {part.type for mix in mixes for part in mix if part.share > 0}
    if stream.kind == "dates":
        named = {arrival.type for arrival in stream.arrivals if arrival.type} | named
        return named if stream.mix or all(arrival.type for arrival in stream.arrivals) else named | first
    return named if stream.mix else named | first


def types_passing(study: Study) -> dict[Id, set[Id]]:
    """Return, for each step, the case types that can come there from some stream."""
    steps = {step.id: step for step in study.steps}
    passing: dict[Id, set[Id]] = {step: set() for step in steps}
    ahead = [(stream.to, kind) for stream in study.streams for kind in types_of(study, stream)]
    while ahead:
        step_id, kind = ahead.pop()
        if step_id not in steps or kind in passing[step_id]:
            continue
        passing[step_id].add(kind)
        step = steps[step_id]
        ahead += [(to, kind) for _, to in side_ways(step)]
        ahead += [
            (to, kind)
            for deadline in study.deadlines
            for to in (deadline.then.send, deadline.then.divert)
            if to is not None and deadline.from_ == step_id
        ]
        for link, taken in zip(links_of(step), may_take(step, kind), strict=True):
            if taken:
                ahead.append((link.to, kind))
    return passing


LISTS = (
    "calendars",
    "case_types",
    "traits",
    "streams",
    "steps",
    "deadlines",
    "spans",
    "teams",
    "levers",
    "scenarios",
)


def elements(study: Study) -> Iterator[tuple[str, Any]]:
    """Yield every element that has an id, with the name of its list."""
    for part in LISTS:
        for element in getattr(study, part):
            yield part, element
    for place in study.site.places:
        yield "site/places", place


def read_study(document: object) -> Study:
    """Return the study that a JSON document describes.

    Raises StudyError with a problem for each of the first hundred places that cannot be read.
    """
    require_plain(document)
    try:
        return Study.model_validate(document)
    except ValidationError as error:
        raise StudyError([problem_of(entry, document) for entry in error.errors()[:MOST_PROBLEMS]]) from None


def written(study: Study) -> dict[str, Any]:
    """Return the study as a JSON document without what has its default value."""
    kept = study.model_dump(mode="json", exclude_defaults=True)
    return {"format": study.format, **kept}
