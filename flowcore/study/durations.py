"""Durations as the study file writes them: a number and a unit, such as "3 min"."""

import re
from typing import Annotated

import numpy as np
from pydantic import AfterValidator, WithJsonSchema
from typing_extensions import TypeAliasType

from flowcore.problems import trouble

HOUR, DAY, WEEK = 60.0, 1440.0, 10080.0
"""In minutes."""
PERIODS = {"day": DAY, "week": WEEK, "month": 365.25 / 12 * DAY}
MINUTES_PER_UNIT = {"s": 1 / 60, "min": 1.0, "h": HOUR, "d": DAY, "wk": WEEK}
LONGEST = 40
_SHAPE = re.compile(r"\s*(-?\d+(?:\.\d+)?)\s*([a-z]*)\s*")


def minutes(text: str) -> float:
    """Return a written time in minutes; `"90 s"` is 1.5 and `"-5 min"`, which is early, is -5.

    Raises a validation error that says what to write instead.
    """
    if len(text) > LONGEST:
        raise trouble(f'"{text[:LONGEST]}…" is too long for a duration.', f"Write it in {LONGEST} characters or fewer.")
    match = _SHAPE.fullmatch(text)
    if match is None:
        raise trouble(f'"{text}" is not a duration.', 'Write a number and a unit, such as "3 min".')
    number, unit = match.groups()
    if not unit:
        raise trouble(f'"{text}" has no unit.', f'Write the unit too, such as "{number} min".')
    if unit not in MINUTES_PER_UNIT:
        known = ", ".join(MINUTES_PER_UNIT)
        raise trouble(f'"{text}" has the unknown unit "{unit}".', f"Use one of {known}.")
    return float(number) * MINUTES_PER_UNIT[unit]


def plain_number(value: float | str) -> float:
    """Return a plain number as it is, and a written time in minutes."""
    return minutes(value) if isinstance(value, str) else value


def is_time(text: str) -> bool:
    """Say whether a text is a time with a unit, which may be negative."""
    match = _SHAPE.fullmatch(text)
    return match is not None and match[2] in MINUTES_PER_UNIT


def periods_in(counted: float, per: str | None) -> float:
    """Return how many days, weeks or months so many minutes are; 1 where nothing is told by these."""
    return 1.0 if per is None else counted / PERIODS[per]


def unit_of(text: str) -> str:
    """Return the unit of a written time."""
    return text.strip().lstrip("-0123456789. ")


def in_unit(total: float, unit: str, digits: int) -> str:
    """Write minutes in a unit, with so many digits that count."""
    return f"{short_number(total / MINUTES_PER_UNIT[unit], digits)} {unit}"


def short_number(number: float, digits: int) -> str:
    """Write a number with so many digits that count, and no more places than it has."""
    return str(np.format_float_positional(float(f"{number:.{digits}g}"), trim="-"))


def spoken(minutes: float) -> str:
    """Write minutes in full words: "20 seconds", "5.6 minutes", hours from two on, and days from two on."""
    if minutes < 1.5:
        seconds = round(minutes * 60)
        return f"{seconds} second{'' if seconds == 1 else 's'}"
    if minutes < 2 * HOUR:
        return f"{minutes:.1f} minutes" if minutes < 10 else f"{minutes:.0f} minutes"
    return f"{minutes / HOUR:.1f} hours" if minutes < 2 * DAY else f"{minutes / DAY:.1f} days"


def _readable(text: str) -> str:
    minutes(text)
    return text


def _not_negative(text: str) -> str:
    if minutes(text) < 0 or text.strip().startswith("-"):
        raise trouble(f'"{text}" is below zero.', "A duration is zero or more.")
    return text


_UNITS = r"\s*(s|min|h|d|wk)\s*$"

Duration = TypeAliasType(
    "Duration",
    Annotated[
        str,
        AfterValidator(_not_negative),
        WithJsonSchema(
            {
                "type": "string",
                "maxLength": LONGEST,
                "pattern": r"^\s*\d+(\.\d+)?" + _UNITS,
                "examples": ["90 s", "3 min", "1.5 h", "2 d", "4 wk"],
            }
        ),
    ],
)

Offset = TypeAliasType(
    "Offset",
    Annotated[
        str,
        AfterValidator(_readable),
        WithJsonSchema(
            {
                "type": "string",
                "maxLength": LONGEST,
                "pattern": r"^\s*-?\d+(\.\d+)?" + _UNITS,
                "examples": ["-5 min", "3 min"],
            }
        ),
    ],
)
"""A time before (negative) or after something planned."""
