"""Values of BPSim's parameters as times, numbers and distributions of a study."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from scipy import stats

from flowcore.exchange.bpmn.file.parameters import Value
from flowcore.exchange.bpmn.file.times import DIGITS, OURS, UNITS, as_duration, from_period
from flowcore.problems import StudyError
from flowcore.study.distributions import mean_of, sd_of
from flowcore.study.distributions.described import Measure, read_distribution
from flowcore.study.durations import MINUTES_PER_UNIT, in_unit, minutes, plain_number

MOST_POINTS = 1000
LONGEST = 64
"""So many letters has the name of a category at most."""
SHARES = [(2 * number + 1) / 198 for number in range(99)]
"""At which shares a distribution of another family is read."""
UNITS_OF_STUDY = {theirs: ours for ours, theirs in OURS.items()}


class Unreadable(Exception):
    """Raised where a value says nothing that a study can hold; says why, as the rest of a sentence."""


@dataclass(frozen=True)
class Read:
    """A value as a study writes it, and what is not as it was, empty if all is."""

    value: Any
    note: str = ""


Maker = Callable[[Value, str | None], Read]


def time_of(value: Value, time_unit: str) -> Read:
    """Return a distribution of time; raises Unreadable."""
    unit = value.attributes.get("timeUnit") or time_unit or "min"
    if unit not in UNITS:
        raise Unreadable(f"has the unknown unit “{unit}”")
    return _checked(value, unit, Measure.TIME)


def number_of(value: Value) -> Read:
    """Return a distribution of plain numbers; raises Unreadable."""
    return _checked(value, None, Measure.NUMBER)


def plain_number_of(value: Value | None) -> float | None:
    """Return a value that is one plain number; None where it is none."""
    try:
        return None if value is None else float(value.attributes["value"])
    except (KeyError, ValueError):
        return None


def text_of(value: Value | None) -> str:
    """Return a value that is one text, as it is written."""
    return "" if value is None else value.attributes.get("value", "")


def _checked(value: Value, unit: str | None, measure: Measure) -> Read:
    read = _read(value, unit)
    try:
        read_distribution(read.value, measure)
    except StudyError as error:
        raise Unreadable(f"is not possible: {error.problems[0].what}") from None
    return read


def _read(value: Value, unit: str | None) -> Read:
    maker: Maker | None = _MAKERS.get(value.kind)
    if maker is None:
        raise Unreadable("is an expression" if value.kind == "ExpressionParameter" else f"is a {value.kind}")
    try:
        return maker(value, unit)
    except (KeyError, ValueError, OverflowError, ZeroDivisionError):
        raise Unreadable("cannot be read") from None


def _number(value: Value, name: str) -> float:
    number = float(value.attributes[name])
    if not -1e12 < number < 1e12:
        raise ValueError(name)
    return number


def _written(number: float, unit: str | None) -> str | float:
    """Write a number in a unit of BPSim's as a study does."""
    if unit is None:
        short = float(f"{number:.{DIGITS}g}")
        return int(short) if short.is_integer() else short
    own = UNITS_OF_STUDY.get(unit)
    total = number * UNITS[unit]
    return as_duration(total) if own is None else in_unit(number * MINUTES_PER_UNIT[own], own, DIGITS)


def _constant(value: Value, unit: str | None) -> Read:
    return Read(_written(_number(value, "value"), unit))


def _duration(value: Value, unit: str | None) -> Read:
    told = from_period(value.attributes["value"])
    if told is None or unit is None:
        raise ValueError(value)
    return Read(told)


def _named(dist: str, **names: str) -> Maker:
    """Return a maker of a family whose quantities have other names in BPSim."""

    def made(value: Value, unit: str | None) -> Read:
        return Read({"dist": dist} | {ours: _written(_number(value, theirs), unit) for ours, theirs in names.items()})

    return made


def _gamma(value: Value, unit: str | None) -> Read:
    shape, scale = _number(value, "shape"), _number(value, "scale")
    mean, sd = _written(shape * scale, unit), _written(shape**0.5 * scale, unit)
    return Read({"dist": "gamma", "mean": mean, "sd": sd})


def _erlang(value: Value, unit: str | None) -> Read:
    stages = round(_number(value, "k"))
    return Read({"dist": "erlang", "mean": _written(_number(value, "mean"), unit), "k": stages})


def _weibull(value: Value, unit: str | None) -> Read:
    return Read({"dist": "weibull", "scale": _written(_number(value, "scale"), unit), "shape": _number(value, "shape")})


def _beta(value: Value, unit: str | None) -> Read:
    a, b = _number(value, "shape"), _number(value, "scale")
    mean, sd = a / (a + b), (a * b / (a + b + 1)) ** 0.5 / (a + b)
    quantities = {"low": 0.0, "high": 1.0, "mean": mean, "sd": sd}
    return Read({"dist": "beta"} | {name: _written(number, unit) for name, number in quantities.items()})


def _truncated(value: Value, unit: str | None) -> Read:
    mean, sd = _number(value, "mean"), _number(value, "standardDeviation")
    low, high = (float(value.attributes[name]) for name in ("min", "max"))
    if low <= 0 and high >= mean + 8 * sd:
        return _named("normal", mean="mean", sd="standardDeviation")(value, unit)
    law = stats.truncnorm((low - mean) / sd, (high - mean) / sd, mean, sd)
    values = [_written(max(0.0, float(each)), unit) for each in law.ppf(SHARES)]
    return Read({"dist": "empirical", "values": values}, "is a cut normal distribution, told by 99 values of it")


def _counted(law: Any, unit: str | None) -> Read:
    low, high = int(law.ppf(1e-6)), int(law.ppf(1 - 1e-6))
    if high - low > MOST_POINTS:
        return Read({"dist": "normal", "mean": _written(law.mean(), unit), "sd": _written(law.std(), unit)})
    counts = range(low, high + 1)
    weights = [float(law.pmf(count)) for count in counts]
    return Read({"dist": "discrete", "values": [_written(count, unit) for count in counts], "weights": weights})


def _poisson(value: Value, unit: str | None) -> Read:
    mean = _number(value, "mean")
    return Read({"dist": "poisson", "mean": mean}) if unit is None else _counted(stats.poisson(mean), unit)


def _binomial(value: Value, unit: str | None) -> Read:
    return _counted(stats.binom(round(_number(value, "trials")), _number(value, "probability")), unit)


def _user(value: Value, unit: str | None) -> Read:
    points = [(weight, _read(inner, unit).value) for weight, inner in value.points if weight > 0]
    weights, values = [weight for weight, _ in points], [inner for _, inner in points]
    if not points or len(points) > MOST_POINTS:
        raise ValueError(value)
    if value.attributes.get("discrete") == "true":
        return Read({"dist": "discrete", "values": values, "weights": weights})
    if max(weights) - min(weights) < 1e-9 * max(weights):
        return Read({"dist": "empirical", "values": values})
    note = "has points of unlike weight with values between them; the points alone are taken"
    return Read({"dist": "discrete", "values": values, "weights": weights}, note)


def _one_of(value: Value, unit: str | None) -> Read:
    values = [_read(inner, unit).value for _, inner in value.points]
    if not values or len(values) > MOST_POINTS:
        raise ValueError(value)
    note = "lists values to be taken in turn; they are drawn at random, each as likely"
    return Read({"dist": "discrete", "values": values, "weights": [1] * len(values)}, note)


_MAKERS: dict[str, Maker] = {
    "NumericParameter": _constant,
    "FloatingParameter": _constant,
    "DurationParameter": _duration,
    "NegativeExponentialDistribution": _named("exponential", mean="mean"),
    "NormalDistribution": _named("normal", mean="mean", sd="standardDeviation"),
    "LogNormalDistribution": _named("lognormal", mean="mean", sd="standardDeviation"),
    "TriangularDistribution": _named("triangular", low="min", mode="mode", high="max"),
    "UniformDistribution": _named("uniform", low="min", high="max"),
    "GammaDistribution": _gamma,
    "ErlangDistribution": _erlang,
    "WeibullDistribution": _weibull,
    "BetaDistribution": _beta,
    "TruncatedNormalDistribution": _truncated,
    "PoissonDistribution": _poisson,
    "BinomialDistribution": _binomial,
    "UserDistribution": _user,
    "EnumParameter": _one_of,
}


def trait_of(value: Value) -> Read:
    """Return what a trait starts with: a category, chances of several, or a number; raises Unreadable."""
    if value.kind in ("StringParameter", "BooleanParameter"):
        return Read(text_of(value)[:LONGEST])
    if value.points and all(inner.kind in ("StringParameter", "BooleanParameter") for _, inner in value.points):
        shares: dict[str, float] = {}
        for weight, inner in value.points:
            shares[text_of(inner)[:LONGEST]] = shares.get(text_of(inner)[:LONGEST], 0.0) + weight
        total = sum(shares.values())
        if total <= 0:
            raise Unreadable("has no value that can come")
        is_whole = abs(total - 1) < 1e-9
        return Read({"shares": shares if is_whole else {name: share / total for name, share in shares.items()}})
    return number_of(value)


def is_nothing(value: Any) -> bool:
    """Say whether a distribution is a constant of zero."""
    return isinstance(value, str | int | float) and plain_number(value) == 0


def added(times: list[Any]) -> Read:
    """Return one distribution for the sum of several: a gamma distribution with its mean and spread if need be."""
    some = [each for each in times if not is_nothing(each)]
    if len(some) <= 1:
        return Read(some[0] if some else "0 min")
    if all(isinstance(each, str) for each in some):
        return Read(as_duration(sum(minutes(each) for each in some)))
    shapes = [read_distribution(each, Measure.TIME) for each in some]
    mean = sum(mean_of(each) for each in shapes)
    variance = sum(sd_of(each) ** 2 for each in shapes)
    if variance <= 0:
        return Read(as_duration(mean))
    told = {"dist": "gamma", "mean": in_unit(mean, "min", 6), "sd": in_unit(variance**0.5, "min", 6)}
    return Read(told, "has several times that add up; a gamma distribution has their mean and spread")
