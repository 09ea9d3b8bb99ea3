"""Figures by interval: over the run, and by the hour of the week."""

from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import series_of_counts, series_of_lines, series_of_states, series_of_types
from flowcore.results.arrays import ratios
from flowcore.results.samples import INSTANT
from flowcore.results.staff import STATES
from flowcore.results.surveys import Waits, first_offset
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY, WEEK

Series = dict[str, NDArray[np.float64]]


def series_of(study: StudyDocument, world: World, waits: Waits, until: float) -> Series:
    """Return each figure's values by interval of the run, or of the week where the run is too long for that.

    Lines, cases inside, members present, at work and in each state are means over the interval; arrivals and
    completions are counts; `type/all/wait` is the mean wait of those who arrived in it. The first
    interval begins on the clock's full interval at or before the start. Only what came after the
    warm-up is in the waits, `waits` of which are by interval. Intervals that the run did not reach have no values.
    """
    interval = minutes(study.run.interval)
    lengths = row_lengths(study, world, interval, until)
    series: Series = {}
    for step, line in zip(study.steps, series_of_lines(world).T, strict=True):
        if step.kind not in INSTANT:
            series[f"step/{step.id}/line"] = _over(line, lengths)
    inside = series_of_types(world)
    series["type/all/inside"] = _over(inside.sum(axis=1), lengths)
    series |= {f"type/{kind.id}/inside": _over(inside[:, n], lengths) for n, kind in enumerate(study.case_types)}
    states = series_of_states(world)
    for number, team in enumerate(study.teams):
        series |= {address: _over(sums, lengths) for address, sums in _of_team(team.id, states[:, number]).items()}
    streams = len(study.streams)
    weeks = np.maximum(lengths / interval, 1.0) if world.plan.run[0].by_week else np.ones(len(lengths))
    weeks[lengths <= 1e-9] = np.nan
    counts = series_of_counts(world) / weeks[:, None]
    for number, stream in enumerate(study.streams):
        series[f"stream/{stream.id}/arrived"] = counts[:, number]
    series["stream/all/arrived"] = counts[:, :streams].sum(axis=1)
    series["type/all/completed"] = counts[:, streams]
    series["type/all/wait"] = ratios(waits.sums[-1], waits.found[-1])
    return series


def _of_team(team: str, states: NDArray[np.float64]) -> Series:
    """Return the minutes of a team's members by state, and of those present and at work, from the kernel's states."""
    sums = {f"team/{team}/state:{state}": states[:, list(columns)].sum(axis=1) for state, columns in STATES.items()}
    there = states.sum(axis=1) - states[:, [k.MemberState.OFF, k.MemberState.ABSENT]].sum(axis=1)
    working = states[:, [k.MemberState.WORKING, k.MemberState.WALKING]].sum(axis=1)
    return sums | {f"team/{team}/present": there, f"team/{team}/working": working}


def by_week(study: StudyDocument, values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the mean of a run's intervals for each interval of the week, from Monday's midnight; NaN for none."""
    interval = minutes(study.run.interval)
    start = datetime.fromisoformat(study.start)
    many = int(WEEK // interval)
    first = int((start.weekday() * DAY + start.hour * 60 + start.minute) // interval)
    places = (first + np.arange(len(values))) % many
    known = ~np.isnan(values)
    sums = np.bincount(places[known], values[known], many)
    found = np.bincount(places[known], minlength=many)
    means: NDArray[np.float64] = np.divide(sums, found, out=np.full(many, np.nan), where=found > 0)
    return means


def row_lengths(study: StudyDocument, world: World, interval: float, until: float) -> NDArray[np.float64]:
    """Return how many minutes of the run each row of the series collected."""
    offset = first_offset(study, interval)
    edges = np.arange(0, until + offset + interval, interval) - offset
    whole = np.diff(np.clip(edges, 0.0, until))
    rows = len(world.series)
    if not world.plan.run[0].by_week:
        return np.pad(whole[:rows], (0, max(0, rows - len(whole))))
    return np.bincount(np.arange(len(whole)) % rows, whole, rows).astype(np.float64)


def _over(sums: NDArray[np.float64], lengths: NDArray[np.float64]) -> NDArray[np.float64]:
    means: NDArray[np.float64] = np.divide(sums, lengths, out=np.full(len(sums), np.nan), where=lengths > 1e-9)
    return means
