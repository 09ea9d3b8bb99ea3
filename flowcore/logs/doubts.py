"""What in a log cannot be right or is doubtful, and what is done about it, so that it can be done again."""

from collections.abc import Callable
from dataclasses import replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.logs.roles import Chosen
from flowcore.logs.visits import COLUMNS, Numbers, Outcome, Visits

Which = NDArray[np.bool_]
MOST_LINES = 20
FEWEST = 20
"""Of fewer times nothing is said about which are unusually long."""
FAR = 3.0
"""So many widths of the middle half beyond it a logarithm is unusual. Source: Tukey, Exploratory Data Analysis."""
SOONEST = 0.02
"""This share of waits, the shortest, tells how a clock goes: somebody is always called at once."""
LATE = 0.25
"""From so many minutes on a clock is late."""


class Choice(StrEnum):
    """What is done about doubtful visits: they are left out, what is wrong is set right, or all stays as it is."""

    LEAVE_OUT = "leave-out"
    SET_RIGHT = "set-right"
    KEEP = "keep"


class Treatment(Chosen):
    """What is done about each kind of doubt, in the order in which it is done."""

    double: Choice = Choice.LEAVE_OUT
    late_clock: Choice = Choice.SET_RIGHT
    backwards: Choice = Choice.LEAVE_OUT
    no_begin: Choice = Choice.KEEP
    no_end: Choice = Choice.KEEP
    very_long: Choice = Choice.KEEP


class Doubt(BaseModel):
    """A kind of doubt in words: how many visits it is about, on which lines some of them stand, what can be done."""

    kind: str
    words: str
    many: int
    lines: list[int]
    choices: list[Choice]
    chosen: Choice


def doubts_in(visits: Visits, treatment: Treatment) -> list[Doubt]:
    """Return what is doubtful, each after what is done about the doubts before it."""
    found = []
    for kind, rule in _RULES.items():
        which = rule.meant(visits)
        chosen: Choice = getattr(treatment, kind)
        if which.any():
            lines = np.sort(visits.line[which])[:MOST_LINES].tolist()
            words = rule.words(visits)
            found.append(
                Doubt(
                    kind=kind,
                    words=words,
                    many=int(which.sum()),
                    lines=lines,
                    choices=list(rule.choices),
                    chosen=chosen,
                )
            )
        visits = rule.done(visits, which, chosen)
    return found


def treated(visits: Visits, treatment: Treatment) -> Visits:
    """Return the visits once everything has been done about what is doubtful."""
    for kind, rule in _RULES.items():
        visits = rule.done(visits, rule.meant(visits), getattr(treatment, kind))
    return visits


class _Rule:
    """A kind of doubt: which visits it is about, what it is called, and how it is set right."""

    def __init__(
        self,
        meant: Callable[[Visits], Which],
        words: Callable[[Visits], str],
        right: Callable[[Visits, Which], Visits] | None = None,
    ) -> None:
        self.meant, self.words, self._right = meant, words, right

    @property
    def choices(self) -> tuple[Choice, ...]:
        return tuple(each for each in Choice if each is not Choice.SET_RIGHT or self._right)

    def done(self, visits: Visits, which: Which, choice: Choice) -> Visits:
        if choice is Choice.KEEP or not which.any():
            return visits
        if choice is Choice.SET_RIGHT and self._right:
            return self._right(visits, which)
        return visits.only(~which)


def _double(visits: Visits) -> Which:
    """Whether each visit is the same as the one before it in everything but its line."""
    same = np.ones(max(0, len(visits) - 1), np.bool_)
    for name in COLUMNS:
        if name != "line":
            column = getattr(visits, name)
            same &= (column[1:] == column[:-1]) | ((column[1:] != column[1:]) & (column[:-1] != column[:-1]))
    return np.append(False, same)[: len(visits)]


def _lateness(visits: Visits) -> Numbers:
    """Return by how many minutes the clock of each person, or place, is late; shape (people,)."""
    waits = visits.began - visits.came
    late = np.zeros(len(visits.people))
    for number in range(len(visits.people)):
        known = waits[(visits.who == number) & ~np.isnan(waits)]
        if len(known) >= FEWEST:
            late[number] = max(0.0, -float(np.quantile(known, SOONEST)))
    return np.where(late > LATE, late, 0.0)


def _by_late_clock(visits: Visits) -> Which:
    late = _lateness(visits)
    return np.append(late, 0.0)[visits.who] > 0


def _clocks_in_words(visits: Visits) -> str:
    late = _lateness(visits)
    told = [f"{visits.people[n]} {late[n]:.0f} min" for n in np.flatnonzero(late)[:5]]
    return f"were timed by a clock that is late, as work begins before they come: {', '.join(told)}"


def _clocks_set(visits: Visits, which: Which) -> Visits:
    shift = np.where(which, np.append(_lateness(visits), 0.0)[visits.who], 0.0)
    return replace(visits, began=visits.began + shift, ended=visits.ended + shift).in_order()


def _backwards(visits: Visits) -> Which:
    with np.errstate(invalid="ignore"):
        return (visits.ended < visits.began) | (visits.began < visits.came) | (visits.ended < visits.came)


def _forwards(visits: Visits, which: Which) -> Visits:
    """Take the later time as that of what comes after, so that nothing takes less than no time."""
    began = np.where(which, np.fmax(visits.began, visits.came), visits.began)
    began = np.where(np.isnan(visits.began), visits.began, began)
    ended = np.where(which & ~np.isnan(visits.ended), np.fmax(np.fmax(visits.ended, began), visits.came), visits.ended)
    return replace(visits, began=began, ended=ended)


def _without_begin(visits: Visits) -> Which:
    served: Which = visits.outcome == Outcome.SERVED
    return np.isnan(visits.began) & served


def _without_end(visits: Visits) -> Which:
    return np.isnan(visits.ended) & ~np.isnan(visits.began)


def _longest_usual(visits: Visits) -> Numbers:
    """Return up to how long work at each step is usual, infinite where that is not known; shape (steps,)."""
    work = visits.work
    most = np.full(len(visits.steps), np.inf)
    for number in range(len(visits.steps)):
        known = work[(visits.step == number) & (work > 0)]
        if len(known) >= FEWEST:
            low, high = np.quantile(np.log(known), (0.25, 0.75))
            if high > low:
                most[number] = np.exp(high + FAR * (high - low))
    return most


def _very_long(visits: Visits) -> Which:
    with np.errstate(invalid="ignore"):
        found: Which = visits.work > _longest_usual(visits)[visits.step]
    return found


def _shortened(visits: Visits, which: Which) -> Visits:
    most = visits.began + visits.paused + _longest_usual(visits)[visits.step]
    return replace(visits, ended=np.where(which, most, visits.ended))


_RULES: dict[str, _Rule] = {
    "double": _Rule(_double, lambda visits: "are told twice"),
    "late_clock": _Rule(_by_late_clock, _clocks_in_words, _clocks_set),
    "backwards": _Rule(_backwards, lambda visits: "end before they begin, or begin before they come", _forwards),
    "no_begin": _Rule(_without_begin, lambda visits: "do not say when work began"),
    "no_end": _Rule(_without_end, lambda visits: "do not say when work ended"),
    "very_long": _Rule(_very_long, lambda visits: "are unusually long for their step", _shortened),
}
"""In the order in which they are treated: a clock is set before times are compared."""
