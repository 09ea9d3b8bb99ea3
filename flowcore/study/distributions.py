"""Distributions: a bare value is a constant, an object names its shape.

Every shape exists for times (`"3 min"`), for plain numbers, and, where it may lie below zero, for
offsets from a planned time.
"""

from itertools import pairwise
from math import gamma
from typing import Annotated, Any, Generic, Literal, Self, TypeVar

from pydantic import Discriminator, Field, Tag, model_validator
from typing_extensions import TypeAliasType

from flowcore.problems import trouble
from flowcore.study.base import Part
from flowcore.study.durations import Duration, Offset, minutes

Quantity = TypeVar("Quantity")
Number = TypeAliasType("Number", float)


def amount(value: str | float) -> float:
    """Return a time in minutes or a plain number as it is."""
    return minutes(value) if isinstance(value, str) else float(value)


class _WithMean(Part, Generic[Quantity]):
    mean: Quantity

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if amount(self.mean) <= 0:  # type: ignore[arg-type]  # a quantity is a text or a number
            raise trouble("The mean is zero.", "Give a mean above zero.")
        return self


class _Spread(_WithMean[Quantity]):
    sd: Quantity

    @model_validator(mode="after")
    def _not_negative(self) -> Self:
        _require_not_negative(self.sd)
        return self


class Exponential(_WithMean[Quantity]):
    """Times without memory, known by their mean."""

    dist: Literal["exponential"]


class Uniform(Part, Generic[Quantity]):
    """Everything between two bounds equally likely."""

    dist: Literal["uniform"]
    low: Quantity
    high: Quantity

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _require_order(("least", self.low), ("most", self.high))
        return self


class _ThreePoints(Part, Generic[Quantity]):
    low: Quantity
    mode: Quantity
    high: Quantity

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _require_order(("least", self.low), ("most likely", self.mode), ("most", self.high))
        return self


class Triangular(_ThreePoints[Quantity]):
    """Least, most likely and most; the middle value is the mode, not the mean."""

    dist: Literal["triangular"]


class Pert(_ThreePoints[Quantity]):
    """Least, most likely and most, with most of the weight near the most likely."""

    dist: Literal["pert"]


class Normal(_Spread[Quantity]):
    """A bell by mean and standard deviation, cut off at zero."""

    dist: Literal["normal"]


class NormalOffset(Part, Generic[Quantity]):
    """A bell by mean and standard deviation, early as well as late."""

    dist: Literal["normal"]
    mean: Quantity
    sd: Quantity

    @model_validator(mode="after")
    def _not_negative(self) -> Self:
        _require_not_negative(self.sd)
        return self


class Lognormal(_Spread[Quantity]):
    """A skewed bell by its own mean and standard deviation."""

    dist: Literal["lognormal"]


class Gamma(_Spread[Quantity]):
    """A skewed shape by its mean and standard deviation."""

    dist: Literal["gamma"]

    @model_validator(mode="after")
    def _varies(self) -> Self:
        if amount(self.sd) <= 0:  # type: ignore[arg-type]
            raise trouble("The standard deviation is zero.", "Give one above zero, or a constant.")
        return self


class Erlang(_WithMean[Quantity]):
    """The sum of k equal exponential stages, known by its whole mean."""

    dist: Literal["erlang"]
    k: Annotated[int, Field(ge=1, le=1000)]


class Weibull(Part, Generic[Quantity]):
    """Times to a failure: shape below 1 for early ones, above 1 for wear."""

    dist: Literal["weibull"]
    scale: Quantity
    shape: Annotated[float, Field(gt=0, le=100)]

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if amount(self.scale) <= 0:  # type: ignore[arg-type]
            raise trouble("The scale is zero.", "Give a scale above zero.")
        return self


class Beta(Part, Generic[Quantity]):
    """A shape between two bounds, by its mean and standard deviation."""

    dist: Literal["beta"]
    low: Quantity
    high: Quantity
    mean: Quantity
    sd: Quantity

    @model_validator(mode="after")
    def _possible(self) -> Self:
        _require_order(("least", self.low), ("mean", self.mean), ("most", self.high))
        low, high, mean, sd = (amount(each) for each in (self.low, self.high, self.mean, self.sd))  # type: ignore[arg-type]
        if not 0 < sd**2 < (mean - low) * (high - mean):
            most = max(0.0, (mean - low) * (high - mean)) ** 0.5
            raise trouble(
                "No beta distribution has this standard deviation.", f"Give one above zero and below {most:g}."
            )
        return self


class Discrete(Part, Generic[Quantity]):
    """A few values, each with its weight."""

    dist: Literal["discrete"]
    values: Annotated[list[Quantity], Field(min_length=1)]
    weights: Annotated[list[Annotated[float, Field(ge=0)]], Field(min_length=1)]

    @model_validator(mode="after")
    def _paired(self) -> Self:
        if len(self.values) != len(self.weights):
            raise trouble(
                f"There are {len(self.values)} values and {len(self.weights)} weights.", "Give each value one weight."
            )
        if sum(self.weights) <= 0:
            raise trouble("All weights are zero.", "Give some value a weight above zero.")
        return self


class Empirical(Part, Generic[Quantity]):
    """Observed values; what lies between two neighbours is interpolated."""

    dist: Literal["empirical"]
    values: Annotated[list[Quantity], Field(min_length=1)]


class Poisson(Part, Generic[Quantity]):
    """Counts of what happens independently, known by their mean."""

    dist: Literal["poisson"]
    mean: Annotated[float, Field(gt=0, le=10_000)]


def _require_not_negative(value: Any) -> None:
    if amount(value) < 0:
        raise trouble("The standard deviation is below zero.", "Give zero or more.")


def _require_order(*named: tuple[str, Any]) -> None:
    for (low_name, low), (high_name, high) in pairwise(named):
        if amount(low) > amount(high):
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
        | Annotated[Exponential[Duration], Tag("exponential")]
        | Annotated[Uniform[Duration], Tag("uniform")]
        | Annotated[Triangular[Duration], Tag("triangular")]
        | Annotated[Pert[Duration], Tag("pert")]
        | Annotated[Normal[Duration], Tag("normal")]
        | Annotated[Lognormal[Duration], Tag("lognormal")]
        | Annotated[Gamma[Duration], Tag("gamma")]
        | Annotated[Erlang[Duration], Tag("erlang")]
        | Annotated[Weibull[Duration], Tag("weibull")]
        | Annotated[Beta[Duration], Tag("beta")]
        | Annotated[Discrete[Duration], Tag("discrete")]
        | Annotated[Empirical[Duration], Tag("empirical")],
        Discriminator(_shape_of),
    ],
)

NumberDistribution = TypeAliasType(
    "NumberDistribution",
    Annotated[
        Annotated[Number, Tag("constant")]
        | Annotated[Exponential[Number], Tag("exponential")]
        | Annotated[Uniform[Number], Tag("uniform")]
        | Annotated[Triangular[Number], Tag("triangular")]
        | Annotated[Pert[Number], Tag("pert")]
        | Annotated[Normal[Number], Tag("normal")]
        | Annotated[Lognormal[Number], Tag("lognormal")]
        | Annotated[Gamma[Number], Tag("gamma")]
        | Annotated[Erlang[Number], Tag("erlang")]
        | Annotated[Weibull[Number], Tag("weibull")]
        | Annotated[Beta[Number], Tag("beta")]
        | Annotated[Discrete[Number], Tag("discrete")]
        | Annotated[Empirical[Number], Tag("empirical")]
        | Annotated[Poisson[Number], Tag("poisson")],
        Discriminator(_shape_of),
    ],
)

OffsetDistribution = TypeAliasType(
    "OffsetDistribution",
    Annotated[
        Annotated[Offset, Tag("constant")]
        | Annotated[Uniform[Offset], Tag("uniform")]
        | Annotated[Triangular[Offset], Tag("triangular")]
        | Annotated[NormalOffset[Offset], Tag("normal")]
        | Annotated[Discrete[Offset], Tag("discrete")]
        | Annotated[Empirical[Offset], Tag("empirical")],
        Discriminator(_shape_of),
    ],
)

AnyDistribution = Distribution | NumberDistribution | OffsetDistribution


def mean_of(value: AnyDistribution) -> float:
    """Return the mean of a distribution, in minutes or plain, before any cut at zero."""
    if isinstance(value, str | int | float):
        return amount(value)
    if isinstance(value, Uniform):
        return (amount(value.low) + amount(value.high)) / 2
    if isinstance(value, Triangular):
        return (amount(value.low) + amount(value.mode) + amount(value.high)) / 3
    if isinstance(value, Pert):
        return (amount(value.low) + 4 * amount(value.mode) + amount(value.high)) / 6
    if isinstance(value, Weibull):
        return amount(value.scale) * gamma(1 + 1 / value.shape)
    if isinstance(value, Discrete):
        amounts = [amount(each) for each in value.values]
        return sum(v * w for v, w in zip(amounts, value.weights, strict=True)) / sum(value.weights)
    if isinstance(value, Empirical):
        values = sorted(amount(each) for each in value.values)
        inner = sum(values) - (values[0] + values[-1]) / 2
        return values[0] if len(values) == 1 else inner / (len(values) - 1)
    return amount(value.mean)
