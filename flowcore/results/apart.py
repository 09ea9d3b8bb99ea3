"""Figures of regular time and of overtime, apart: who leaves a step while anyone is in overtime counts there."""

from collections.abc import Iterator
from types import SimpleNamespace
from typing import Any, cast

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import VisitExtra
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World
from flowcore.results.arrays import Values, plain
from flowcore.results.catalogue import OF_WAITS
from flowcore.results.counts import Causes, Outcomes, Tallies
from flowcore.results.samples import figures_of, samples_of
from flowcore.results.staff import Costs
from flowcore.results.surveys import departures_of, extras_of, spans_of, visits_of
from flowcore.study import StudyDocument


class Apart:
    """Waits, counts, causes and costs of regular time and of overtime, where teams have shifts.

    The quantity in an address is followed by `:regular` or `:overtime`. Labour counts by what the member
    was in, all else by whether anyone was in overtime.
    """

    def __init__(self, study: StudyDocument) -> None:
        self._study = study
        self._outcomes, self._tallies = Outcomes(study), Tallies(study)
        self._causes, self._costs = Causes(study), Costs(study)
        counted = self._outcomes.addresses + self._tallies.addresses
        self._counted = [number for number, address in enumerate(counted) if not address.endswith("/inside")]
        self._addresses = [counted[number] for number in self._counted]
        self._known: dict[str, list[str]] = {}

    def __call__(self, world: World, minutes: float, days_open: int) -> tuple[list[str], Values]:
        """Return the figures of a replication at its end, and their addresses."""
        addresses: list[str] = []
        found: list[Values] = []
        for name, part, length in _parts(world, minutes) if self._study.has_shifts else ():
            waits, of_waits = _waits(self._study, part)
            addresses += self._addresses_of(name, waits)
            counted = np.concatenate([self._outcomes(part), self._tallies(part)])[self._counted]
            found += [counted, of_waits, self._causes(part), self._costs(part, length, days_open)]
        return addresses, np.concatenate(found) if found else np.zeros(0)

    def _addresses_of(self, name: str, waits: list[str]) -> list[str]:
        """Return the addresses of regular time or of overtime; those of the waits are the same in every replication."""
        if name not in self._known:
            told = [*waits, *self._causes.addresses, *self._costs.addresses]
            split = (address.rpartition("/") for address in told)
            within = [f"{subject}:{name}/{statistic}" for subject, _, statistic in split]
            self._known[name] = [*(f"{address}:{name}" for address in self._addresses), *within]
        return self._known[name]


TALLIES = {
    "step_tally": "steps_in_overtime",
    "type_tally": "types_in_overtime",
    "stream_tally": "streams_in_overtime",
}


def _parts(world: World, minutes: float) -> Iterator[tuple[str, World, float]]:
    """Yield the world as it counted in regular time and in overtime, and for how many minutes."""
    clock = world.clock[0]
    length = float(clock.overtime_minutes)
    now = int(clock.is_overtime)
    counted = {whole: _sum(getattr(world, part), getattr(world, whole), now) for whole, part in TALLIES.items()}
    by_cause = world.causes_in_overtime + now * world.cause_minutes
    uses = world.teams.uses_in_overtime + now * world.teams.uses
    yield "overtime", _part(world, 1, counted, by_cause, world.levels.overtime, uses), length
    rest = {whole: _sum(getattr(world, whole), part, -1) for whole, part in counted.items()}
    area = world.levels.area - world.levels.overtime
    regular = _part(world, 0, rest, world.cause_minutes - by_cause, area, world.teams.uses - uses)
    yield "regular", regular, minutes - length


def _part(
    world: World,
    in_overtime: int,
    tallies_: dict[str, Table[Any]],
    cause_minutes: np.ndarray,
    area: np.ndarray,
    uses: np.ndarray,
) -> World:
    """Return what reads as a world with what was counted in overtime (1) or in regular time (0)."""
    clock = world.clock[0]
    read = {
        "visits": _rows(world.visits, clock.visits, in_overtime),
        "visit_extras": _extras(world, in_overtime),
        "departures": _rows(world.departures, clock.departures, in_overtime),
        "spans": _rows(world.spans, clock.span_rows, in_overtime),
        "cause_minutes": cause_minutes,
        "member_time": _of_half(world, in_overtime),
        "levels": _with(world.levels, area=area),
        "teams": _with(world.teams, uses=uses),
    }
    return cast(World, SimpleNamespace(**(vars(world) | read | tallies_)))


def _rows(rows: Table[Any], count: int, in_overtime: int) -> Table[Any]:
    """Return those of the first rows that were written in overtime (1) or in regular time (0)."""
    here = plain(rows[:count])
    words = here.view(np.int64).reshape(count, here.itemsize // 8)
    found: Table[Any] = words[here["in_overtime"] == in_overtime].view(here.dtype).reshape(-1)
    return found


def _extras(world: World, in_overtime: int) -> Table[VisitExtra]:
    """Return what the visits of one half have besides; none where no visit has anything."""
    extras = extras_of(world)
    found: Table[VisitExtra] = extras[plain(world.visits[: len(extras)])["in_overtime"] == in_overtime]
    return found


def _sum(records: Table[Any], others: Table[Any], sign: int) -> Table[Any]:
    """Return records with others added as often as `sign` says, field by field."""
    one, other = plain(records), plain(others)
    return _with(records, **{name: one[name] + sign * other[name] for name in one.dtype.names or ()})


def _with(records: Table[Any], **columns: np.ndarray) -> Table[Any]:
    """Return a copy of records with other columns."""
    copy = plain(records).copy()
    for name, column in columns.items():
        copy[name] = column
    return cast(Table[Any], copy.view(np.recarray))


def _of_half(world: World, in_overtime: int) -> np.ndarray:
    """Return the members' minutes of one half, regular or overtime, and none of the other."""
    halves = world.member_time.reshape(-1, 2, k.MEMBER_STATES).copy()
    halves[:, 1 - in_overtime] = 0.0
    return halves.reshape(world.member_time.shape)


def _waits(study: StudyDocument, world: World) -> tuple[list[str], Values]:
    visits, departures = visits_of(study, world.visits, world.visit_extras), departures_of(study, world.departures)
    addresses: list[str] = []
    found: list[Values] = []
    for samples in samples_of(study, visits, departures, spans_of(study, world.spans), ("wait",)):
        told, values = figures_of(samples, ())
        kept = [number for number, address in enumerate(told) if address.rpartition("/")[2] in OF_WAITS]
        addresses += [told[number] for number in kept]
        found.append(values[kept])
    return addresses, np.concatenate(found)
