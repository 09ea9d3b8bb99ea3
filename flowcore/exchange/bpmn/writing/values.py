"""Times, numbers and distributions of a study as values of BPSim's parameters."""

from typing import Any

from flowcore.exchange.bpmn.file.times import DIGITS, OURS, as_period
from flowcore.exchange.bpmn.writing.elements import Element, below
from flowcore.study.case_types import Categories
from flowcore.study.distributions import AnyDistribution, mean_of, sd_of
from flowcore.study.distributions.discrete import Discrete
from flowcore.study.distributions.empirical import Empirical
from flowcore.study.distributions.shape import Shape
from flowcore.study.durations import MINUTES_PER_UNIT, minutes, short_number, unit_of

MIDDLES = [(2 * number + 1) / 40 for number in range(20)]
"""At which shares a family that BPSim does not have is told."""
_NAMES = {
    "exponential": ("NegativeExponentialDistribution", {"mean": "mean"}),
    "normal": ("NormalDistribution", {"mean": "mean", "sd": "standardDeviation"}),
    "lognormal": ("LogNormalDistribution", {"mean": "mean", "sd": "standardDeviation"}),
    "triangular": ("TriangularDistribution", {"low": "min", "mode": "mode", "high": "max"}),
    "uniform": ("UniformDistribution", {"low": "min", "high": "max"}),
    "erlang": ("ErlangDistribution", {"mean": "mean", "k": "k"}),
    "weibull": ("WeibullDistribution", {"scale": "scale", "shape": "shape"}),
    "poisson": ("PoissonDistribution", {"mean": "mean"}),
}


def write_time(parent: Element, value: AnyDistribution, valid_for: str | None = None) -> str:
    """Write a distribution of time below a parameter; return what of it is not kept, empty if nothing."""
    if isinstance(value, str):
        below(parent, "bpsim:DurationParameter", value=as_period(value), validFor=valid_for)
        return ""
    return _write(parent, value, _unit_of(value), valid_for)


def write_number(parent: Element, value: AnyDistribution) -> str:
    """Write a distribution of plain numbers below a parameter; return what of it is not kept, empty if nothing."""
    if isinstance(value, int | float):
        below(parent, "bpsim:FloatingParameter", value=plain(value))
        return ""
    return _write(parent, value, None, None)


def write_trait(parent: Element, value: Any) -> str:
    """Write what a trait starts with below a property; return what of it is not kept, empty if nothing."""
    if isinstance(value, str):
        below(parent, "bpsim:StringParameter", value=value)
    elif isinstance(value, Categories):
        chances = below(parent, "bpsim:UserDistribution", discrete=True)
        for name, share in value.shares.items():
            point = below(chances, "bpsim:UserDistributionDataPoint", probability=plain(share))
            below(point, "bpsim:StringParameter", value=name)
    else:
        return write_number(parent, value)
    return ""


def plain(number: float) -> str:
    """Write a number in full."""
    return short_number(number, 15)


def _unit_of(value: Any) -> str:
    """Return the unit in which a distribution is written: that of its first quantity, days for weeks."""
    quantities = value.model_dump(mode="json", exclude={"dist"}).values()
    flat = [part for each in quantities for part in (each if isinstance(each, list) else [each])]
    unit = next((unit_of(each) for each in flat if isinstance(each, str)), "min")
    return unit if unit in OURS else "d"


def _write(parent: Element, value: Any, unit: str | None, valid_for: str | None) -> str:
    common = {"timeUnit": OURS[unit] if unit else None, "validFor": valid_for}
    if value.dist in _NAMES:
        kind, names = _NAMES[value.dist]
        told = {theirs: _number(getattr(value, ours), unit) for ours, theirs in names.items()}
        below(parent, f"bpsim:{kind}", **told, **common)
        return ""
    if value.dist == "gamma":
        mean, sd = (float(_number(each, unit)) for each in (value.mean, value.sd))
        if sd > 0:
            told = {"shape": plain((mean / sd) ** 2), "scale": plain(sd**2 / mean)}
            below(parent, "bpsim:GammaDistribution", **told, **common)
            return ""
    return _write_points(parent, value, unit, common)


def _write_points(parent: Element, value: Shape[Any], unit: str | None, common: dict[str, str | None]) -> str:
    """Write a distribution by points: all of it, where it has points, else twenty; one that does not vary as it is."""
    if sd_of(value) == 0 and not isinstance(value, Discrete | Empirical):  # type: ignore[arg-type]
        mean = mean_of(value) / (MINUTES_PER_UNIT[unit] if unit else 1.0)  # type: ignore[arg-type]
        below(parent, "bpsim:FloatingParameter", value=short_number(mean, DIGITS), **common)
        return ""
    written = below(parent, "bpsim:UserDistribution", discrete=not isinstance(value, Empirical), **common)
    if isinstance(value, Discrete):
        total = sum(value.weights)
        weighed = zip(value.values, value.weights, strict=True)
        points = [(_number(each, unit), plain(weight / total)) for each, weight in weighed]
    elif isinstance(value, Empirical):
        points = [(_number(each, unit), plain(1 / len(value.values))) for each in value.values]
    else:
        per = MINUTES_PER_UNIT[unit] if unit else 1.0
        points = [(short_number(value.quantile(share) / per, DIGITS), "0.05") for share in MIDDLES]
    for number, probability in points:
        point = below(written, "bpsim:UserDistributionDataPoint", probability=probability)
        below(point, "bpsim:FloatingParameter", value=number, timeUnit=common["timeUnit"])
    return "" if isinstance(value, Discrete | Empirical) else f"BPSim has no {value.trade} distribution."


def _number(quantity: str | float, unit: str | None) -> str:
    """Write a quantity as a plain number, a time in the unit given."""
    if not isinstance(quantity, str):
        return plain(quantity)
    own = unit_of(quantity)
    if own == unit:
        return short_number(float(quantity.strip()[: -len(own)]), DIGITS)
    return short_number(minutes(quantity) / MINUTES_PER_UNIT[unit or "min"], DIGITS)
