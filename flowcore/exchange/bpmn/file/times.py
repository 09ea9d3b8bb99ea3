"""Times as the standards write them (ISO 8601), in minutes and as durations of a study."""

import re

from flowcore.study.durations import DAY, HOUR, MINUTES_PER_UNIT, WEEK, in_unit, minutes, short_number, unit_of

DIGITS = 12
MONTH, YEAR = 30 * DAY, 365 * DAY
UNITS = {"ms": 1 / 60_000, "s": 1 / 60, "min": 1.0, "hour": HOUR, "day": DAY, "year": YEAR}
"""BPSim's units of time, in minutes."""
OURS = {"s": "s", "min": "min", "h": "hour", "d": "day"}
"""BPSim's units by those of a study; a week has none there."""
_NUMBER = r"(\d+(?:[.,]\d+)?)"
_PERIOD = re.compile(
    rf"P(?:{_NUMBER}Y)?(?:{_NUMBER}M)?(?:{_NUMBER}W)?(?:{_NUMBER}D)?"
    rf"(?:T(?:{_NUMBER}H)?(?:{_NUMBER}M)?(?:{_NUMBER}S)?)?"
)
_PARTS = (YEAR, MONTH, WEEK, DAY, HOUR, 1.0, 1 / 60)


def period_minutes(text: str) -> float | None:
    """Return an ISO 8601 period such as `PT15M` in minutes, a month taken for 30 days; None where it is none."""
    found = _PERIOD.fullmatch(text.strip())
    if found is None or not any(found.groups()):
        return None
    numbers = (float(each.replace(",", ".")) if each else 0.0 for each in found.groups())
    return sum(number * part for number, part in zip(numbers, _PARTS, strict=True))


def from_cycle(text: str) -> tuple[str | None, int | None]:
    """Return how far apart a cycle such as `R5/PT1H` repeats, and how often; None where it does not say."""
    parts = text.strip().split("/")
    times = parts[0][1:] if parts[0].startswith("R") else ""
    every = next((found for part in parts if (found := from_period(part)) is not None and minutes(found) > 0), None)
    return every, int(times[:6]) if times.isdigit() else None


def as_duration(total: float) -> str:
    """Write minutes as a study does, in the largest unit in which they are a short number."""
    for unit in ("wk", "d", "h"):
        if total >= MINUTES_PER_UNIT[unit] and (total / MINUTES_PER_UNIT[unit] * 4).is_integer():
            return in_unit(total, unit, DIGITS)
    return in_unit(total, "s" if 0 < total < 1 else "min", DIGITS)


def as_period(text: str) -> str:
    """Write a duration of a study as an ISO 8601 period that keeps its number and its unit."""
    number = short_number(minutes(text) / MINUTES_PER_UNIT[unit_of(text)], DIGITS)
    letter = {"s": "S", "min": "M", "h": "H", "d": "D", "wk": "W"}[unit_of(text)]
    return f"P{number}{letter}" if letter in "DW" else f"PT{number}{letter}"


def from_period(text: str) -> str | None:
    """Return a period of one part as a duration in its own unit, another in the unit that suits it."""
    found = re.fullmatch(r"P(T?)(\d+(?:\.\d+)?)([SMHDW])", text.strip())
    if found is not None and (found[1] == "T") == (found[3] in "SMH"):
        return f"{found[2]} " + {"S": "s", "M": "min", "H": "h", "D": "d", "W": "wk"}[found[3]]
    total = period_minutes(text)
    return None if total is None else as_duration(total)
