"""What every shape of a distribution can say of itself."""

from abc import abstractmethod
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, ClassVar, Generic, NamedTuple, Self, TypeVar

from pydantic import model_validator

from flowcore.problems import trouble
from flowcore.study.base import Part
from flowcore.study.durations import minutes

Quantity = TypeVar("Quantity")
POINTS = 160
FAR = 5.0
"""So many standard deviations beyond the mean a curve without an end is cut."""


class Row(NamedTuple):
    """A distribution as it is drawn from: its family, its parameters in minutes or plain, and its numbers."""

    family: str
    a: float = 0.0
    b: float = 0.0
    c: float = 0.0
    stages: int = 0
    numbers: tuple[float, ...] = ()


@dataclass(frozen=True)
class CurvePoint:
    """A value and how likely it is: a density, or a share where values are separate."""

    at: float
    weight: float


class Around:
    """A mean to shape a distribution around, and how its parts are written."""

    def __init__(self, mean: float, write: Any) -> None:
        self._mean, self._write = mean, write

    def times(self, factor: float) -> Any:
        """Return the mean times a factor, as it is written in the document."""
        return self._write(self._mean * factor)

    def beside(self, factor: float) -> Any:
        """Return what lies so many times the mean's size above it, or below where the factor is negative."""
        return self._write(self._mean + factor * self.size)

    def wide(self, factor: float) -> Any:
        """Return a width of so many times the mean's size."""
        return self._write(factor * self.size)

    @property
    def size(self) -> float:
        """How far the mean is from zero; one where it is zero."""
        return abs(self._mean) or 1.0


class Shape(Part, Generic[Quantity]):
    """A distribution by its parameters; moments are exact, in minutes or plain."""

    words: ClassVar[str]
    """How the shape is called in plain words."""
    trade: ClassVar[str]
    """How the shape is called in textbooks."""
    separate: ClassVar[bool] = False
    """Whether it has separate values and no curve."""

    @abstractmethod
    def average(self) -> float:
        """Return the mean of what is drawn."""

    @abstractmethod
    def variance(self) -> float:
        """Return the variance of what is drawn."""

    @abstractmethod
    def row(self) -> Row:
        """Return how it is drawn from."""

    def quantile(self, share: float) -> float:
        """Return the value that a share (0 to 1) of what is drawn does not exceed."""
        return float(self.law().ppf(share)) if self.variance() > 0 else self.average()

    def law(self) -> Any:
        """Return the frozen distribution of scipy.stats that it follows where it varies."""
        raise NotImplementedError

    def reach(self) -> tuple[float, float]:
        """Return from where to where it is worth drawing: from zero or what is early, until it has all but ended."""
        far = FAR * self.variance() ** 0.5
        return (self.average() - far if self.average() <= 0 else 0.0), self.average() + far

    def points(self) -> list[CurvePoint]:
        """Return its curve at points evenly apart, or its separate values."""
        if not self.variance() > 0:
            return [CurvePoint(self.average(), 1.0)]
        begin, end = self.reach()
        law = self.law()
        middles = [begin + (end - begin) * (number + 0.5) / POINTS for number in range(POINTS)]
        return [CurvePoint(at, float(weight)) for at, weight in zip(middles, law.pdf(middles), strict=True)]

    @classmethod
    @abstractmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return the parameters of one of this shape with about a mean, without its name."""


def frozen(family: str, *parameters: float, **named: float) -> Any:
    """Return a frozen distribution of scipy.stats, which is loaded only where a curve is asked for."""
    from scipy import stats

    return getattr(stats, family)(*parameters, **named)


class WithMean(Shape[Quantity]):
    """A shape known by its mean."""

    mean: Quantity

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if amount(self.mean) <= 0:
            raise trouble("The mean is zero.", "Give a mean above zero.")
        return self

    def average(self) -> float:
        """Return the mean."""
        return amount(self.mean)


def amount(value: Any) -> float:
    """Return a time in minutes or a plain number as it is."""
    return minutes(value) if isinstance(value, str) else float(value)


def amounts(values: list[Any]) -> list[float]:
    """Return times in minutes or plain numbers as they are."""
    return [amount(value) for value in values]


def require_not_negative(sd: Any) -> None:
    """Raise a validation error where a standard deviation is below zero."""
    if amount(sd) < 0:
        raise trouble("The standard deviation is below zero.", "Give zero or more.")


def require_order(*named: tuple[str, Any]) -> None:
    """Raise a validation error where one of some named values is above the next."""
    for (low_name, low), (high_name, high) in pairwise(named):
        if amount(low) > amount(high):
            raise trouble(
                f"The {low_name} ({low}) is above the {high_name} ({high}).",
                f"Put them in order: {' ≤ '.join(name for name, _ in named)}.",
            )
