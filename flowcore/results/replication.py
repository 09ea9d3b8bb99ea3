"""The figures of one replication, each at its address."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.world import Plan, World
from flowcore.results.aims import aims_by_time
from flowcore.results.apart import Apart
from flowcore.results.arrays import Values
from flowcore.results.catalogue import MINUTES_COUNTED
from flowcore.results.counts import Causes, Counts, Levels, Outcomes, ValueShares, level_shares
from flowcore.results.histogram import Histogram
from flowcore.results.measures import Measures
from flowcore.results.samples import figures_of, histograms_of, samples_of
from flowcore.results.series import Series, series_of
from flowcore.results.staff import Costs, Teams
from flowcore.results.surveys import departures_of, extras_of, hours_of_week, intervals_of_run, spans_of, visits_of
from flowcore.results.week import week_of
from flowcore.study import StudyDocument


@dataclass(frozen=True, eq=False)
class Row(Mapping[str, float]):
    """The figures of one replication of many: numbers in the order of addresses that all of them share."""

    places: Mapping[str, int]
    numbers: NDArray[np.float64]

    def __getitem__(self, address: str) -> float:
        return float(self.numbers[self.places[address]])

    def __iter__(self) -> Iterator[str]:
        return iter(self.places)

    def __len__(self) -> int:
        return len(self.places)


@dataclass(frozen=True)
class Replication:
    """What one replication yields: figures and histograms by address, series by interval and hour, levels over time.

    `cells` are what targets of days and intervals are judged by, by the key of the aim, each of shape (2, cells).
    """

    number: int
    figures: Mapping[str, float]
    histograms: dict[str, Histogram]
    series: Series = field(default_factory=dict, compare=False)
    week: Mapping[str, NDArray[np.float64]] = field(default_factory=dict, compare=False)
    levels: Series = field(default_factory=dict, compare=False)
    cells: Mapping[str, NDArray[np.float64]] = field(default_factory=dict, compare=False)


def wanted_shares(study: StudyDocument) -> tuple[str, ...]:
    """Return the addresses of shares within a time that the study's targets and precision ask for."""
    addresses = [target.figure for target in study.targets]
    if study.run.precision is not None:
        addresses += study.run.precision.figures
    return tuple(dict.fromkeys(address for address in addresses if "/within:" in address))


class Summary:
    """Makes the replications of a study of what its worlds have collected."""

    def __init__(self, study: StudyDocument, plan: Plan) -> None:
        self._study = study
        self._wanted = wanted_shares(study)
        self._outcomes, self._counts, self._levels = Outcomes(study), Counts(study, plan), Levels(study)
        self._causes, self._values, self._measures = Causes(study), ValueShares(study), Measures(study)
        self._teams, self._costs, self._apart = Teams(study, plan), Costs(study), Apart(study)
        self._aims = aims_by_time(study, study.targets)
        self._known: tuple[list[str], dict[str, int]] = [], {}

    def __call__(self, world: World, number: int, minutes: float, days_open: int) -> Replication:
        """Return what a replication yields.

        Parameters
        ----------
        world
            At its end, its books closed.
        number
            Of the replication, from zero.
        minutes
            For how long it collected: its length without the warm-up.
        days_open
            On how many of those days the service opened.

        Returns
        -------
        Replication
            Its figures in the order of addresses that all of this study's share.
        """
        study, clock = self._study, world.clock[0]
        visits = visits_of(study, world.visits[: clock.visits], extras_of(world), [hours_of_week(study)])
        by_time = [intervals_of_run(study, world), hours_of_week(study)]
        departures = departures_of(study, world.departures[: clock.departures], by_time)
        spans = spans_of(study, world.spans[: clock.span_rows])
        told: list[tuple[list[str], Values]] = []
        histograms: dict[str, Histogram] = {}
        for samples in samples_of(study, visits, departures, spans):
            told.append(figures_of(samples, self._wanted))
            histograms |= histograms_of(samples)
        told += self._of_world(world, minutes, days_open)
        until = float(clock.now)
        series = series_of(study, world, departures.waits[0], until)
        week = week_of(study, series, visits.waits[0], departures.waits[1], until)
        cells = {aim.key: sums for aim, sums in self._aims.split(self._aims.tell(world))}
        return Replication(number, self._row(told), histograms, series, week, level_shares(study, world), cells)

    def _of_world(self, world: World, minutes: float, days_open: int) -> Iterator[tuple[list[str], Values]]:
        """Yield the figures that are not of cases and visits, with their addresses."""
        yield self._outcomes.addresses, self._outcomes(world)
        yield self._counts.addresses, self._counts(world)
        yield self._levels.addresses, self._levels(world, minutes)
        yield self._causes.addresses, self._causes(world)
        yield self._values.addresses, self._values(world)
        yield self._measures.addresses, self._measures(world)
        yield self._teams.addresses, self._teams(world, minutes)
        yield self._costs.addresses, self._costs(world, minutes, days_open)
        yield self._apart(world, minutes, days_open)
        yield [MINUTES_COUNTED], np.array([minutes])

    def _row(self, told: list[tuple[list[str], Values]]) -> Row:
        """Return figures; all of this study's share the places of their addresses, whichever thread makes them."""
        addresses = list(chain.from_iterable(each for each, _ in told))
        known, places = self._known
        if addresses != known:
            places = {address: place for place, address in enumerate(addresses)}
            self._known = addresses, places
        return Row(places, np.concatenate([values for _, values in told]))
