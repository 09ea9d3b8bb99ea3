"""What a lever does to the places that it drives, and the values that it can have."""

import math
from typing import Any

from flowcore.study.durations import in_unit, is_time, minutes, unit_of
from flowcore.study.runs import Lever

DIGITS = 12
NOT_SCALED = {"dist", "k", "shape", "weights"}
"""What of a distribution is no quantity: its family, and what shapes it."""
WHOLE = {"size", "people", "places", "count", "max", "balk_at", "limit", "lets_go", "reserve", "completed"}
"""Keys whose value is a whole number."""
MOST_VALUES = 500


def moved(lever: Lever, key: str, before: Any, value: Any) -> Any:
    """Return what stands at one place, under a key, once a lever has a value: the value, or `before` times the value.

    Where a whole stream is scaled, so many times as many cases come. Raises ValueError where it cannot be scaled.
    """
    if not lever.scales:
        return value
    if isinstance(value, bool) or not isinstance(value, int | float) or value <= 0:
        raise ValueError(f"{key} cannot be scaled by {value}")
    if isinstance(before, dict) and "kind" in before:
        return _with_arrivals(before, value)
    if not _can_be_scaled(before):
        raise ValueError(f"{key} cannot be scaled by {value}")
    after = scaled(before, value)
    return _whole(after) if key in WHOLE else after


def scaled(value: Any, factor: float) -> Any:
    """Return a number, a duration, or all those inside a value, times a factor; the rest stays.

    `tests/shared/levers.json` holds this law for both languages.
    """
    if isinstance(value, dict):
        return {key: each if key in NOT_SCALED else scaled(each, factor) for key, each in value.items()}
    if isinstance(value, list):
        return [scaled(each, factor) for each in value]
    if isinstance(value, str) and is_time(value):
        return in_unit(minutes(value) * factor, unit_of(value), DIGITS)
    if isinstance(value, int | float) and not isinstance(value, bool):
        return _rounded(value * factor)
    return value


def _can_be_scaled(value: Any) -> bool:
    """Say whether something is or has a number or a duration."""
    if isinstance(value, dict):
        return any(_can_be_scaled(each) for key, each in value.items() if key not in NOT_SCALED)
    if isinstance(value, list):
        return any(_can_be_scaled(each) for each in value)
    return is_time(value) if isinstance(value, str) else isinstance(value, int | float) and not isinstance(value, bool)


def values_of(lever: Lever) -> list[Any]:
    """Return the values that a lever is meant to have: those listed, or those of its range, both ends among them."""
    if lever.values or lever.low is None or lever.high is None:
        return lever.values
    if isinstance(lever.low, str):
        unit = unit_of(lever.low)
        low, high = minutes(lever.low), minutes(str(lever.high))
        step = minutes(lever.step) if isinstance(lever.step, str) else (high - low) or 1.0
        return [in_unit(each, unit, DIGITS) for each in _range(low, high, step)]
    low, high = float(lever.low), float(lever.high)
    return [_rounded(each) for each in _range(low, high, float(lever.step or 1))]


def _range(low: float, high: float, step: float) -> list[float]:
    many = min(math.floor((high - low) / step + 1e-9) + 1, MOST_VALUES)
    return [low + n * step for n in range(many)]


def _with_arrivals(stream: dict[str, Any], factor: float) -> dict[str, Any]:
    """Return a stream that brings so many times as many cases."""
    match stream:
        case {"kind": "profile", "week": week}:
            return stream | {"week": scaled(week, factor)}
        case {"kind": "random", "gap": gap} if gap is not None:
            return stream | {"gap": scaled(gap, 1 / factor)}
        case {"kind": "random", "chance": {"probability": probability} as chance}:
            return stream | {"chance": chance | {"probability": min(1.0, _rounded(probability * factor))}}
        case {"kind": "appointments", "sessions": sessions}:
            return stream | {"sessions": [each | {"every": scaled(each["every"], 1 / factor)} for each in sessions]}
    raise ValueError(f"{stream.get('id')} cannot be scaled")


def _rounded(number: float) -> int | float:
    short = float(f"{number:.{DIGITS}g}")
    return int(short) if short.is_integer() and abs(short) < 2**53 else short


def _whole(value: Any) -> Any:
    return math.floor(value + 0.5) if isinstance(value, int | float) else value
