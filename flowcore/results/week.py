"""Figures by the hour of the week: what stands where on a Monday at ten, over all weeks of a replication."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.summary.columns import by_hour_of_week
from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.results.samples import INSTANT
from flowcore.results.series import Series
from flowcore.results.staff import STATES
from flowcore.results.surveys import Waits, minute_of_week
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import HOUR

Hours = NDArray[np.float64]
COUNTS = ("arrived", "completed")
SCARCELY = 1e-9


def week_of(study: StudyDocument, series: Series, at_steps: Waits, of_cases: Waits, until: float) -> Series:
    """Return figures by the hour of the week from Monday's midnight, each of shape (HOURS_A_WEEK,).

    Lines, cases inside and members are means over the hour, members in a state a share of the team's, arrivals,
    completions and visits are counts of an hour, waits are means of those who came in it: to a step, or to the service.
    `at_steps` and `of_cases` are those waits, `until` is the minute in which the run ended. The warm-up is left out;
    not-a-number stands where the run has no such hour, or nobody came in it.
    """
    hours = _of_series(study, series)
    counted = _hours_counted(study, until)
    for number, subject in ((-1, "all"), *enumerate(kind.id for kind in study.case_types)):
        hours[f"type/{subject}/wait"] = _ratio(of_cases.sums[number], of_cases.found[number])
    for number, step in enumerate(study.steps):
        if step.kind not in INSTANT:
            hours[f"step/{step.id}/wait"] = _ratio(at_steps.sums[number], at_steps.found[number])
            hours[f"step/{step.id}/arrived"] = _ratio(at_steps.found[number], counted)
    return hours | _of_members(study, hours)


def _hours_counted(study: StudyDocument, until: float) -> Hours:
    """Return how much of each hour of the week the run counted: how many hours in all its weeks."""
    begin = minutes(study.run.warm_up)
    first = HOUR - (begin + minute_of_week(study)) % HOUR
    edges = np.concatenate([[begin], np.arange(begin + first, max(begin, until), HOUR), [max(begin, until)]])
    return np.bincount(hour_of_week(study, edges[:-1]), np.diff(edges), HOURS_A_WEEK) / HOUR


def hour_of_week(study: StudyDocument, moments: Hours) -> NDArray[np.int64]:
    """Return in which hours of the week moments are, in minutes since the run's start."""
    return ((moments + minute_of_week(study)) // HOUR).astype(np.int64) % HOURS_A_WEEK


def _of_members(study: StudyDocument, hours: Series) -> Series:
    """Return by team how busy those on duty are, and the states as shares of all members."""
    found: Series = {}
    for team in study.teams:
        address = f"team/{team.id}"
        states = {state: hours[f"{address}/state:{state}"] for state in STATES}
        whole = sum(states.values(), np.zeros(HOURS_A_WEEK))
        working = hours[f"{address}/working"]
        found |= {f"{address}/state:{state}": _ratio(members, whole) for state, members in states.items()}
        found[f"{address}/utilisation"] = _ratio(working, working + states["idle"] + states["interrupted"])
    return found


def _ratio(part: NDArray[Any], whole: NDArray[Any]) -> Hours:
    ratios: Hours = np.divide(part, whole, out=np.full(HOURS_A_WEEK, np.nan), where=whole > SCARCELY)
    return ratios


def _of_series(study: StudyDocument, series: Series) -> Series:
    """Return the course of each series over the week: its mean by the hour, of counts the sum."""
    if not series:
        return {}
    interval = minutes(study.run.interval)
    per_hour = int(HOUR // interval)
    table = np.array(list(series.values()))
    if table.shape[1] * interval >= minutes(study.run.length):
        table[:, : int(np.ceil(minutes(study.run.warm_up) / interval))] = np.nan
    first = int(minute_of_week(study) // interval)
    hourly = by_hour_of_week(table, first, per_hour, HOURS_A_WEEK)
    return {
        address: hourly[row] * (per_hour if address.rpartition("/")[2] in COUNTS else 1)
        for row, address in enumerate(series)
        if address != "type/all/wait"
    }
