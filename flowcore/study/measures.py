"""Measures of the analyst's own: a share, a count, a time or a level, made from parts."""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Name, Part
from flowcore.study.checkpoints import Point
from flowcore.study.rules import Condition, Rule, conditions_of

Whose = Annotated[str, StringConstraints(pattern=r"^(type/all|(type|stream|outcome|step)/[^/ ]+)$", max_length=120)]
"""The cases of a type, a stream or an outcome, told when they leave; the visits to a step, told when they end."""
Which = Annotated[
    str,
    StringConstraints(
        pattern=r"^(step/[^/ ]+/(line|inside)|type/[^/ ]+/inside|team/[^/ ]+/(present|working))$", max_length=120
    ),
]
"""The cases in the line of a step or at it, the cases inside of a type, the members of a team present or at work."""
TIME = "time"
OF_THE_MOMENT = ("line", "free", "time-of-day", "weekday")
"""The facts that can be told at any moment, without a case to tell them of."""


class ShareOf(Part):
    """The share of cases, of visits or of the time for which a rule holds."""

    of: Whose | Literal["time"] = "type/all"
    where: Rule


class CountOf(Part):
    """How many cases, or visits, there are for which a rule holds."""

    of: Whose = "type/all"
    where: Rule


class TimeBetween(Part):
    """The time of a case from one point, or its arrival, to another."""

    from_: Point | None = Field(None, alias="from")
    to: Point


class LevelOf(Part):
    """The mean, or the most, of a level over time, while a rule holds."""

    of: Which
    where: Rule | None = None
    statistic: Literal["mean", "max"] = "mean"


class OwnMeasure(Part):
    """A figure that the analyst defines."""

    id: Id
    name: Name
    share: ShareOf | None = None
    count: CountOf | None = None
    time: TimeBetween | None = None
    level: LevelOf | None = None

    @model_validator(mode="after")
    def _one_of(self) -> Self:
        if len([each for each in (self.share, self.count, self.time, self.level) if each is not None]) != 1:
            raise trouble('A measure is one of "share", "count", "time" and "level".', "Give one of the four.")
        return self

    @property
    def of_cases(self) -> ShareOf | CountOf | None:
        """What is told of cases or visits one by one; None where it is a time, or told of the time."""
        told = self.share or self.count
        return None if told is None or told.of == TIME else told

    @property
    def of_time(self) -> ShareOf | LevelOf | None:
        """What is told of all moments of the run; None where it is told of cases."""
        return self.share if self.share is not None and self.share.of == TIME else self.level

    @property
    def rule(self) -> Rule | None:
        """The rule that it asks for."""
        told = self.share or self.count or self.level
        return None if told is None else told.where

    @property
    def conditions(self) -> list[Condition]:
        """All that its rule asks."""
        return [] if self.rule is None else conditions_of(self.rule)


def by_moment(measures: list[OwnMeasure]) -> tuple[list[OwnMeasure], list[OwnMeasure], list[OwnMeasure]]:
    """Return the measures of cases, of visits and of the time; those of a time between points are none of them."""
    visits = [each for each in measures if each.of_cases is not None and each.of_cases.of.startswith("step/")]
    cases = [each for each in measures if each.of_cases is not None and each not in visits]
    return cases, visits, [each for each in measures if each.of_time is not None]
