"""Lone events put together to visits: a case comes to a step, work begins, pauses, goes on and ends."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from flowcore.logs.roles import Happening
from flowcore.logs.visits import Numbers, Outcome, Places

HAPPENINGS: tuple[Happening, ...] = tuple(each for each in Happening if each is not Happening.NOTHING)
"""In the order of the numbers by which they are told."""
_NUMBER = {each: number for number, each in enumerate(HAPPENINGS)}
_OVER = (Happening.ENDED, Happening.GAVE_UP, Happening.TURNED_AWAY)
_AT_WORK = (Happening.BEGAN, Happening.RESUMED)


def _begins_another() -> np.ndarray:
    """Return, by what was heard last of a case at a step and what is heard now, whether it is there anew."""
    table = np.zeros((len(HAPPENINGS), len(HAPPENINGS)), np.bool_)
    for before, at in _NUMBER.items():
        for now, to in _NUMBER.items():
            after_work = before is Happening.WORKED and now is not Happening.ENDED
            came_again = now is Happening.CAME and before is not Happening.CAME
            began_again = now is Happening.BEGAN and before in _AT_WORK
            table[at, to] = before in _OVER or after_work or came_again or began_again
    return table


BEGINS_ANOTHER = _begins_another()


@dataclass(frozen=True)
class Events:
    """What happened to cases at steps, with whom, when and by which line; shape (events,) each.

    `happened` are places in HAPPENINGS.
    """

    case: Places
    step: Places
    who: Places
    at: Numbers
    happened: Places
    line: Places

    def __len__(self) -> int:
        return len(self.case)

    def only(self, which: NDArray[np.intp] | NDArray[np.bool_]) -> "Events":
        """Return some of the events."""
        return Events(**{name: column[which] for name, column in vars(self).items()})

    def told_once(self) -> "Events":
        """Return the events by case, step and time, without those that say what the one before them says."""
        events = self.only(np.lexsort((self.line, self.at, self.step, self.case)))
        same = np.ones(max(0, len(events) - 1), np.bool_)
        for column in (events.case, events.step, events.at, events.happened, events.who):
            same &= column[1:] == column[:-1]
        return events.only(~np.append(False, same)[: len(events)])


def paired(events: Events) -> dict[str, np.ndarray]:
    """Return the columns of visits that events make, by name: what follows each other of a case at a step is one.

    The events are told once, in their order. A second begin without an end between, or a second coming, begins another
    visit, so that what is missing stays so.
    """
    case, step, at = events.case, events.step, events.at
    who, happened, line = events.who, events.happened, events.line
    is_other = np.append(True, (case[1:] != case[:-1]) | (step[1:] != step[:-1]))[: len(case)]
    is_new = is_other | np.append(True, BEGINS_ANOTHER[happened[:-1], happened[1:]])[: len(case)]
    visit = np.cumsum(is_new) - 1
    begins = np.flatnonzero(is_new)
    many = len(begins)

    def first(*wanted: Happening) -> Numbers:
        found = np.full(many, np.inf)
        meant = np.isin(happened, [_NUMBER[each] for each in wanted])
        np.minimum.at(found, visit[meant], at[meant])
        return np.where(np.isinf(found), np.nan, found)

    def total(wanted: Happening) -> tuple[np.ndarray, np.ndarray]:
        meant = happened == _NUMBER[wanted]
        return np.bincount(visit[meant], at[meant], many), np.bincount(visit[meant], minlength=many)

    outcome = np.zeros(many, np.int8)
    for happening, meant in ((Happening.GAVE_UP, Outcome.GAVE_UP), (Happening.TURNED_AWAY, Outcome.TURNED_AWAY)):
        outcome[visit[happened == _NUMBER[happening]]] = meant
    (pauses, times_paused), (ends, times_resumed) = total(Happening.PAUSED), total(Happening.RESUMED)
    known_by = np.full(many, -1, np.int32)
    np.maximum.at(known_by, visit, who)
    worked, ended = first(Happening.WORKED), first(*_OVER)
    return {
        "case": case[begins],
        "step": step[begins],
        "who": known_by,
        "came": first(Happening.CAME),
        "began": first(Happening.BEGAN),
        "ended": np.where(np.isnan(worked), ended, worked),
        "paused": np.where(times_paused == times_resumed, ends - pauses, 0.0),
        "outcome": outcome,
        "line": line[begins],
    }
