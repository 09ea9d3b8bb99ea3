"""What right-sizing may change, and how far: people, shifts, breaks and days off, team by team."""

from itertools import pairwise
from typing import Annotated, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Money, Name, Part
from flowcore.study.calendars import Day, TimeOfDay
from flowcore.study.durations import Duration, minutes
from flowcore.study.rosters import RosterRow
from flowcore.study.runs import Target


class FromTo(Part):
    """Between so many and so many."""

    low: Annotated[int, Field(ge=0, le=100_000)] = 0
    high: Annotated[int, Field(ge=0, le=100_000)]

    @model_validator(mode="after")
    def _goes_up(self) -> Self:
        if self.low > self.high:
            raise trouble(f"It goes down, from {self.low} to {self.high}.", "Give the lower number first.")
        return self


class BreakWindow(Part):
    """A break that begins in a window after the start of the shift."""

    name: Name | None = None
    length: Duration
    from_: Duration = Field(alias="from")
    to: Duration
    paid: bool = True

    @model_validator(mode="after")
    def _goes_on(self) -> Self:
        if minutes(self.from_) > minutes(self.to):
            raise trouble(f"The window goes down, from {self.from_} to {self.to}.", "Give the earlier time first.")
        if minutes(self.length) <= 0:
            raise trouble("The break takes no time.", "Give it a length, or take it away.")
        return self


class ShiftLimits(Part):
    """Shifts that are allowed: how long, starting when, with which breaks, and on which days (any by default)."""

    lengths: Annotated[list[Duration], Field(min_length=1, max_length=50)]
    starts: Annotated[list[TimeOfDay], Field(max_length=200)] = []
    from_: TimeOfDay | None = Field(None, alias="from")
    to: TimeOfDay | None = None
    every: Duration = "30 min"
    days: list[Day] = []
    breaks: Annotated[list[BreakWindow], Field(max_length=5)] = []

    @model_validator(mode="after")
    def _starts_somewhere(self) -> Self:
        if bool(self.starts) == (self.from_ is not None):
            raise trouble(
                "Shifts start either at listed times or at any step of a range.", 'Give "starts", or "from" and "to".'
            )
        if (self.from_ is None) != (self.to is None):
            raise trouble("The range of starts has one end only.", 'Give both "from" and "to", or "starts".')
        if minutes(self.every) < 5:
            raise trouble("The starts are less than five minutes apart.", 'Give a step such as "30 min".')
        longest = max(minutes(each) for each in self.lengths)
        if not all(0 < minutes(each) <= 24 * 60 for each in self.lengths):
            raise trouble("A shift lasts more than nothing and at most 24 hours.", 'Give a length such as "8 h".')
        if any(minutes(each.from_) + minutes(each.length) > longest for each in self.breaks):
            raise trouble("A break does not fit into any of the shifts.", "Let it begin earlier after the start.")
        in_order = sorted(self.breaks, key=lambda each: minutes(each.from_))
        if any(minutes(one.to) + minutes(one.length) > minutes(later.from_) for one, later in pairwise(in_order)):
            raise trouble(
                "The windows of two breaks overlap.", "Let the later one begin after the earlier one is over."
            )
        return self


class PartTime(Part):
    """Members of whom there is a number with days, hours or shifts of their own."""

    name: Name
    people: Annotated[int, Field(ge=0, le=100_000)]
    days: Annotated[int, Field(ge=1, le=7)] | None = None
    hours: Duration | None = None
    shifts: Annotated[list[ShiftLimits], Field(max_length=20)] = []


class TeamLimits(Part):
    """How far the staffing of one team may change.

    `people` are all of its members, part-time and those of the `fixed` rows too. Who works has `days` days a week,
    at most `in_a_row` of them one after another, at most `hours` a week, `rest` between two shifts, and the days off
    one after another where they are `off_together`. Who is not part-time may work `overtime` beyond the `hours`. Places
    and equipment have a number only, and what one `cost`s a week.
    """

    team: Id
    people: FromTo
    shifts: Annotated[list[ShiftLimits], Field(max_length=20)] = []
    days: Annotated[int, Field(ge=1, le=7)] = 5
    in_a_row: Annotated[int, Field(ge=1, le=7)] = 7
    off_together: bool = False
    hours: Duration | None = None
    overtime: Duration | None = None
    rest: Duration = "11 h"
    kinds: Annotated[list[PartTime], Field(max_length=20)] = []
    fixed: Annotated[list[RosterRow], Field(max_length=200)] = []
    cost: Money = 0.0


class Sizing(Part):
    """A question to right-sizing: which targets should hold, and which teams or levers may change for it.

    Without targets of its own it takes those of the study, and without a seed that of its runs.
    """

    id: Id
    name: Name
    teams: Annotated[list[TeamLimits], Field(max_length=50)] = []
    levers: Annotated[list[Id], Field(max_length=20)] = []
    targets: Annotated[list[Target], Field(max_length=50)] = []
    seed: Annotated[int, Field(ge=0, lt=2**63)] | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if self.teams and self.levers:
            raise trouble("A search is over rosters or over levers, not over both.", "Make two of it.")
        if len({each.team for each in self.teams}) < len(self.teams):
            raise trouble("A team has limits twice.", "Give each team once.")
        return self
