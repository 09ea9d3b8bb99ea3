"""Figures by the hour of the week: what stands where on a Monday at ten, over all weeks of a replication."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.summary.columns import by_hour_of_week
from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.results.rows import Places, Rows, places_of
from flowcore.results.samples import INSTANT
from flowcore.results.staff import STATES
from flowcore.results.surveys import Waits, minute_of_week
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import HOUR

Hours = NDArray[np.float64]
COUNTS = ("arrived", "completed")
WAIT = "type/all/wait"
SCARCELY = 1e-9


class Week:
    """Tells figures by the hour of the week from Monday's midnight, each of shape (HOURS_A_WEEK,).

    Lines, cases inside and members are means over the hour, members in a state a share of the team's, arrivals,
    completions and visits are counts of an hour, waits are means of those who came in it: to a step, or to the service.
    The warm-up is left out; not-a-number stands where the run has no such hour, or nobody came in it.
    """

    def __init__(self, study: StudyDocument, course: Places) -> None:
        """Take the study, and the places of what is told of the course of its runs."""
        self._study = study
        self._interval, self._starts_at = minutes(study.run.interval), minute_of_week(study)
        self._warm_up, self._length = minutes(study.run.warm_up), minutes(study.run.length)
        self._steps = [number for number, step in enumerate(study.steps) if step.kind not in INSTANT]
        series = [address for address in course if address != WAIT]
        self._series = [course[address] for address in series]
        self._counts = [place for place, address in enumerate(series) if address.rpartition("/")[2] in COUNTS]
        waits = [WAIT, *(f"type/{kind.id}/wait" for kind in study.case_types)]
        at_steps = [f"step/{study.steps[number].id}/{name}" for number in self._steps for name in ("wait", "arrived")]
        utilisation = [f"team/{team.id}/utilisation" for team in study.teams]
        self.places = places_of([*series, *waits, *at_steps, *utilisation])
        self._states = np.array(
            [[self.places[f"team/{team.id}/state:{state}"] for state in STATES] for team in study.teams], np.int64
        ).reshape(-1, len(STATES))
        self._working = [self.places[f"team/{team.id}/working"] for team in study.teams]

    def __call__(self, course: Rows, at_steps: Waits, of_cases: Waits, until: float) -> Rows:
        """Return the week of a run that ended in the minute `until`; the waits are by hour."""
        hourly = self._by_hour(course)
        hourly[self._counts] *= HOUR // self._interval
        types = [-1, *range(len(self._study.case_types))]
        waits = _ratio(of_cases.sums[types], of_cases.found[types])
        found = at_steps.found[self._steps]
        of_steps = np.stack(
            [_ratio(at_steps.sums[self._steps], found), _ratio(found, self._hours_counted(until))], axis=1
        ).reshape(-1, HOURS_A_WEEK)
        states, working = hourly[self._states], hourly[self._working]
        on_duty = working + states[:, _IDLE] + states[:, _INTERRUPTED]
        hourly[self._states] = _ratio(states, states.sum(axis=1, keepdims=True))
        return Rows(self.places, np.concatenate([hourly, waits, of_steps, _ratio(working, on_duty)]))

    def _by_hour(self, course: Rows) -> Hours:
        """Return the course over the week: its mean by the hour."""
        table = course.table[self._series]
        if table.shape[1] * self._interval >= self._length:
            table[:, : int(np.ceil(self._warm_up / self._interval))] = np.nan
        first = int(self._starts_at // self._interval)
        hourly: Hours = by_hour_of_week(table, first, int(HOUR // self._interval), HOURS_A_WEEK)
        return hourly

    def _hours_counted(self, until: float) -> Hours:
        """Return how much of each hour of the week the run counted: how many hours in all its weeks."""
        begin, end = self._warm_up, max(self._warm_up, until)
        first = HOUR - (begin + self._starts_at) % HOUR
        edges = np.concatenate([[begin], np.arange(begin + first, end, HOUR), [end]])
        hours = hour_of_week(self._study, edges[:-1])
        return np.bincount(hours, edges[1:] - edges[:-1], HOURS_A_WEEK) / HOUR


_IDLE, _INTERRUPTED = (list(STATES).index(state) for state in ("idle", "interrupted"))


def hour_of_week(study: StudyDocument, moments: Hours) -> NDArray[np.int64]:
    """Return in which hours of the week moments are, in minutes since the run's start."""
    return ((moments + minute_of_week(study)) // HOUR).astype(np.int64) % HOURS_A_WEEK


def _ratio(part: NDArray[Any], whole: NDArray[Any]) -> Hours:
    shape = np.broadcast_shapes(part.shape, whole.shape)
    ratios: Hours = np.divide(part, whole, out=np.full(shape, np.nan), where=whole > SCARCELY)
    return ratios
