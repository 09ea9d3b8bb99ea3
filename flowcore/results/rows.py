"""Numbers of one replication of many, by addresses that all of them share."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Places = Mapping[str, int]


def places_of(addresses: Iterable[str]) -> Places:
    """Return the place of each of some addresses."""
    return {address: place for place, address in enumerate(addresses)}


@dataclass(frozen=True, eq=False)
class Row(Mapping[str, float]):
    """A number for each address."""

    places: Places
    numbers: NDArray[np.float64]

    def at(self, addresses: Iterable[str]) -> NDArray[np.float64]:
        """Return the numbers at some addresses, in their order; KeyError names one that is not there."""
        return self.numbers[[self.places[address] for address in addresses]]

    def __getitem__(self, address: str) -> float:
        return float(self.numbers[self.places[address]])

    def __iter__(self) -> Iterator[str]:
        return iter(self.places)

    def __len__(self) -> int:
        return len(self.places)


@dataclass(frozen=True, eq=False)
class Rows(Mapping[str, NDArray[np.float64]]):
    """A row of numbers for each address, of shape (addresses, columns)."""

    places: Places
    table: NDArray[Any]

    def to_keep(self) -> "Rows":
        """Return the same to seven digits, in half the memory."""
        return Rows(self.places, self.table.astype(np.float32, copy=False))

    def __getitem__(self, address: str) -> NDArray[np.float64]:
        row: NDArray[np.float64] = self.table[self.places[address]].astype(np.float64, copy=False)
        return row

    def __iter__(self) -> Iterator[str]:
        return iter(self.places)

    def __len__(self) -> int:
        return len(self.places)


class Means:
    """The means of rows of replications that are added one by one, of each number over those that know it."""

    def __init__(self, rows: Iterable[Mapping[str, NDArray[np.float64]]] = ()) -> None:
        self._places: Places = {}
        self._sums, self._known = np.zeros((0, 0)), np.zeros((0, 0), np.int64)
        for each in rows:
            self.add(each)

    def add(self, rows: Mapping[str, NDArray[np.float64]]) -> None:
        """Add the rows of one replication, which have the addresses of those before."""
        table = rows.table if isinstance(rows, Rows) else np.array([*rows.values()])
        if not self._places:
            self._places = places_of(rows)
            self._sums, self._known = np.zeros(table.shape), np.zeros(table.shape, np.int64)
        known = ~np.isnan(table)
        self._known += known
        self._sums += np.where(known, table, 0.0)

    def rows(self) -> Rows:
        """Return the means; not-a-number where none is known."""
        means = np.divide(self._sums, self._known, out=np.full(self._sums.shape, np.nan), where=self._known > 0)
        return Rows(self._places, means)
