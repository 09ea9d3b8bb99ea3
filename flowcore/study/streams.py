"""Streams: where cases come from."""

from typing import Annotated, Literal, Self

from pydantic import Discriminator, FailFast, Field, model_validator
from typing_extensions import TypeAliasType

from flowcore.problems import trouble
from flowcore.study.base import Count, Id, Name, Part, Share
from flowcore.study.calendars import Day, Hours, Moment, TimeOfDay
from flowcore.study.case_types import TraitStart
from flowcore.study.distributions import Distribution, NumberDistribution, OffsetDistribution
from flowcore.study.durations import DAY, Duration, minutes

SHORTEST_SLOT = 1 / 60


class MixPart(Part):
    """The share of one case type among a stream's cases."""

    type: Id
    share: Share


class MixOfHours(Part):
    """A mix of its own between two times of day."""

    from_: TimeOfDay = Field(alias="from")
    to: TimeOfDay
    mix: Annotated[list[MixPart], Field(min_length=1)]


class _Source(Part):
    id: Id
    name: Name
    mix: list[MixPart] = []
    mix_by_hour: list[MixOfHours] = []
    to: Id
    open: Id | None = None
    first: Moment | None = None
    last: Moment | None = None
    limit: Count | None = None
    group: NumberDistribution | None = None
    traits: dict[Id, TraitStart] = {}


class Chance(Part):
    """One case or none at the end of each interval."""

    every: Duration
    probability: Annotated[float, Field(gt=0, le=1)]


class RandomStream(_Source):
    """Cases that come a random time apart."""

    kind: Literal["random"]
    gap: Distribution | None = None
    chance: Chance | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Self:
        if (self.gap is None) == (self.chance is None):
            raise trouble("A random stream has either a gap or a chance.", "Give one of the two.")
        return self


class ProfileStream(_Source):
    """Cases that come by a weekly profile of expected arrivals per interval."""

    kind: Literal["profile"]
    interval: Duration
    week: dict[Day, list[Annotated[float, Field(ge=0, le=1e6)]]]
    spread: Literal["poisson", "exact"] = "poisson"

    @model_validator(mode="after")
    def _fits_a_day(self) -> Self:
        length = minutes(self.interval)
        if not 5 <= length <= 60 or DAY % length:
            raise trouble(
                f"An interval of {self.interval} does not divide a day into parts of 5 to 60 minutes.",
                "Use 5, 6, 10, 12, 15, 20, 30 or 60 minutes.",
            )
        for day, counts in self.week.items():
            if len(counts) > DAY / length:
                raise trouble(
                    f"{day} has {len(counts)} intervals, and a day has {DAY / length:g}.", "Take the last ones away."
                )
        return self


class Slots(Hours):
    """Slots from one time to another, every so many minutes, so many places each."""

    every: Duration
    places: Annotated[int, Field(ge=1, le=10_000)] = 1

    @model_validator(mode="after")
    def _moves_on(self) -> Self:
        if minutes(self.every) < SHORTEST_SLOT:
            raise trouble("The slots are less than a second apart.", 'Give a time between them, such as "15 min".')
        return self


class AppointmentStream(_Source):
    """Cases that are booked into slots and keep to them more or less."""

    kind: Literal["appointments"]
    sessions: Annotated[list[Slots], Field(min_length=1, max_length=1000)]
    filled: Share = 1.0
    no_show: Share = 0.0
    punctuality: OffsetDistribution | None = None


class DatedArrival(Part):
    """One case at one moment."""

    at: Moment
    type: Id | None = None
    traits: dict[Id, float | str] = Field(default_factory=dict)


class DateStream(_Source):
    """Cases that come at given moments."""

    kind: Literal["dates"]
    arrivals: Annotated[list[DatedArrival], Field(max_length=200_000), FailFast()]


Stream = TypeAliasType(
    "Stream",
    Annotated[RandomStream | ProfileStream | AppointmentStream | DateStream, Discriminator("kind")],
)
