"""The study document as a whole, and the way from JSON to it."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, ValidationError, model_validator

from flowcore.problems import MOST_PROBLEMS, StudyError, trouble
from flowcore.study.base import Id, Name, Part
from flowcore.study.calendars import Calendar, Moment
from flowcore.study.case_types import CaseType, Trait
from flowcore.study.checkpoints import Deadline, Span
from flowcore.study.drawing import Drawing
from flowcore.study.formats import FORMAT, brought_up
from flowcore.study.measures import OwnMeasure
from flowcore.study.plain import require_plain
from flowcore.study.runs import Address, Lever, Observed, RunSettings, Scenario, Target
from flowcore.study.site import Site
from flowcore.study.sizing import Sizing
from flowcore.study.sources import Pointer, Source
from flowcore.study.steps import Step
from flowcore.study.streams import Stream
from flowcore.study.teams import Skill, Team
from flowcore.study.wording import problem_of

MOST_STEPS_BY_TYPES = 30_000


class StudyDocument(Part):
    """Everything about one question: the service as it is, and how it is run."""

    format: Literal[2] = FORMAT
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
    skills: Annotated[list[Skill], Field(max_length=500)] = []
    site: Site = Site()
    measures: Annotated[list[OwnMeasure], Field(max_length=100)] = []
    targets: Annotated[list[Target], Field(max_length=500)] = []
    observed: Annotated[list[Observed], Field(max_length=500)] = []
    board: Annotated[list[Address], Field(max_length=200)] = []
    levers: Annotated[list[Lever], Field(max_length=500)] = []
    scenarios: Annotated[list[Scenario], Field(max_length=200)] = []
    sizing: Annotated[list[Sizing], Field(max_length=50)] = []
    drawing: Drawing | None = None
    sources: Annotated[dict[Pointer, Source], Field(max_length=5000)] = {}
    run: RunSettings = RunSettings()

    @model_validator(mode="before")
    @classmethod
    def _in_this_format(cls, document: object) -> object:
        return brought_up(document)

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


def checkpoints_of(study: StudyDocument) -> list[Id]:
    """Return the steps that are checkpoints, in the order of the document."""
    return [step.id for step in study.steps if step.checkpoint]


LISTS = (
    "calendars",
    "case_types",
    "traits",
    "streams",
    "steps",
    "deadlines",
    "spans",
    "teams",
    "skills",
    "measures",
    "levers",
    "scenarios",
    "sizing",
)


def elements(study: StudyDocument) -> Iterator[tuple[str, Any]]:
    """Yield every element that has an id, with the name of its list."""
    for part in LISTS:
        for element in getattr(study, part):
            yield part, element
    for place in study.site.places:
        yield "site/places", place


def read_study(document: object) -> StudyDocument:
    """Return the study that a JSON document describes.

    Raises StudyError with a problem for each of the first hundred places that cannot be read.
    """
    require_plain(document)
    try:
        return StudyDocument.model_validate(document)
    except ValidationError as error:
        raise StudyError([problem_of(entry, document) for entry in error.errors()[:MOST_PROBLEMS]]) from None


def written(study: StudyDocument) -> dict[str, Any]:
    """Return the study as a JSON document without what has its default value."""
    kept = study.model_dump(mode="json", exclude_defaults=True)
    return {"format": study.format, **kept}
