"""Rosters: which members are there when, and their breaks."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Name, Part
from flowcore.study.calendars import Date, Hours, TimeOfDay, minute_of_day
from flowcore.study.durations import DAY, Duration, minutes


class Break(Part):
    """A planned absence in a shift: so long after its start, or at a time of day."""

    name: Name | None = None
    after: Duration | None = None
    at: TimeOfDay | None = None
    length: Duration
    taken: Literal["together", "in-turn", "spread"] = "together"
    within: Duration | None = None
    paid: bool = True

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if (self.after is None) == (self.at is None):
            raise trouble("A break starts either some time after the shift's start or at a time of day.", "Give one.")
        if self.taken == "spread" and self.within is None:
            raise trouble("A spread break needs a window.", 'Say within which time, such as "within": "2 h".')
        return self


class RosterRow(Hours):
    """So many people on these days, from one time to another, with their breaks; the last of it may be `overtime`."""

    people: Annotated[int, Field(ge=0, le=100_000)]
    breaks: list[Break] = []
    overtime: Duration | None = None
    from_date: Date | None = None
    to_date: Date | None = None

    @model_validator(mode="after")
    def _overtime_fits(self) -> Self:
        shift = (minute_of_day(self.to) - minute_of_day(self.from_)) % DAY or DAY
        if self.overtime is not None and not 0 < minutes(self.overtime) <= shift:
            raise trouble(
                "The overtime is nothing, or longer than the shift.", "Give a part of the shift, or all of it."
            )
        return self
