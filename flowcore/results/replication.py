"""The figures of one replication, each at its address."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.world import World
from flowcore.results.apart import apart
from flowcore.results.counts import causes, counts, level_shares, levels, outcomes, values
from flowcore.results.histogram import Histogram
from flowcore.results.measures import measures
from flowcore.results.samples import Figures, figures_of, histograms_of, samples_of
from flowcore.results.series import Series, series_of
from flowcore.results.staff import costs, teams
from flowcore.results.surveys import departures_of, hours_of_week, intervals_of_run, spans_of, visits_of
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
    """What one replication yields: figures and histograms by address, series by interval and hour, levels over time."""

    number: int
    figures: Mapping[str, float]
    histograms: dict[str, Histogram]
    series: Series = field(default_factory=dict, compare=False)
    week: Mapping[str, NDArray[np.float64]] = field(default_factory=dict, compare=False)
    levels: Series = field(default_factory=dict, compare=False)


def wanted_shares(study: StudyDocument) -> tuple[str, ...]:
    """Return the addresses of shares within a time that the study's targets and precision ask for."""
    addresses = [target.figure for target in study.targets]
    if study.run.precision is not None:
        addresses += study.run.precision.figures
    return tuple(dict.fromkeys(address for address in addresses if "/within:" in address))


class Summary:
    """Makes the replications of a study of what its settled worlds have collected."""

    def __init__(self, study: StudyDocument) -> None:
        self._study = study
        self._wanted = wanted_shares(study)
        self._places: dict[str, int] = {}

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
        found = summarise(self._study, self._wanted, world, number, minutes, days_open)
        places = self._places
        if places.keys() != found.figures.keys():
            self._places = places = {address: place for place, address in enumerate(found.figures)}
        numbers = np.fromiter((found.figures[address] for address in places), np.float64, len(places))
        return replace(found, figures=Row(places, numbers))


def summarise(
    study: StudyDocument, wanted: tuple[str, ...], world: World, number: int, minutes: float, days_open: int
) -> Replication:
    """Return the figures of a settled world; of shares within a time those that are wanted. See `Summary`."""
    clock = world.clock[0]
    visits = visits_of(study, world.visits[: clock.visits], [hours_of_week(study)])
    by_time = [intervals_of_run(study, world), hours_of_week(study)]
    departures = departures_of(study, world.departures[: clock.departures], by_time)
    spans = spans_of(study, world.spans[: clock.span_rows])
    figures: Figures = {}
    histograms: dict[str, Histogram] = {}
    for samples in samples_of(study, visits, departures, spans):
        figures |= figures_of(samples, wanted)
        histograms |= histograms_of(samples)
    figures |= outcomes(study, world)
    figures |= counts(study, world)
    figures |= levels(study, world, minutes)
    figures |= causes(study, world)
    figures |= values(study, world)
    figures |= measures(study, world)
    figures |= teams(study, world, minutes)
    figures |= costs(study, world, minutes, days_open)
    figures |= apart(study, world, minutes, days_open)
    figures["run/minutes"] = minutes
    series = series_of(study, world, departures.waits[0], float(clock.now))
    week = week_of(study, series, visits.waits[0], departures.waits[1], float(clock.now))
    return Replication(number, figures, histograms, series, week, level_shares(study, world))
