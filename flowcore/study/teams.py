"""Teams: interchangeable people, places or equipment."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Money, Name, Part
from flowcore.study.calendars import Date
from flowcore.study.distributions import Distribution, NumberDistribution
from flowcore.study.durations import Duration
from flowcore.study.rosters import RosterRow

HandOver = Literal["finish", "finish-short", "pause", "hand-over"]


class Skill(Part):
    """What steps can ask for and several teams may have, by its name for people."""

    id: Id
    name: Name


class After(Part):
    """How long until the next interruption: by the clock, by time at work, or by cases."""

    clock: Distribution | None = None
    working: Distribution | None = None
    cases: NumberDistribution | None = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if sum(each is not None for each in (self.clock, self.working, self.cases)) != 1:
            raise trouble("An interruption comes by exactly one measure.", 'Give "clock", "working" or "cases".')
        return self


class Interruption(Part):
    """An unplanned absence, of each member on its own or of the whole team at once."""

    name: Name
    after: After
    length: Distribution
    strikes: Literal["each", "team"]
    work: HandOver = "pause"


class Closing(Part):
    """How long members stay after the end of their shift when work is left."""

    stay: Literal["leave", "clear-line", "empty"] = "leave"
    at_most: Duration | None = None


class Team(Part):
    """Members with a roster (or always there), and what they cost."""

    id: Id
    name: Name
    kind: Literal["people", "places", "equipment"] = "people"
    size: Annotated[int, Field(ge=0, le=100_000)] | None = None
    roster: list[RosterRow] = []
    closed: list[Date] = []
    skills: list[Id] = []
    pace: Annotated[float, Field(ge=0.001, le=100)] = 1.0
    rate: Money = 0.0
    paid: Literal["present", "used"] = "present"
    use_cost: Money = 0.0
    overtime: Annotated[float, Field(ge=1, le=100)] = 1.0
    at_break: HandOver = "finish"
    at_shift_end: HandOver = "finish"
    closing: Closing = Closing()
    absence: Annotated[float, Field(ge=0, le=1)] = 0.0
    absence_paid: bool = False
    interruptions: list[Interruption] = []
    picks: Literal["longest-idle", "least-used", "listed", "random"] = "longest-idle"
    place: Id | None = None
    walks: bool = False

    @model_validator(mode="after")
    def _size_or_roster(self) -> Self:
        if self.roster and self.size is not None:
            raise trouble("A team has either a size or a roster.", "Take one of the two away.")
        return self

    @property
    def members(self) -> int:
        """How many members there are in all, on whatever shift; one where nothing is said."""
        if self.roster:
            return sum(row.people for row in self.roster)
        return 1 if self.size is None else self.size

    @property
    def comes(self) -> float:
        """The share of shifts to which a member comes; who has no shifts is always there."""
        return 1.0 - self.absence if self.roster else 1.0
