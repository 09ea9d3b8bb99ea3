"""Distributions of time: a bare duration is a constant, an object names its shape."""

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Discriminator, Field, Tag, model_validator
from typing_extensions import TypeAliasType

from flowcore.problems import trouble
from flowcore.study.base import Part
from flowcore.study.durations import Duration, minutes


class _WithMean(Part):
    mean: Duration

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if minutes(self.mean) <= 0:
            raise trouble("The mean is zero.", "Give a mean above zero.")
        return self


class Exponential(_WithMean):
    """Times without memory, known by their mean."""

    dist: Literal["exponential"]


class Uniform(Part):
    """Every time between two bounds equally likely."""

    dist: Literal["uniform"]
    low: Duration
    high: Duration

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _require_order(("least", self.low), ("most", self.high))
        return self


class Triangular(Part):
    """Least, most likely and most; the middle value is the mode, not the mean."""

    dist: Literal["triangular"]
    low: Duration
    mode: Duration
    high: Duration

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _require_order(("least", self.low), ("most likely", self.mode), ("most", self.high))
        return self


class Normal(_WithMean):
    """A bell by mean and standard deviation, cut off at zero."""

    dist: Literal["normal"]
    sd: Duration


class Lognormal(_WithMean):
    """A skewed bell by its own mean and standard deviation."""

    dist: Literal["lognormal"]
    sd: Duration


class Erlang(_WithMean):
    """The sum of k equal exponential stages, known by its whole mean."""

    dist: Literal["erlang"]
    k: Annotated[int, Field(ge=1, le=1000)]


def _require_order(*named: tuple[str, str]) -> None:
    for (low_name, low), (high_name, high) in pairwise(named):
        if minutes(low) > minutes(high):
            raise trouble(
                f"The {low_name} ({low}) is above the {high_name} ({high}).",
                f"Put them in order: {' ≤ '.join(name for name, _ in named)}.",
            )


def _shape_of(value: object) -> str:
    if isinstance(value, dict):
        return str(value.get("dist"))
    return str(getattr(value, "dist", "constant"))


Distribution = TypeAliasType(
    "Distribution",
    Annotated[
        Annotated[Duration, Tag("constant")]
        | Annotated[Exponential, Tag("exponential")]
        | Annotated[Uniform, Tag("uniform")]
        | Annotated[Triangular, Tag("triangular")]
        | Annotated[Normal, Tag("normal")]
        | Annotated[Lognormal, Tag("lognormal")]
        | Annotated[Erlang, Tag("erlang")],
        Discriminator(_shape_of),
    ],
)


def mean_minutes(value: Distribution) -> float:
    """Return the mean of a distribution in minutes, before any cut at zero."""
    if isinstance(value, str):
        return minutes(value)
    if isinstance(value, Uniform):
        return (minutes(value.low) + minutes(value.high)) / 2
    if isinstance(value, Triangular):
        return (minutes(value.low) + minutes(value.mode) + minutes(value.high)) / 3
    return minutes(value.mean)
