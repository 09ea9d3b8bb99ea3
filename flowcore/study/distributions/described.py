"""What a distribution looks like, and the same mean in another shape: for who chooses one."""

import re
from collections.abc import Callable
from enum import StrEnum
from typing import Any

from pydantic import BaseModel, TypeAdapter, ValidationError

from flowcore.problems import MOST_PROBLEMS, StudyError
from flowcore.study.distributions import (
    OF_NUMBERS,
    OF_OFFSETS,
    OF_TIMES,
    AnyDistribution,
    Distribution,
    NumberDistribution,
    OffsetDistribution,
    Shapes,
    mean_of,
)
from flowcore.study.distributions.shape import Around, CurvePoint, Shape
from flowcore.study.durations import in_unit, unit_of
from flowcore.study.wording import problem_of

DIGITS = 4
MIDDLE = (0.05, 0.95)


class Measure(StrEnum):
    """What is distributed: times, times early or late, or plain numbers."""

    TIME = "time"
    OFFSET = "offset"
    NUMBER = "number"


SHAPES: dict[Measure, Shapes] = {
    Measure.TIME: OF_TIMES,
    Measure.OFFSET: OF_OFFSETS,
    Measure.NUMBER: OF_NUMBERS,
}
_ADAPTERS: dict[Measure, TypeAdapter[Any]] = {
    Measure.TIME: TypeAdapter(Distribution),
    Measure.OFFSET: TypeAdapter(OffsetDistribution),
    Measure.NUMBER: TypeAdapter(NumberDistribution),
}


class ShapeChoice(BaseModel):
    """A shape to choose: its name in the document, in plain words and in the trade, and what it can be of."""

    name: str
    words: str
    trade: str
    measures: list[Measure]


class Described(BaseModel):
    """A distribution with its mean, its middle 90 % and its curve, in minutes or plain.

    `points` are values with a density, or with a share where they are `separate`; none for a constant.
    """

    value: Any
    mean: float
    low: float
    high: float
    points: list[CurvePoint]
    separate: bool


def shapes() -> list[ShapeChoice]:
    """Return all shapes in the order in which they are offered."""
    choices = {"constant": ShapeChoice(name="constant", words="always the same", trade="constant", measures=[*Measure])}
    for measure, classes in SHAPES.items():
        for shape in classes:
            name = _name_of(shape)
            plain = ShapeChoice(name=name, words=shape.words, trade=shape.trade, measures=[])
            choices.setdefault(name, plain).measures.append(measure)
    return list(choices.values())


def _name_of(shape: type[Shape[Any]]) -> str:
    [name] = shape.model_fields["dist"].annotation.__args__  # type: ignore[union-attr]
    return str(name)


def read_distribution(value: object, measure: Measure) -> AnyDistribution:
    """Return the distribution that is written as JSON; raises StudyError with a problem for each mistake."""
    try:
        read: AnyDistribution = _ADAPTERS[measure].validate_python(value)
    except ValidationError as error:
        raise StudyError([problem_of(entry, value) for entry in error.errors()[:MOST_PROBLEMS]]) from None
    return read


def described(value: AnyDistribution) -> Described:
    """Return what a distribution looks like."""
    if not isinstance(value, Shape):
        mean = mean_of(value)
        return Described(value=value, mean=mean, low=mean, high=mean, points=[], separate=True)
    low, high = (value.quantile(share) for share in MIDDLE)
    points = value.points()
    separate = value.separate or len(points) == 1
    written = value.model_dump(mode="json")
    return Described(value=written, mean=value.average(), low=low, high=high, points=points, separate=separate)


def reshaped(value: AnyDistribution, shape: str, measure: Measure) -> AnyDistribution:
    """Return another shape with about the same mean, in the same unit; raises StudyError where there is none.

    Times and plain numbers get a mean above zero, as most shapes need one.
    """
    mean = mean_of(value)
    write = _writer_for(value, measure)
    if shape == "constant":
        return read_distribution(write(mean), measure)
    around = Around(mean if mean > 0 or measure is Measure.OFFSET else 1.0, write)
    parts = next((each.around(around) for each in SHAPES[measure] if _name_of(each) == shape), {})
    return read_distribution({"dist": shape, **parts}, measure)


def _writer_for(value: AnyDistribution, measure: Measure) -> Callable[[float], str | float]:
    """Return how amounts are written beside a value: in its unit, or as plain numbers."""
    if measure is Measure.NUMBER:
        return lambda amount: float(f"{amount:.{DIGITS}g}")
    unit = unit_of(_first_time(value))
    return lambda amount: in_unit(amount, unit, DIGITS)


def _first_time(value: AnyDistribution) -> str:
    """Return one of the times that a distribution is made of."""
    written = value if isinstance(value, str) else str(value.model_dump(mode="json", exclude={"dist"}))  # type: ignore[union-attr]
    found = re.search(r"\d\s*(?:s|min|h|d|wk)\b", written)
    return found.group() if found else "0 min"
