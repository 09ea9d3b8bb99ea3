"""Deadlines and spans: clocks between two points of the flow."""

from typing import Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Name, Part
from flowcore.study.durations import Duration, minutes


class Then(Part):
    """What happens when the clock runs out: a companion is sent, or the case is diverted."""

    send: Id | None = None
    every: Duration | None = None
    divert: Id | None = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if (self.send is None) == (self.divert is None):
            raise trouble("A deadline either sends a companion or diverts the case.", "Give one of the two.")
        if self.every is not None and (self.send is None or minutes(self.every) <= 0):
            raise trouble("Only companions are sent again, some time apart.", 'Take "every" away or correct it.')
        return self


class Deadline(Part):
    """A clock that starts when a case comes to one step and stops when another takes it on."""

    id: Id
    name: Name
    from_: Id = Field(alias="from")
    to: Id
    within: Duration
    then: Then


class Point(Part):
    """Coming to a step or leaving it."""

    step: Id
    at: Literal["entering", "leaving"] = "entering"


class Span(Part):
    """The time between two points of the flow."""

    id: Id
    name: Name
    from_: Point = Field(alias="from")
    to: Point
