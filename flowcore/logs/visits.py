"""What a log says of its cases: a visit for every time that one was at a step, in columns."""

from dataclasses import dataclass, field, replace
from enum import IntEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]
Places = NDArray[np.int32]


class Outcome(IntEnum):
    """How a visit went."""

    SERVED = 0
    GAVE_UP = 1
    TURNED_AWAY = 2


COLUMNS = ("case", "step", "who", "came", "began", "ended", "paused", "outcome", "line")
"""What is told of every visit."""


@dataclass(frozen=True)
class Visits:
    """All visits of a log, case by case and in each by time; (visits,) each, in minutes on the wall since 1970.

    `case`, `step` and `who` are places in `cases`, `steps` and `people`, -1 where none is told; `type` is that of each
    case, a place in `types`, `planned` when it was booked for, NaN where it was not, shape (cases,) each; one that was
    booked and never came has no visit. What a case has `carried` of each of its `traits` is a place among the
    `categories` of that, shape (traits, cases), -1 where none is told. When it `came`, `began` and `ended` is NaN where
    it is not known; `paused` is how long work stood still in between. `line` is where the file tells of it first.
    """

    case: Places
    step: Places
    who: Places
    came: Numbers
    began: Numbers
    ended: Numbers
    paused: Numbers
    outcome: NDArray[np.int8]
    line: Places
    type: Places
    planned: Numbers
    cases: list[str] = field(default_factory=list)
    steps: list[str] = field(default_factory=list)
    people: list[str] = field(default_factory=list)
    types: list[str] = field(default_factory=list)
    traits: list[str] = field(default_factory=list)
    categories: list[list[str]] = field(default_factory=list)
    carried: Places = field(default_factory=lambda: np.zeros((0, 0), np.int32))

    def __len__(self) -> int:
        return len(self.case)

    @cached_property
    def first(self) -> Numbers:
        """When each visit was first heard of, NaN where never."""
        return np.fmin(np.fmin(self.came, self.began), self.ended)

    @cached_property
    def last(self) -> Numbers:
        """When each visit was last heard of."""
        return np.fmax(np.fmax(self.came, self.began), self.ended)

    @cached_property
    def is_first_of_case(self) -> NDArray[np.bool_]:
        """Whether each visit is the first of its case."""
        return np.append(True, self.case[1:] != self.case[:-1])[: len(self)]

    @cached_property
    def arrived(self) -> Numbers:
        """When each case was first heard of; shape (cases,), NaN where it has no visit."""
        found = np.full(len(self.cases), np.nan)
        np.fmin.at(found, self.case, self.first)
        return found

    @property
    def work(self) -> Numbers:
        """How long work took, NaN where its begin or its end is not known."""
        return self.ended - self.began - self.paused

    def only(self, which: NDArray[np.bool_] | NDArray[np.intp]) -> "Visits":
        """Return some of the visits, or all in another order."""
        return replace(self, **{name: getattr(self, name)[which] for name in COLUMNS})

    def in_order(self) -> "Visits":
        """Return the same visits case by case, in each by time."""
        return self.only(np.lexsort((self.line, self.first, self.case)))
