"""The figures of one replication, each at its address."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.world import Plan, World
from flowcore.results.aims import aims_by_time
from flowcore.results.apart import Apart
from flowcore.results.arrays import Values
from flowcore.results.counted import Counted
from flowcore.results.counts import LevelShares
from flowcore.results.histogram import Histogram
from flowcore.results.ratios import Ratios
from flowcore.results.rows import Places, Row, Rows, places_of
from flowcore.results.samples import Sampler, figures_of, histograms_of
from flowcore.results.series import INSIDE, Course, Series
from flowcore.results.surveys import Ledgers, hours_of_week, intervals_of_run
from flowcore.results.tellers import APART, AT_ONCE, told_by
from flowcore.results.week import Week
from flowcore.study import StudyDocument


@dataclass(frozen=True)
class Replication:
    """What one replication yields: figures and histograms by address, series by interval and hour, levels over time.

    `cells` are what targets of days and intervals are judged by, by the key of the aim, each of shape (2, cells).
    """

    number: int
    figures: Row
    histograms: dict[str, Histogram]
    series: Series = field(default_factory=dict, compare=False)
    week: Series = field(default_factory=dict, compare=False)
    levels: Series = field(default_factory=dict, compare=False)
    cells: Mapping[str, NDArray[np.float64]] = field(default_factory=dict, compare=False)

    def to_keep(self) -> "Replication":
        """Return the same without what is large: its levels, and its series but for the cases inside.

        The week is kept to seven digits.
        """
        inside = {INSIDE: self.series[INSIDE].copy()} if INSIDE in self.series else {}
        week = self.week.to_keep() if isinstance(self.week, Rows) else self.week
        return replace(self, series=inside, week=week, levels={})


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
        self._counted = Counted(plan)
        apart = told_by(APART, study, self._counted)
        self._ratios = Ratios([*apart, *told_by(AT_ONCE, study, self._counted)])
        self._apart = Apart(study, self._counted, apart) if study.has_shifts else None
        hours = hours_of_week(study)
        self._ledgers = Ledgers(study, [hours], [intervals_of_run(study, plan), hours])
        self._samples = Sampler(study, self._ledgers.clocks)
        self._course, self._shares = Course(study, plan), LevelShares(study)
        self._week = Week(study, self._course.places)
        self._aims = aims_by_time(study, study.targets)
        self._known: tuple[list[str], Places] = [], {}

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
        read = self._ledgers(world)
        told: list[tuple[list[str], Values]] = []
        histograms: dict[str, Histogram] = {}
        for samples in self._samples(read):
            told.append(figures_of(samples, self._wanted))
            histograms |= histograms_of(samples)
        counted = self._counted(world, minutes, days_open)
        told.append((self._ratios.addresses, self._ratios(counted)))
        if self._apart is not None:
            told.append(self._apart(world, counted))
        course = self._course(world, read.departures.waits[0])
        week = self._week(course, read.visits.waits[0], read.departures.waits[1], float(world.clock[0].now))
        cells = {aim.key: sums for aim, sums in self._aims.split(self._aims.tell(world))}
        return Replication(number, self._row(told), histograms, course, week, self._shares(world), cells)

    def _row(self, told: list[tuple[list[str], Values]]) -> Row:
        """Return figures; all of this study's share the places of their addresses, whichever thread makes them."""
        addresses = list(chain.from_iterable(each for each, _ in told))
        known, places = self._known
        if addresses != known:
            places = places_of(addresses)
            self._known = addresses, places
        return Row(places, np.concatenate([values for _, values in told]))
