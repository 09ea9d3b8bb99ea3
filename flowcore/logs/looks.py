"""A log at a glance: its cases, steps, ways and people, how long all takes, and when who comes."""

from collections import Counter
from collections.abc import Iterator
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Numbers, Outcome, Visits
from flowcore.study.durations import DAY, WEEK

MOST_VARIANTS = 60
MOST_PEOPLE = 300
BINS = 24
AGAIN = 0.01
TOGETHER = 0.5
EPOCH = datetime(1970, 1, 1)


class StepLook(BaseModel):
    """A step of a log: how often cases are there, of these how many give up, and how long it takes in minutes.

    `work` and `wait` are the times that 50 and 90 % do not exceed, None where none is known.
    """

    name: str
    visits: int
    cases: int
    people: int
    gave_up: int
    work: tuple[float, float] | None
    wait: tuple[float, float] | None


class Variant(BaseModel):
    """A way that cases go, by the places of its steps, and how many go it."""

    steps: list[int]
    cases: int


class PersonLook(BaseModel):
    """Who works: how many visits, on how many days, and usually from when until when (minutes of a day)."""

    name: str
    visits: int
    days: int
    begins: float
    ends: float


class LogLook(BaseModel):
    """A log at a glance.

    `by_hour` are arrivals in each hour of a week from Monday on, on average of the `weeks` that the log spans, shape
    (168,); `quiet` are dates on which nobody came although others of that weekday are busy. `noticed` says in sentences
    where cases come again, and where several are dealt with at once. `edges` and `total` are how long cases are there,
    in shares between edges (minutes).
    """

    visits: int
    cases: int
    first: str
    last: str
    weeks: float
    steps: list[StepLook]
    types: dict[str, int]
    variants: list[Variant]
    many_variants: int
    people: list[PersonLook]
    many_people: int
    by_hour: list[float]
    quiet: list[str]
    noticed: list[str]
    edges: list[float]
    total: list[float]


def look_at(visits: Visits) -> LogLook:
    """Return a log at a glance; raises ValueError where it has no visit."""
    if not len(visits):
        raise ValueError("a log without visits")
    arrived = visits.arrived[~np.isnan(visits.arrived)]
    first, last = float(np.nanmin(visits.first)), float(np.nanmax(visits.last))
    variants = ways_of(visits)
    people = Counter(visits.who[visits.who >= 0].tolist())
    edges, total = _shares_of(_totals(visits))
    return LogLook(
        visits=len(visits),
        cases=len(arrived),
        first=in_words(first),
        last=in_words(last),
        weeks=(last - first) / WEEK,
        steps=[_step(visits, number) for number in range(len(visits.steps))],
        types=_types(visits),
        variants=[Variant(steps=list(way), cases=cases) for way, cases in variants.most_common(MOST_VARIANTS)],
        many_variants=len(variants),
        people=[_person(visits, number) for number, _ in people.most_common(MOST_PEOPLE)],
        many_people=len(people),
        by_hour=_by_hour(arrived).tolist(),
        quiet=_quiet(arrived),
        noticed=[*_done_again(visits), *_done_together(visits)],
        edges=edges,
        total=total,
    )


def in_words(minute: float) -> str:
    """Write minutes since 1970 as a date and a time."""
    return (EPOCH + timedelta(minutes=round(minute))).isoformat(timespec="minutes")


def ways_of(visits: Visits) -> Counter[tuple[int, ...]]:
    """Return how many cases go each way, by the places of its steps."""
    begins = np.flatnonzero(visits.is_first_of_case)
    bounds = [*begins.tolist(), len(visits)]
    steps = np.ascontiguousarray(visits.step, np.int32)
    packed = Counter(steps[a:b].tobytes() for a, b in pairwise(bounds))
    return Counter({tuple(np.frombuffer(way, np.int32).tolist()): cases for way, cases in packed.items()})


def waits_of(visits: Visits) -> Numbers:
    """Return how long each visit waited, in minutes: from when it came, or from the end of its case's visit before.

    Who gave up waited until then. NaN where it is not known.
    """
    before = np.append(np.nan, visits.ended[:-1])[: len(visits)]
    since = np.where(np.isnan(visits.came), np.where(visits.is_first_of_case, np.nan, before), visits.came)
    until = np.where(visits.outcome == Outcome.GAVE_UP, visits.ended, visits.began)
    return until - since


def _step(visits: Visits, number: int) -> StepLook:
    here = visits.step == number
    return StepLook(
        name=visits.steps[number],
        visits=int(here.sum()),
        cases=len(np.unique(visits.case[here])),
        people=len(np.unique(visits.who[here & (visits.who >= 0)])),
        gave_up=int((visits.outcome[here] == Outcome.GAVE_UP).sum()),
        work=_middle_and_most(visits.work[here & (visits.outcome == Outcome.SERVED)]),
        wait=_middle_and_most(waits_of(visits)[here]),
    )


def _middle_and_most(times: Numbers) -> tuple[float, float] | None:
    known = times[times >= 0]
    if not len(known):
        return None
    middle, most = np.quantile(known, (0.5, 0.9)).tolist()
    return middle, most


def _types(visits: Visits) -> dict[str, int]:
    there = visits.type[np.unique(visits.case)]
    counts = np.bincount(there[there >= 0], minlength=len(visits.types)).tolist()
    return dict(zip(visits.types, counts, strict=True))


def _person(visits: Visits, number: int) -> PersonLook:
    here = visits.who == number
    first, last = _work_days(visits, here)
    return PersonLook(
        name=visits.people[number],
        visits=int(here.sum()),
        days=len(first),
        begins=float(np.median(first)) if len(first) else 0.0,
        ends=float(np.median(last)) if len(last) else 0.0,
    )


def _work_days(visits: Visits, which: NDArray[np.bool_]) -> tuple[Numbers, Numbers]:
    """Return from when until when some visits' work goes on on each day that has any, in minutes of the day."""
    begins = np.fmin(visits.began, visits.ended)[which]
    ends = np.fmax(visits.began, visits.ended)[which]
    known = ~np.isnan(begins)
    days = (begins[known] // DAY).astype(int)
    each, places = np.unique(days, return_inverse=True)
    first, last = np.full(len(each), np.inf), np.full(len(each), -np.inf)
    np.minimum.at(first, places, begins[known] - days * DAY)
    np.maximum.at(last, places, ends[known] - days * DAY)
    return first, last


def _totals(visits: Visits) -> Numbers:
    """Return how long each case is there."""
    last = np.full(len(visits.cases), np.nan)
    np.fmax.at(last, visits.case, visits.last)
    times = last - visits.arrived
    return times[times >= 0]


def _shares_of(times: Numbers) -> tuple[list[float], list[float]]:
    if not len(times):
        return [0.0, 1.0], [0.0]
    edges = np.linspace(0.0, float(np.quantile(times, 0.98)) or 1.0, BINS + 1)
    return edges.tolist(), (np.histogram(times, edges)[0] / len(times)).tolist()


def _by_hour(arrived: Numbers) -> Numbers:
    days = (arrived // DAY).astype(int)
    hours = weekdays(days) * 24 + (arrived % DAY // 60).astype(int)
    of_weekday = np.bincount(weekdays(np.arange(days.min(), days.max() + 1)), minlength=7)
    return np.bincount(hours, minlength=168) / np.maximum(1, np.repeat(of_weekday, 24))


def _quiet(arrived: Numbers) -> list[str]:
    """Return dates without anybody of weekdays on which somebody comes more often than not."""
    days = np.unique(arrived // DAY).astype(int)
    spanned = np.arange(days[0], days[-1] + 1)
    weekday = weekdays(spanned)
    busy = np.isin(spanned, days)
    share = np.array([busy[weekday == each].mean() if (weekday == each).any() else 0.0 for each in range(7)])
    missing = spanned[~busy & (share[weekday] > 0.5)]
    return [(EPOCH + timedelta(days=int(day))).date().isoformat() for day in missing]


def _done_again(visits: Visits) -> Iterator[str]:
    """Yield at which steps some cases are more than once."""
    for place, name in enumerate(visits.steps):
        of_case = np.bincount(visits.case[visits.step == place])
        cases, again = int((of_case > 0).sum()), int((of_case > 1).sum())
        if again >= AGAIN * cases and again > 1:
            yield f"{100 * again / cases:.0f} % of the cases at {name} come there more than once."


def _done_together(visits: Visits) -> Iterator[str]:
    """Yield at which steps cases are mostly dealt with several at once: begun and ended at the same moment."""
    for place, name in enumerate(visits.steps):
        here = (visits.step == place) & (visits.work > 0)
        if not here.any():
            continue
        sizes = _alike(visits.began[here], visits.ended[here], visits.who[here])
        if sizes[sizes > 1].sum() > TOGETHER * here.sum():
            yield f"At {name} mostly several cases are dealt with at once, {sizes[sizes > 1].mean():.1f} on average."


def _alike(*columns: NDArray[Any]) -> NDArray[np.int_]:
    """Return how many rows there are of each kind that is the same in all columns."""
    order = np.lexsort(columns)
    other = np.zeros(len(order), np.bool_)
    for column in columns:
        inside = column[order]
        other[1:] |= inside[1:] != inside[:-1]
    starts = np.append(0, np.flatnonzero(other))
    return np.diff(np.append(starts, len(order)))
