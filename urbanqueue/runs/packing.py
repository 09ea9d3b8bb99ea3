"""Replications as rows of the database: numbers as bytes, in the order of addresses that stand with the sample."""

import zlib
from collections.abc import Iterator, Mapping

import numpy as np
from django.db import transaction
from numpy.typing import NDArray

from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.rows import Row, Rows
from flowcore.results.series import INSIDE
from urbanqueue.runs.models import ReplicationRow, Sample

FAST = 1


@transaction.atomic
def note_addresses(sample_id: int, replication: Replication) -> Sample:
    """Write down with a sample what its rows hold, in which order, unless that is known; return it."""
    sample = Sample.objects.select_for_update().defer("document").get(pk=sample_id)
    if sample.addresses:
        return sample
    sample.addresses = list(replication.figures)
    sample.quantities = list(replication.histograms)
    sample.hourly = list(replication.week)
    sample.by_time = [[key, cells.shape[1]] for key, cells in replication.cells.items()]
    sample.save(update_fields=["addresses", "quantities", "hourly", "by_time"])
    return sample


def packed(sample: Sample, replication: Replication) -> ReplicationRow:
    """Return a replication as a row of its sample."""
    return ReplicationRow(
        sample=sample,
        number=replication.number,
        values=replication.figures.at(sample.addresses).tobytes(),
        histograms=_joined([_squeezed(replication.histograms[quantity]) for quantity in sample.quantities]),
        inside=replication.series[INSIDE].astype(np.float32).tobytes(),
        week=np.array([replication.week[address] for address in sample.hourly], np.float32).tobytes(),
        cells=_squeezed_cells(sample, replication),
    )


def _squeezed_cells(sample: Sample, replication: Replication) -> bytes:
    cells = [replication.cells[key] for key, _ in sample.by_time]
    return zlib.compress(np.concatenate(cells, axis=1).tobytes(), FAST) if cells else b""


def _squeezed(histogram: Histogram) -> bytes:
    return zlib.compress(histogram.counts.astype(np.uint32).tobytes(), FAST)


def _joined(parts: list[bytes]) -> bytes:
    """Put parts one after the other, and where each ends before them."""
    ends = np.cumsum([len(part) for part in parts], dtype=np.uint32)
    return bytes(ends.tobytes() + b"".join(parts))


class Unpacking:
    """Makes replications of a sample's rows again: with all that they hold, or of some quantities only.

    A quantity is an address without its statistic, such as `step/counter/wait`.
    """

    def __init__(self, sample: Sample, quantities: frozenset[str] | None = None) -> None:
        of_addresses = [address.rpartition("/")[0] for address in sample.addresses]
        self._columns = _chosen(of_addresses, quantities)
        self._places = {sample.addresses[column]: place for place, column in enumerate(self._columns)}
        self._quantities = sample.quantities
        self._histograms = _chosen(sample.quantities, quantities)
        self._hours = _chosen(sample.hourly, quantities)
        self._hourly = {sample.hourly[row]: place for place, row in enumerate(self._hours)}
        self._by_time = sample.by_time
        self._has_all = quantities is None

    def __call__(self, row: ReplicationRow, with_inside: bool = True, with_week: bool = True) -> Replication:
        """Return a row's replication, with or without the cases inside by interval and the hours of the week."""
        inside = bytes(row.inside) if with_inside else b""
        numbers = np.frombuffer(row.values)
        return Replication(
            number=row.number,
            figures=Row(self._places, numbers if self._has_all else numbers[self._columns]),
            histograms=dict(self._unsqueezed(bytes(row.histograms))),
            series={INSIDE: np.frombuffer(inside, np.float32).astype(np.float64)} if inside else {},
            week=self._week_of(bytes(row.week)) if with_week else {},
            cells=dict(self._unsqueezed_cells(bytes(row.cells))),
        )

    def _unsqueezed_cells(self, squeezed: bytes) -> Iterator[tuple[str, NDArray[np.float64]]]:
        if not squeezed:
            return
        cells = np.frombuffer(zlib.decompress(squeezed)).reshape(2, -1)
        ends = np.cumsum([many for _, many in self._by_time])
        yield from zip((key for key, _ in self._by_time), np.split(cells, ends[:-1], axis=1), strict=True)

    def _unsqueezed(self, joined: bytes) -> Iterator[tuple[str, Histogram]]:
        head = 4 * len(self._quantities)
        ends = np.frombuffer(joined[:head], np.uint32).tolist()
        for place in self._histograms:
            part = joined[head + (ends[place - 1] if place else 0) : head + ends[place]]
            counts = np.frombuffer(zlib.decompress(part), np.uint32)
            yield self._quantities[place], Histogram(counts.astype(np.int64))

    def _week_of(self, numbers: bytes) -> Mapping[str, NDArray[np.float64]]:
        if not numbers:
            return {}
        return Rows(self._hourly, np.frombuffer(numbers, np.float32).reshape(-1, HOURS_A_WEEK)[self._hours])


def _chosen(stored: list[str], wanted: frozenset[str] | None) -> list[int]:
    """Return the places of the quantities that are wanted; None wants all."""
    return [place for place, quantity in enumerate(stored) if wanted is None or quantity in wanted]
