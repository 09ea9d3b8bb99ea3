"""How a study is run, what its figures should be, and what its scenarios change."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from flowcore.problems import trouble, warning_at
from flowcore.study.base import Count, Id, Name, Part, Text
from flowcore.study.durations import Duration, minutes, plain_number
from flowcore.study.sources import Pointer

Address = Annotated[str, StringConstraints(pattern=r"^[a-z]+/[^ ]+$", max_length=300)]


class Until(Part):
    """When a run is over: after so many completed cases, or when it is empty after closing."""

    completed: Count | None = None
    empty: Literal[True] | None = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if (self.completed is None) == (self.empty is None):
            raise trouble('A run ends by "completed" or by "empty".', "Give one of the two.")
        return self


class Precision(Part):
    """Replications are added until the half-width of these figures is within a share of their mean."""

    figure: Address | Annotated[list[Address], Field(max_length=100)]
    within: Annotated[float, Field(gt=0, lt=1)]
    at_most: Annotated[int, Field(ge=2, le=10_000)] = 1000

    @property
    def figures(self) -> list[str]:
        """The addresses, whether one or several are given."""
        return [self.figure] if isinstance(self.figure, str) else self.figure


class RunSettings(Part):
    """How long and how often a study is run."""

    length: Duration = "4 wk"
    until: Until | None = None
    doors: Id | None = None
    warm_up: Duration = "0 min"
    replications: Annotated[int, Field(ge=1, le=10_000)] = 30
    precision: Precision | None = None
    confidence: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    seed: Annotated[int, Field(ge=0, lt=2**63)] = 1
    interval: Duration = "60 min"

    @model_validator(mode="after")
    def _known_interval(self) -> Self:
        if minutes(self.interval) not in (15.0, 30.0, 60.0):
            raise trouble(f"An interval of {self.interval} is not collected.", "Use 15, 30 or 60 minutes.")
        return self


ONE_REPLICATION = warning_at(
    "run/replications",
    "One replication is one possible course of events; nothing says how far others would be from it.",
    "Run 10 or more.",
)
"""What is doubtful of a study, and of a run, with a single replication."""


class Target(Part):
    """A figure with a limit that it should keep, with how sure one wants to be of that.

    It is the figure of the whole run, or of each day of the week, or of each interval of the week alone. A count is of
    a day, a week or a month of the service where `per` says so, else of a replication.
    """

    figure: Address
    at_most: float | Duration | None = None
    at_least: float | Duration | None = None
    by: Literal["run", "day", "interval"] = "run"
    per: Literal["day", "week", "month"] | None = None
    sure: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95

    @model_validator(mode="after")
    def _has_limit(self) -> Self:
        if self.at_most is None and self.at_least is None:
            raise trouble("The target has no limit.", 'Give "at_most" or "at_least".')
        return self


class Observed(Part):
    """What is known of the real service: a figure as it was measured, or between two ends, and where that is from.

    A count is of a day, a week or a month of the service where `per` says so, else of a replication.
    """

    figure: Address
    value: float | Duration
    per: Literal["day", "week", "month"] | None = None
    low: float | Duration | None = None
    high: float | Duration | None = None
    source: Annotated[str, StringConstraints(max_length=400)] = ""

    @model_validator(mode="after")
    def _has_both_ends(self) -> Self:
        if (self.low is None) != (self.high is None):
            raise trouble("What was observed has one end only.", 'Give both "low" and "high", or neither.')
        if self.low is not None and self.high is not None and plain_number(self.low) > plain_number(self.high):
            raise trouble(f"It goes down, from {self.low} to {self.high}.", "Give the lower end first.")
        return self


class Lever(Part):
    """A parameter that scenarios may vary, and every place of the document that it drives.

    A lever that `scales` multiplies what stands there: its value is a factor, and 1 changes nothing. What it may be
    is listed in `values`, or runs from `low` to `high` by `step`, which are durations where it sets a duration.
    """

    id: Id
    name: Name
    sets: Annotated[list[Pointer], Field(max_length=500)] = []
    scales: bool = False
    values: Annotated[list[Any], Field(max_length=500)] = []
    low: float | Duration | None = None
    high: float | Duration | None = None
    step: Annotated[float, Field(gt=0)] | Duration | None = None

    @model_validator(mode="after")
    def _is_a_range(self) -> Self:
        if (self.low is None) != (self.high is None):
            raise trouble("The range has one end only.", 'Give both "low" and "high".')
        kinds = {isinstance(each, str) for each in (self.low, self.high, self.step) if each is not None}
        if len(kinds) > 1:
            raise trouble("The range has durations and plain numbers.", "Give all of it with a unit, or none of it.")
        if self.low is not None and self.high is not None and plain_number(self.low) > plain_number(self.high):
            raise trouble(f"The range goes down, from {self.low} to {self.high}.", "Give the lower end first.")
        if self.step is not None and plain_number(self.step) <= 0:
            raise trouble("The range has a step of zero.", "Give a step above zero.")
        return self


class PatchStep(Part):
    """One operation of a JSON Patch (RFC 6902)."""

    op: Literal["add", "remove", "replace", "move", "copy", "test"]
    path: Text
    from_: Text | None = Field(None, alias="from")
    value: Any = None


class Scenario(Part):
    """The study with some levers moved or parts changed."""

    id: Id
    name: Name
    about: Annotated[str, StringConstraints(max_length=4000)] = ""
    levers: dict[Id, Any] = {}
    changes: Annotated[list[PatchStep], Field(max_length=5000)] = []
