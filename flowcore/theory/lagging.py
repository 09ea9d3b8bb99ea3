"""Offered load that lags behind the arrivals: a network of endless servers whose arrivals vary over the week."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument
from flowcore.study.distributions import Distribution, mean_of
from flowcore.study.distributions.shape import Shape
from flowcore.study.durations import WEEK
from flowcore.study.graph import links_of
from flowcore.study.steps import Delay, Fork, Serve, Step
from flowcore.theory.network import entering, way_shares, work_for
from flowcore.theory.weekly import arrivals_in_week

Floats = NDArray[np.float64]
FINEST = 5.0
"""The longest time, in minutes, in which all is taken to happen at once."""
FEW_STEPS = 60
"""With more steps than these an interval is one part, or their equations take too long."""
SLIPS_AWAY = 0.1
"""Where cases leave a loop only by giving up, so large a share of those at each step is taken to do so."""
MOST_WEEKS = 8
"""What lasts longer than so many weeks is taken to end then."""


class Lagging:
    """What comes to each step in the course of an ordinary week, and how many are in work there, were nobody to wait.

    Source: Massey and Whitt, Networks of infinite-server queues with nonstationary Poisson input, Queueing Systems 13
    (1993): the arrivals at a step are those from outside and the departures of others, each its arrivals spread over
    the time there. The week repeats for ever, so that is a linear system for every frequency of it.
    """

    def __init__(self, study: StudyDocument, interval: float) -> None:
        self._study = study
        self._parts = max(1, round(interval / FINEST)) if len(study.steps) <= FEW_STEPS else 1
        self._width = interval / self._parts
        self._count = round(WEEK / self._width)
        self._types = [kind.id for kind in study.case_types] or [""]
        self._outside = self._from_outside()
        self._arrivals = (
            [self._arriving(row, kind) for row, kind in enumerate(self._types)] if self._outside.any() else []
        )

    def arrivals(self, step: int) -> Floats:
        """Return the cases that come to a step of the document in each interval, shape (intervals,)."""
        return self._summed(sum((self._back(each[:, step]) for each in self._arrivals), np.zeros(self._count)))

    def in_work(self, step: int) -> Floats:
        """Return the mean number in work, or in a delay, at a step in each interval, shape (intervals,)."""
        found = np.zeros(self._count)
        for kind, arrivals in zip(self._types, self._arrivals, strict=False):
            there = np.fft.rfft(self._survival(self._study.steps[step], kind))
            found += self._back(arrivals[:, step] * there)
        return self._summed(found) / self._parts

    def _summed(self, fine: Floats) -> Floats:
        summed: Floats = np.maximum(fine.reshape(-1, self._parts).sum(axis=1), 0.0)
        return summed

    def _back(self, spectrum: NDArray[np.complex128]) -> Floats:
        return np.asarray(np.fft.irfft(spectrum, self._count))

    def _from_outside(self) -> Floats:
        """Return what streams bring, shape (types, steps, parts of the week)."""
        found = np.zeros((len(self._types), len(self._study.steps), self._count))
        for stream in self._study.streams:
            found += entering(self._study, stream)[:, :, None] * arrivals_in_week(self._study, stream, self._width)
        return found

    def _arriving(self, row: int, kind: str) -> NDArray[np.complex128]:
        """Return the spectrum of what comes to each step of a case type, shape (frequencies, steps)."""
        steps = self._study.steps
        outside = np.fft.rfft(self._outside[row], axis=1).T
        spread = np.fft.rfft(np.array([self._spread(step, kind) for step in steps]), axis=1).T
        ways = self._ways(kind)
        try:
            return np.array([_solved(ways, each, come) for each, come in zip(spread, outside, strict=True)])
        except np.linalg.LinAlgError:
            ways *= 1 - SLIPS_AWAY
            return np.array([_solved(ways, each, come) for each, come in zip(spread, outside, strict=True)])

    def _ways(self, kind: str) -> Floats:
        """Return the share of those at each step that goes on to each other one; branches of a fork end at its join."""
        index = {step.id: number for number, step in enumerate(self._study.steps)}
        branches = {
            step.join: max(1.0, sum(way_shares(step, kind))) for step in self._study.steps if isinstance(step, Fork)
        }
        ways = np.zeros((len(index), len(index)))
        for row, step in enumerate(self._study.steps):
            for link, share in zip(links_of(step), way_shares(step, kind), strict=True):
                ways[row, index[link.to]] += share / branches.get(step.id, 1.0)
        return ways

    def _spread(self, step: Step, kind: str) -> Floats:
        """Return how the time at a step is spread over the parts of a week, shape (parts,): shares of one.

        Times are rounded to whole parts; so many of those that end at once end a part later that the mean is right.
        """
        if not isinstance(step, Serve | Delay):
            return self._at_once(1.0)
        time = _time_at(step, kind)
        if mean_of(time) <= 0:
            return self._at_once(1.0)
        shares = np.diff(np.append(self._within(time, 0.5), 1.0), prepend=0.0)
        lacking = mean_of(time) / self._width - float(shares @ np.arange(len(shares)))
        moved = min(max(lacking, -shares[1]), shares[0])
        shares[:2] += -moved, moved
        return self._folded(shares)

    def _survival(self, step: Step, kind: str) -> Floats:
        """Return the mean number in work of one who came, by parts of the week since: their sum is the mean work.

        Who came in a part came in its middle on average, and so was there for half of it.
        """
        if not isinstance(step, Serve | Delay):
            return np.zeros(self._count)
        time = _time_at(step, kind)
        mean = mean_of(time) / self._width
        going_on = 1 - self._within(time, 0.0)
        going_on[0] = 0.5
        return np.asarray(self._folded(going_on) * (mean / going_on.sum()))

    def _within(self, time: Distribution, shift: float) -> Floats:
        """Return the share of times that are over after so many parts of the week and `shift` more."""
        parts: Floats = np.arange(MOST_WEEKS * self._count, dtype=np.float64)
        return share_within(time, (parts + shift) * self._width)

    def _at_once(self, share: float) -> Floats:
        found = np.zeros(self._count)
        found[0] = share
        return found

    def _folded(self, values: Floats) -> Floats:
        """Return values of many weeks added up to those of one."""
        whole = -(-len(values) // self._count) * self._count
        folded: Floats = np.pad(values, (0, whole - len(values))).reshape(-1, self._count).sum(axis=0)
        return folded


def _time_at(step: Serve | Delay, kind: str) -> Distribution:
    return work_for(step.work if isinstance(step, Serve) else step.time, kind)


def _solved(ways: Floats, times: NDArray[np.complex128], come: NDArray[np.complex128]) -> NDArray[np.complex128]:
    """Return what comes to each step at one frequency: λ = a + λ D P with D the times at the steps."""
    return np.asarray(np.linalg.solve(np.eye(len(ways)) - (ways * times[:, None]).T, come))


def share_within(time: Distribution, limits: Floats | Sequence[float]) -> Floats:
    """Return the share of what a distribution brings that lies within each limit, in minutes."""
    at = np.asarray(limits, np.float64)
    if not isinstance(time, Shape) or not time.variance() > 0:
        return (at >= mean_of(time) - 1e-12).astype(np.float64)
    if time.separate:
        points = time.points()
        values = np.array([point.at for point in points])
        upto = np.concatenate([[0.0], np.cumsum([point.weight for point in points])])
        found: Floats = upto[np.searchsorted(values, at + 1e-12, side="right")]
        return found
    return np.asarray(time.law().cdf(at), np.float64)
