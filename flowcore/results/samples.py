"""Figures per case and visit, from the rows of the ledger."""

import threading
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.summary.statistics import statistics
from flowcore.results.arrays import Values
from flowcore.results.catalogue import GONE
from flowcore.results.histogram import Histogram
from flowcore.results.statistics import STATISTICS
from flowcore.results.surveys import Counts, Read, Survey, minute_of_week
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY
from flowcore.study.steps import Exit

QUANTITIES = ("wait", "work", "travel", "blocked", "total", "cost")
OWN_TIME = "time"
POOLED = ("wait", "total", OWN_TIME, GONE)
POOLED_OF_TYPES = (*POOLED, "cost")
INSTANT = ("choose", "fork", "scatter", "set", "exit")
ALL = -1
_OF_TOTAL = ("wait", "work", "blocked")
_of_thread = threading.local()


@dataclass(frozen=True)
class Samples:
    """Values of some quantities, and which stretch of the rows each subject has.

    Those of the quantities that are `told` are in `columns`, shape (told, rows); the others are all 0. Stretch n begins
    at edges[n]; ALL is all rows. `known` are the same rows in another order, of which the figures of all may be known.
    """

    quantities: tuple[str, ...]
    told: tuple[str, ...]
    columns: Values
    edges: NDArray[np.int64]
    subjects: dict[str, int]
    known: "Samples | None" = None

    def of(self, subject: str, quantity: str) -> Values:
        """Return a subject's values of a quantity."""
        number, rows = self.subjects[subject], self.columns.shape[1]
        column = self.columns[self.told.index(quantity)] if quantity in self.told else np.zeros(rows)
        stretch: Values = column if number == ALL else column[self.edges[number] : self.edges[number + 1]]
        return stretch

    @cached_property
    def statistics(self) -> Values:
        """The STATISTICS of every quantity and stretch, those of all rows last: (quantities, stretches, STATISTICS)."""
        if self._owner is self:
            return self._described[0]
        each = np.full((len(self.quantities), len(self.edges), len(STATISTICS)), np.nan)
        each[:, ALL] = self._owner.statistics[:, ALL]
        if self._has_all is not None:
            each[:, self._has_all] = each[:, ALL]
        return each

    def histogram(self, subject: str, quantity: str) -> Histogram:
        """Return the histogram of a subject's values of a quantity."""
        number = self.subjects[subject]
        if self._owner is not self and number not in (ALL, self._has_all):
            return Histogram(np.zeros(0, np.int64))
        return self._owner._histogram(ALL if number == self._has_all else number, quantity)

    @cached_property
    def _has_all(self) -> int | None:
        """The stretch in which all rows are, if one has them all."""
        rows = self.columns.shape[1]
        found = np.flatnonzero(self.edges[1:] - self.edges[:-1] == rows)
        return int(found[0]) if rows and len(found) else None

    @cached_property
    def _owner(self) -> "Samples":
        """Who has counted these rows: those in another order where there is one stretch only, or none."""
        are_many = self._has_all is None and len(self.edges) > 1
        return self if self.known is None or are_many else self.known

    @cached_property
    def _described(self) -> tuple[Values, Counts, Counts]:
        rows = self.columns.shape[1]
        room, bins = _room("order", 1, rows)[0], _room("bins", 1, rows, np.int32)[0]
        told = np.array([self.told.index(each) if each in self.told else -1 for each in self.quantities], np.int64)
        found: tuple[Values, Counts, Counts] = statistics(self.columns, told, self.edges, room, bins)
        return found

    def _histogram(self, number: int, quantity: str) -> Histogram:
        _, counts, ends = self._described
        if quantity not in self.told:
            many = self.columns.shape[1] if number == ALL else self.edges[number + 1] - self.edges[number]
            return Histogram(np.full(min(1, many), many, np.int64))
        place = self.told.index(quantity) * len(self.edges) + number % len(self.edges)
        return Histogram(counts[ends.flat[place - 1] if place else 0 : ends.flat[place]].copy())


def figures_of(samples: Samples, wanted: tuple[str, ...]) -> tuple[list[str], Values]:
    """Return the addresses and statistics of every subject's samples, and the shares within a time that are wanted."""
    values = samples.statistics[:, list(samples.subjects.values())].transpose(1, 0, 2).ravel()
    addresses = _addresses(tuple(samples.subjects), samples.quantities)
    shares = {address: _share_within(samples, address) for address in wanted}
    mine = {address: share for address, share in shares.items() if share is not None}
    return ([*addresses, *mine], np.array([*values, *mine.values()])) if mine else (addresses, values)


def _share_within(samples: Samples, address: str) -> float | None:
    """Return the share of a subject's values within the time that an address says; None where it is not of these."""
    subject, _, statistic = address.rpartition("/")
    owner, _, quantity = subject.rpartition("/")
    if not statistic.startswith("within:") or owner not in samples.subjects or quantity not in samples.quantities:
        return None
    sample = samples.of(owner, quantity)
    limit = minutes(statistic.removeprefix("within:"))
    return float(np.mean(sample <= limit)) if len(sample) else float("nan")


@cache
def _addresses(subjects: tuple[str, ...], quantities: tuple[str, ...]) -> list[str]:
    return [f"{subject}/{quantity}/{name}" for subject in subjects for quantity in quantities for name in STATISTICS]


def histograms_of(samples: Samples) -> dict[str, Histogram]:
    """Return the histograms of the POOLED quantities of every subject."""
    return {
        f"{subject}/{quantity}": samples.histogram(subject, quantity)
        for subject in samples.subjects
        for quantity in (POOLED_OF_TYPES if subject.startswith("type/") else POOLED)
        if quantity in samples.quantities
    }


def _room(name: str, columns: int, rows: int, kind: type[np.generic] = np.float64) -> Any:
    """Return room for so many numbers, shape (columns, rows), the same memory again for each thread's next.

    There is an eighth more than is needed, since the next replication may have some more rows.
    """
    room = getattr(_of_thread, name, None)
    if room is None or len(room) < columns * rows:
        room = np.empty(columns * rows * 9 // 8, kind)
        setattr(_of_thread, name, room)
    return room[: columns * rows].reshape(columns, rows)


def _grouped(rows: Survey, quantities: Sequence[str], name: str, sums: int = 0) -> tuple[Values, NDArray[np.int64]]:
    """Return quantities of rows in the order of a field, with room for some more, and the edges of its numbers."""
    columns = _room("columns", len(quantities) + sums, len(rows.words))
    return columns, rows.put_in_order(quantities, name, columns)


class Sampler:
    """Makes the samples of a study's worlds, of some quantities."""

    def __init__(
        self, study: StudyDocument, clocks: Sequence[str], quantities: tuple[str, ...] = (*QUANTITIES, GONE)
    ) -> None:
        """Take the study, the subjects of what is timed in it, in order, and the quantities."""
        self._has_days = GONE in quantities
        self._quantities = tuple(each for each in quantities if each != GONE)
        self._of_rows = tuple(each for each in self._quantities if each != "total")
        self._steps = {"step/all": ALL}
        self._steps |= {f"step/{step.id}": n for n, step in enumerate(study.steps) if step.kind not in INSTANT}
        ids = {
            "type": [kind.id for kind in study.case_types],
            "stream": [stream.id for stream in study.streams],
            "outcome": [step.id if isinstance(step, Exit) else "" for step in study.steps],
        }
        self._of_departures = {
            "step" if subject == "outcome" else subject: {f"{subject}/all": ALL}
            | {f"{subject}/{each}": n for n, each in enumerate(names) if each}
            for subject, names in ids.items()
        }
        self._own = {subject: number for number, subject in enumerate(clocks) if subject.startswith("measure/")}
        self._spans = {subject: number for number, subject in enumerate(clocks) if subject not in self._own}
        self._starts_at = minute_of_week(study) % DAY

    def __call__(self, read: Read) -> Iterator[Samples]:
        """Yield the samples of all steps, of all case types, of streams, of outcomes, of all spans, and of days.

        Each is written over by the next of its thread: those of millions of visits take as much room as the visits.
        """
        yield self._visits(read.visits)
        yield from self._departures(read.departures)
        if read.spans is not None:
            yield from self._clocks(read.spans)
        if self._has_days:
            yield self._days(read.departures)

    def _visits(self, visits: Survey) -> Samples:
        """Return the samples of steps; `total` is the time at the step, without the way to it."""
        told, has_total = [*visits.used(self._of_rows)], "total" in self._quantities
        parts = [told.index(each) for each in _OF_TOTAL if each in told] if has_total else []
        columns, edges = _grouped(visits, told, "step", sums=min(1, len(parts)))
        if parts:
            np.add(columns[parts[0]], columns[parts[1]] if len(parts) > 1 else 0.0, out=columns[-1])
            for part in parts[2:]:
                columns[-1] += columns[part]
            told.append("total")
        in_order = (*self._of_rows, "total") if has_total else self._of_rows
        return Samples(in_order, tuple(told), columns, edges, self._steps)

    def _departures(self, departures: Survey) -> Iterator[Samples]:
        """Yield the samples of case types, of streams and of outcomes."""
        quantities, many = self._quantities, len(departures.words)
        told = departures.used(quantities)
        columns = _room("whole", len(told), many)
        departures.put_as_they_are(told, columns)
        whole = Samples(quantities, told, columns, np.array([0, many]), {})
        for name, subjects in self._of_departures.items():
            edges = departures.edges(name)
            if np.count_nonzero(edges[1:] - edges[:-1]) <= 1:
                yield Samples(quantities, told, whole.columns, edges, subjects, whole)
            else:
                columns, edges = _grouped(departures, told, name)
                yield Samples(quantities, told, columns, edges, subjects, whole)

    def _clocks(self, spans: Survey) -> Iterator[Samples]:
        """Yield the samples of spans and of the ways to checkpoints and between them, and the time of own measures."""
        told = spans.used(self._quantities)
        columns, edges = _grouped(spans, told, "span")
        yield Samples(self._quantities, told, columns, edges, self._spans)
        if self._own and "total" in self._quantities:
            of_total = [number for number, each in enumerate(told) if each == "total"]
            yield Samples((OWN_TIME,), (OWN_TIME,) * len(of_total), columns[of_total], edges, self._own)

    def _days(self, departures: Survey) -> Samples:
        """Return when the last of those who came on each day left, for the days on which any came."""
        last = departures.last_by_day(self._starts_at)
        on = np.flatnonzero(np.isfinite(last))
        gone = last[on] - on * DAY
        return Samples((GONE,), (GONE,), gone[None, :], np.array([0, len(gone)]), {"day/all": ALL})
