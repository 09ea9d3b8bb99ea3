"""Figures of regular time and of overtime, apart: who leaves a step while anyone is in overtime counts there."""

from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World
from flowcore.results.arrays import Values, plain
from flowcore.results.catalogue import OF_ARRIVED, OF_WAITS
from flowcore.results.counted import Counted
from flowcore.results.ratios import Figures, Ratios
from flowcore.results.samples import Sampler, figures_of
from flowcore.results.surveys import Ledgers, Rows, extras_of
from flowcore.study import StudyDocument


class Apart:
    """Waits, counts, causes and costs of regular time and of overtime, where teams have shifts.

    The quantity in an address is followed by `:regular` or `:overtime`. Labour counts by what the member
    was in, all else by whether anyone was in overtime.
    """

    def __init__(self, study: StudyDocument, counted: Counted, told: Iterable[Figures]) -> None:
        self._counted, self._ledgers = counted, Ledgers(study)
        self._samples = Sampler(study, self._ledgers.clocks, ("wait",), OF_WAITS, has_histograms=False)
        self._ratios = Ratios(_in_halves(told))
        self._known: dict[str, list[str]] = {}

    def __call__(self, world: World, counted: Values) -> tuple[list[str], Values]:
        """Return the figures of a replication at its end that has counted that, and their addresses."""
        addresses: list[str] = []
        found: list[Values] = []
        for name, in_overtime, half in zip(_HALVES, (1, 0), self._counted.halves(world, counted), strict=True):
            waits, of_waits = self._waits(world, in_overtime)
            addresses += self._addresses_of(name, waits)
            found += [self._ratios(half), of_waits]
        return addresses, np.concatenate(found)

    def _waits(self, world: World, in_overtime: int) -> tuple[list[str], Values]:
        """Return the waits of the rows that were written in overtime (1) or in regular time (0)."""
        clock = world.clock[0]
        read = self._ledgers.read(
            _rows(world.visits, clock.visits, in_overtime),
            _extras(world, in_overtime),
            _rows(world.departures, clock.departures, in_overtime),
            _rows(world.spans, clock.span_rows, in_overtime),
        )
        addresses: list[str] = []
        found: list[Values] = []
        for samples in self._samples(read):
            told, values = figures_of(samples)
            addresses += told
            found.append(values)
        return addresses, np.concatenate(found)

    def _addresses_of(self, name: str, waits: list[str]) -> list[str]:
        """Return the addresses of regular time or of overtime; those of the waits are the same in every replication."""
        if name not in self._known:
            self._known[name] = [_in_half(address, name) for address in (*self._ratios.addresses, *waits)]
        return self._known[name]


_HALVES = ("overtime", "regular")
_COUNTS = ("outcome", "step", "type", "stream")


def _in_halves(told: Iterable[Figures]) -> Iterator[Figures]:
    """Yield what has halves: nothing of who is inside, nor of the lost as a share of those who came."""
    for subjects, figures in told:
        mine = {rest: each for rest, each in figures.items() if rest != "inside" and OF_ARRIVED not in rest}
        yield Figures(subjects, mine)


def _in_half(address: str, name: str) -> str:
    """Return the address of a figure in one half: its quantity is marked."""
    is_count = address.partition("/")[0] in _COUNTS and address.count("/") == 2
    subject, _, statistic = address.rpartition("/")
    return f"{address}:{name}" if is_count else f"{subject}:{name}/{statistic}"


def _rows(rows: Table[Any], count: int, in_overtime: int) -> Rows:
    """Return those of the first rows that were written in one half."""
    here = plain(rows)[:count]
    words = here.view(np.int64).reshape(count, here.itemsize // 8)
    found: Rows = words[here["in_overtime"] == in_overtime].view(here.dtype).reshape(-1)
    return found


def _extras(world: World, in_overtime: int) -> Rows:
    """Return what the visits of one half have besides; none where no visit has anything."""
    extras = extras_of(world)
    found: Rows = extras[plain(world.visits)["in_overtime"][: len(extras)] == in_overtime]
    return found
