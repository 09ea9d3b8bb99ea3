"""Figures per case and visit, from the rows of the ledger."""

import threading
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from flowcore.kernel.summary.statistics import statistics
from flowcore.results.arrays import Values
from flowcore.results.catalogue import GONE
from flowcore.results.histogram import Histogram
from flowcore.results.rows import places_of
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


class Asked:
    """What is told of subjects: statistics of some quantities, and the histograms of those that are POOLED.

    Each of the `subjects` has a number: that of the stretch of rows that are its own, or ALL.
    """

    def __init__(
        self,
        quantities: Sequence[str],
        subjects: Mapping[str, int],
        statistics: Sequence[str] = STATISTICS,
        has_histograms: bool = True,
    ) -> None:
        self.quantities, self.subjects = tuple(quantities), subjects
        self.numbers = np.array([*subjects.values()], np.int64)
        self.columns = np.array([STATISTICS.index(each) for each in statistics])
        self.addresses = [
            f"{subject}/{quantity}/{name}" for subject in subjects for quantity in quantities for name in statistics
        ]
        pooled = _pooled(subjects, self.quantities) if has_histograms else []
        self.pooled = frozenset(quantity for _, quantity in pooled)
        self.histograms = [f"{subject}/{quantity}" for subject, quantity in pooled]
        self.quantities_of = np.array([self.quantities.index(quantity) for _, quantity in pooled], np.int64)
        places = places_of(subjects)
        self.subjects_of = np.array([places[subject] for subject, _ in pooled], np.int64)


def _pooled(subjects: Iterable[str], quantities: Sequence[str]) -> list[tuple[str, str]]:
    """Return of which quantities of each subject there are histograms."""
    return [
        (subject, quantity)
        for subject in subjects
        for quantity in (POOLED_OF_TYPES if subject.startswith("type/") else POOLED)
        if quantity in quantities
    ]


class Stretches:
    """Values of some quantities, those of a stretch of the rows one after the other.

    Those of the quantities that are `told` are in `columns`, shape (told, rows); the others are all 0. Stretch n begins
    at edges[n]; ALL is all rows. Those that are asked for as `pooled` have histograms.
    """

    def __init__(self, asked: Asked, told: Sequence[str], columns: Values, edges: Counts) -> None:
        self._columns, self._edges = columns, edges
        self._places = np.array([told.index(each) if each in told else -1 for each in asked.quantities], np.int64)
        self._counted = np.array([each in asked.pooled for each in asked.quantities])

    def of(self, number: int, quantity: int) -> Values:
        """Return the values of a quantity in a stretch."""
        place, rows = self._places[quantity], self._columns.shape[1]
        column: Values = self._columns[place] if place >= 0 else np.zeros(rows)
        return column if number == ALL else column[self._edges[number] : self._edges[number + 1]]

    @cached_property
    def described(self) -> tuple[Values, Counts, Counts]:
        """The STATISTICS of every quantity and stretch, those of all rows last, and histograms: see `statistics`."""
        rows = self._columns.shape[1]
        room, bins = _room("order", 1, rows)[0], _room("bins", 1, rows, np.int32)[0]
        found: tuple[Values, Counts, Counts] = statistics(
            self._columns, self._places, self._counted, self._edges, room, bins
        )
        return found


class Samples(NamedTuple):
    """What is asked for of subjects, and the stretches of the rows which are theirs, by number."""

    asked: Asked
    stretches: Stretches
    numbers: Counts

    def of(self, subject: str, quantity: str) -> Values | None:
        """Return a subject's values of a quantity; None where there is no such subject or quantity."""
        asked = self.asked
        if subject not in asked.subjects or quantity not in asked.quantities:
            return None
        number = self.numbers[list(asked.subjects).index(subject)]
        return self.stretches.of(number, asked.quantities.index(quantity))


def figures_of(samples: Samples, wanted: tuple[str, ...] = ()) -> tuple[list[str], Values]:
    """Return the addresses and statistics of every subject's samples, and the shares within a time that are wanted."""
    asked = samples.asked
    figures, _, _ = samples.stretches.described
    quantities = np.arange(len(figures))
    values = figures[quantities[:, None], samples.numbers[:, None, None], asked.columns].ravel()
    shares = {address: _share_within(samples, address) for address in wanted}
    mine = {address: share for address, share in shares.items() if share is not None}
    if mine:
        return [*asked.addresses, *mine], np.array([*values, *mine.values()])
    return asked.addresses, values


def _share_within(samples: Samples, address: str) -> float | None:
    """Return the share of a subject's values within the time that an address says; None where it is not of these."""
    subject, _, statistic = address.rpartition("/")
    owner, _, quantity = subject.rpartition("/")
    sample = samples.of(owner, quantity) if statistic.startswith("within:") else None
    if sample is None:
        return None
    limit = minutes(statistic.removeprefix("within:"))
    return float(np.mean(sample <= limit)) if len(sample) else float("nan")


def histograms_of(samples: Samples) -> dict[str, Histogram]:
    """Return the histograms of the POOLED quantities of every subject."""
    asked = samples.asked
    _, counts, ends = samples.stretches.described
    bounds = np.concatenate([[0], ends.ravel()])
    places = asked.quantities_of * ends.shape[1] + samples.numbers[asked.subjects_of] % ends.shape[1]
    begins, ends_of = bounds[places].tolist(), bounds[places + 1].tolist()
    return {
        address: Histogram(counts[begin:end])
        for address, begin, end in zip(asked.histograms, begins, ends_of, strict=True)
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


def _grouped(rows: Survey, quantities: Sequence[str], name: str, sums: int = 0) -> tuple[Values, Counts]:
    """Return quantities of rows in the order of a field, with room for some more, and the edges of its numbers."""
    columns = _room("columns", len(quantities) + sums, len(rows.words))
    return columns, rows.put_in_order(quantities, name, columns)


class Sampler:
    """Makes the samples of a study's worlds, of some quantities."""

    def __init__(
        self,
        study: StudyDocument,
        clocks: Sequence[str],
        quantities: Sequence[str] = (*QUANTITIES, GONE),
        statistics: Sequence[str] = STATISTICS,
        has_histograms: bool = True,
    ) -> None:
        """Take the study, the subjects of what is timed in it, in order, and what is told of them: see `Asked`."""
        told = statistics, has_histograms
        self._quantities = tuple(each for each in quantities if each != GONE)
        self._of_rows = tuple(each for each in self._quantities if each != "total")
        of_steps = (*self._of_rows, "total") if "total" in self._quantities else self._of_rows
        timed = {f"step/{step.id}": n for n, step in enumerate(study.steps) if step.kind not in INSTANT}
        self._steps = Asked(of_steps, {"step/all": ALL} | timed, *told)
        ids = {
            "type": [kind.id for kind in study.case_types],
            "stream": [stream.id for stream in study.streams],
            "outcome": [step.id if isinstance(step, Exit) else "" for step in study.steps],
        }
        self._of_departures = {
            "step" if subject == "outcome" else subject: Asked(
                self._quantities,
                {f"{subject}/all": ALL} | {f"{subject}/{each}": n for n, each in enumerate(names) if each},
                *told,
            )
            for subject, names in ids.items()
        }
        own = {subject: number for number, subject in enumerate(clocks) if subject.startswith("measure/")}
        spans = {subject: number for number, subject in enumerate(clocks) if subject not in own}
        self._spans = Asked(self._quantities, spans, *told)
        self._own = Asked((OWN_TIME,), own, *told) if own and "total" in self._quantities else None
        self._days = Asked((GONE,), {"day/all": ALL}, *told) if GONE in quantities else None
        self._starts_at = minute_of_week(study) % DAY

    def __call__(self, read: Read) -> Iterator[Samples]:
        """Yield the samples of all steps, of all case types, of streams, of outcomes, of all spans, and of days.

        Each is written over by the next of its thread: those of millions of visits take as much room as the visits.
        """
        yield self._visits(read.visits)
        yield from self._departures(read.departures)
        if read.spans is not None:
            yield from self._clocks(read.spans)
        if self._days is not None:
            yield self._gone(self._days, read.departures)

    def _visits(self, visits: Survey) -> Samples:
        """Return the samples of steps; `total` is the time at the step, without the way to it."""
        told = [*visits.used(self._of_rows)]
        has_total = "total" in self._quantities
        parts = [told.index(each) for each in _OF_TOTAL if each in told] if has_total else []
        columns, edges = _grouped(visits, told, "step", sums=min(1, len(parts)))
        if parts:
            np.add(columns[parts[0]], columns[parts[1]] if len(parts) > 1 else 0.0, out=columns[-1])
            for part in parts[2:]:
                columns[-1] += columns[part]
            told.append("total")
        return Samples(self._steps, Stretches(self._steps, told, columns, edges), self._steps.numbers)

    def _departures(self, departures: Survey) -> Iterator[Samples]:
        """Yield the samples of case types, of streams and of outcomes.

        Where all cases are of one of them, they are those of all; and of each other none.
        """
        told, rows = departures.used(self._quantities), len(departures.words)
        columns = _room("whole", len(told), rows)
        departures.put_as_they_are(told, columns)
        whole = Stretches(self._of_departures["type"], told, columns, np.array([0, rows, rows]))
        for name, asked in self._of_departures.items():
            counts = departures.counts(name)
            if np.count_nonzero(counts) <= 1:
                numbers = np.where(asked.numbers == ALL, ALL, counts[asked.numbers] == 0)
                yield Samples(asked, whole, numbers)
            else:
                stretches = Stretches(asked, told, *_grouped(departures, told, name))
                yield Samples(asked, stretches, asked.numbers)

    def _clocks(self, spans: Survey) -> Iterator[Samples]:
        """Yield the samples of spans and of the ways to checkpoints and between them, and the time of own measures."""
        told = spans.used(self._quantities)
        columns, edges = _grouped(spans, told, "span")
        yield Samples(self._spans, Stretches(self._spans, told, columns, edges), self._spans.numbers)
        if self._own is not None:
            of_total = [number for number, each in enumerate(told) if each == "total"]
            times = Stretches(self._own, (OWN_TIME,) * len(of_total), columns[of_total], edges)
            yield Samples(self._own, times, self._own.numbers)

    def _gone(self, days: Asked, departures: Survey) -> Samples:
        """Return when the last of those who came on each day left, for the days on which any came."""
        last = departures.last_by_day(self._starts_at)
        on = np.flatnonzero(np.isfinite(last))
        gone = last[on] - on * DAY
        return Samples(days, Stretches(days, (GONE,), gone[None, :], np.array([0, len(gone)])), days.numbers)
