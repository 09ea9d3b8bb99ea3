"""Times as the standards write them (ISO 8601), in minutes and as durations of a study."""

import re
from collections.abc import Iterator
from decimal import Decimal, localcontext

from flowcore.study.durations import DAY, HOUR, MINUTES_PER_UNIT, in_unit, minutes, unit_of

DIGITS = 12
EXACT = 100
"""So many digits have sums of whatever a period or a duration can say."""
UNITS = {"ms": 1 / 60_000, "s": 1 / 60, "min": 1.0, "hour": HOUR, "day": DAY, "year": 365 * DAY}
"""BPSim's units of time, in minutes."""
OURS = {"s": "s", "min": "min", "h": "hour", "d": "day"}
"""BPSim's units by those of a study; a week has none there."""
_NUMBER = r"(\d{1,15}(?:[.,]\d{1,30})?)"
_PERIOD = re.compile(
    rf"P(?:{_NUMBER}Y)?(?:{_NUMBER}M)?(?:{_NUMBER}W)?(?:{_NUMBER}D)?"
    rf"(?:T(?:{_NUMBER}H)?(?:{_NUMBER}M)?(?:{_NUMBER}S)?)?"
)
SECONDS = {"year": 31_536_000, "month": 2_592_000, "wk": 604_800, "d": 86_400, "h": 3600, "min": 60, "s": 1}
"""Of what a period counts, the largest first: a month is taken for 30 days, a year for 365."""
_LETTERS = {"d": ("D", 24), "h": ("H", 60), "min": ("M", 60), "s": ("S", 1)}
"""How a period writes a unit, and how many of the next one it has."""


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
    """Write a duration of a study as a period that `from_period` reads as that duration again.

    XML Schema's durations have no weeks, and fractions of seconds alone: 1.5 h is `PT1H30M`, 4 wk is `P28DT0H`.
    """
    unit = unit_of(text)
    number = Decimal(text.strip().removesuffix(unit).strip())
    with localcontext(prec=EXACT):
        parts = list(_parts_of(number * 7, "d") if unit == "wk" else _parts_of(number, unit))
    date, time = (parts[:1], parts[1:]) if unit in ("d", "wk") else ([], parts)
    if unit == "wk" and not time:
        time = ["0H"]
    return "P" + "".join(date) + ("T" + "".join(time) if time else "")


def _parts_of(left: Decimal, unit: str) -> Iterator[str]:
    """Yield so many of a unit as whole ones, and what is left in smaller units."""
    for each, (letter, below) in _LETTERS.items():
        if SECONDS[each] > SECONDS[unit]:
            continue
        whole = left if below == 1 else left // 1
        yield f"{whole.normalize():f}{letter}"
        left = (left - whole) * below
        if not left:
            return


def from_period(text: str) -> str | None:
    """Return a period in the largest of its units in which it is a short number, else in its smallest."""
    found = _PERIOD.fullmatch(text.strip())
    if found is None or not any(found.groups()):
        return None
    parts = {unit: Decimal(each.replace(",", ".")) for unit, each in zip(SECONDS, found.groups(), strict=True) if each}
    with localcontext(prec=EXACT):
        total = sum((number * SECONDS[unit] for unit, number in parts.items()), Decimal(0))
        return _in_a_unit(parts, total) or as_duration(float(total) / 60)


def _in_a_unit(parts: dict[str, Decimal], total: Decimal) -> str | None:
    """Return so many seconds, told in parts, as one number of a unit; None where it is long or they are no such units.

    The parts are those of a period by their units, the largest first.
    """
    if not parts.keys() <= MINUTES_PER_UNIT.keys():
        return None
    in_weeks = list(parts) == ["d", "h"] and not parts["h"] and total % SECONDS["wk"] == 0
    for unit in ("wk",) if in_weeks else (next(iter(parts)), next(reversed(parts))):
        number = round(total / SECONDS[unit], DIGITS)
        if number * SECONDS[unit] == total:
            return f"{number.normalize():f} {unit}"
    return None
