"""Figures by the hour of the week: what stands where on a Monday at ten, over all weeks of a replication."""

from collections.abc import Iterator
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.summary.columns import by_hour_of_week
from flowcore.kernel.summary.ratios import ratios_of_sums
from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.results.rows import Places, Rows, places_of
from flowcore.results.samples import INSTANT
from flowcore.results.staff import STATES
from flowcore.results.sums import Sums, Terms
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
        self._interval, self._starts_at = minutes(study.run.interval), minute_of_week(study)
        self._warm_up, self._length = minutes(study.run.warm_up), minutes(study.run.length)
        self._hours = lru_cache(maxsize=1)(partial(hours_counted, study))
        states = [f"team/{team.id}/state:{state}" for team in study.teams for state in STATES]
        apart = {WAIT, *states}
        series = [*(address for address in course if address not in apart), *states]
        self._series = [course[address] for address in series]
        steps = [number for number, step in enumerate(study.steps) if step.kind not in INSTANT]
        waits = [WAIT, *(f"type/{kind.id}/wait" for kind in study.case_types)]
        at_steps = [f"step/{study.steps[number].id}/{name}" for number in steps for name in ("wait", "arrived")]
        self.places = places_of([*series, *waits, *at_steps, *(f"team/{each.id}/utilisation" for each in study.teams)])
        self._terms = Terms.of(self._ratios(study, series, steps))

    def _ratios(self, study: StudyDocument, series: list[str], steps: list[int]) -> Iterator[list[Sums]]:
        """Yield parts and wholes of what is told, in the order of the places, as rows of what a week has counted."""
        types, of_types = len(study.case_types), max(1, len(study.case_types)) + 1
        hourly, waits, cases, waits_at, visits, hours, one = _rows_of(
            len(series), of_types, of_types, len(study.steps) + 1, len(study.steps) + 1, 1, 1
        )
        an_hour = [HOUR // self._interval if each.rpartition("/")[2] in COUNTS else 1.0 for each in series]
        of_teams = len(series) - len(study.teams) * len(STATES)
        states = hourly.places[of_teams:].reshape(-1, len(STATES))
        working = [self.places[f"team/{team.id}/working"] for team in study.teams]
        yield [(hourly * np.array(an_hour))[:of_teams], one.of_each(of_teams)]
        yield [hourly[of_teams:], Sums.at(np.repeat(states, len(STATES), axis=0))]
        yield [waits[[-1, *range(types)]], cases[[-1, *range(types)]]]
        yield [waits_at[steps], visits[steps], visits[steps], hours.of_each(len(steps))]
        yield [hourly[working], hourly[working] + Sums.at(states[:, [_IDLE, _INTERRUPTED]])]

    def __call__(self, course: Rows, at_steps: Waits, of_cases: Waits, until: float) -> Rows:
        """Return the week of a run that ended in the minute `until`; the waits are by hour."""
        counted = np.concatenate(
            [
                self._by_hour(course),
                *(of_cases.sums, of_cases.found),
                *(at_steps.sums, at_steps.found),
                *(self._hours(until), np.ones((1, HOURS_A_WEEK))),
            ]
        )
        return Rows(self.places, ratios_of_sums(counted, *self._terms, SCARCELY))

    def _by_hour(self, course: Rows) -> Hours:
        """Return the course over the week: its mean by the hour."""
        table = course.table[self._series]
        if table.shape[1] * self._interval >= self._length:
            table[:, : int(np.ceil(self._warm_up / self._interval))] = np.nan
        first = int(self._starts_at // self._interval)
        hourly: Hours = by_hour_of_week(table, first, int(HOUR // self._interval), HOURS_A_WEEK)
        return hourly


_IDLE, _INTERRUPTED = (list(STATES).index(state) for state in ("idle", "interrupted"))


def _rows_of(*many: int) -> Iterator[Sums]:
    """Yield so many rows each, one after the other."""
    for end, each in zip(np.cumsum(many), many, strict=True):
        yield Sums.at(np.arange(end - each, end)[:, None])


def hours_counted(study: StudyDocument, until: float) -> Hours:
    """Return how much of each hour of the week a run up to `until` counted, in all its weeks: shape (1, hours)."""
    begin, starts_at = minutes(study.run.warm_up), minute_of_week(study)
    end = max(begin, until)
    first = HOUR - (begin + starts_at) % HOUR
    edges = np.concatenate([[begin], np.arange(begin + first, end, HOUR), [end]])
    hours = hour_of_week(study, edges[:-1])
    return np.bincount(hours, edges[1:] - edges[:-1], HOURS_A_WEEK)[None] / HOUR


def hour_of_week(study: StudyDocument, moments: Hours) -> NDArray[np.int64]:
    """Return in which hours of the week moments are, in minutes since the run's start."""
    return ((moments + minute_of_week(study)) // HOUR).astype(np.int64) % HOURS_A_WEEK
