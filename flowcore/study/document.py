"""The study document as a whole, and the way from JSON to it."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, ValidationError

from flowcore.problems import StudyError
from flowcore.study.base import Id, Name, Part
from flowcore.study.case_types import CaseType
from flowcore.study.durations import Duration
from flowcore.study.steps import Exit, Link, Step
from flowcore.study.streams import RandomStream
from flowcore.study.teams import Team
from flowcore.study.wording import problem_of


class RunSettings(Part):
    """How long and how often a study is run."""

    length: Duration = "4 wk"
    warm_up: Duration = "0 min"
    replications: Annotated[int, Field(ge=1, le=10_000)] = 30
    confidence: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    seed: Annotated[int, Field(ge=0, lt=2**63)] = 1


class Study(Part):
    """Everything about one question: the service as it is, and how it is run."""

    format: Literal[1] = 1
    name: Name
    about: Annotated[str, StringConstraints(max_length=4000)] = ""
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"
    start: Annotated[str, StringConstraints(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d$")] = "2027-03-01T08:00"
    case_types: list[CaseType] = []
    streams: list[RandomStream] = []
    steps: list[Step] = []
    teams: list[Team] = []
    run: RunSettings = RunSettings()

    def step(self, step_id: Id) -> Step | None:
        """Return the step with this id, or None."""
        return next((step for step in self.steps if step.id == step_id), None)


def links_of(step: Step) -> list[Link]:
    """Return the ways out of a step; an exit has none."""
    return [] if isinstance(step, Exit) else step.next


def shares_of(step: Step, case_type: Id) -> list[float]:
    """Return the share of each way for one case type, as written.

    A single way without a share has 1; a way without any share has 0.
    """
    links = links_of(step)
    if len(links) == 1 and links[0].share is None and not links[0].share_by_type:
        return [1.0]
    return [(link.share_by_type or {}).get(case_type, link.share or 0.0) for link in links]


def types_of(study: Study, stream: RandomStream) -> set[Id]:
    """Return the case types that a stream brings; without a mix, the first of the study."""
    if stream.mix:
        return {part.type for part in stream.mix if part.share > 0}
    return {case_type.id for case_type in study.case_types[:1]} or {""}


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
        for link, share in zip(links_of(step), shares_of(step, kind), strict=True):
            if share > 0:
                ahead.append((link.to, kind))
    return passing


def elements(study: Study) -> Iterator[tuple[str, Any]]:
    """Yield every element that has an id, with the name of its list."""
    for part in ("case_types", "streams", "steps", "teams"):
        for element in getattr(study, part):
            yield part, element


def read_study(document: object) -> Study:
    """Return the study that a JSON document describes.

    Raises StudyError with one problem for every place that cannot be read.
    """
    try:
        return Study.model_validate(document)
    except ValidationError as error:
        raise StudyError([problem_of(entry, document) for entry in error.errors()]) from None


def written(study: Study) -> dict[str, Any]:
    """Return the study as a JSON document without what has its default value."""
    kept = study.model_dump(mode="json", exclude_defaults=True)
    return {"format": study.format, **kept}
