"""Figures by interval: over the run, and by the hour of the week."""

from collections.abc import Mapping
from datetime import datetime
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import Plan, World
from flowcore.kernel.run.worlds import rows_of_series
from flowcore.kernel.summary.ratios import sums_of_columns
from flowcore.results.arrays import ratios
from flowcore.results.rows import Rows, places_of
from flowcore.results.samples import INSTANT
from flowcore.results.staff import BUSY, PRESENT, STATES
from flowcore.results.sums import Sums, Terms
from flowcore.results.surveys import Waits, first_offset
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY, WEEK

Series = Mapping[str, NDArray[np.float64]]
INSIDE = "type/all/inside"
_SCARCELY = 1e-9


class Course:
    """Tells the course of figures over the run: each one's values by interval.

    By interval of the week where the run is too long for that. Lines, cases inside, members present, at work and in
    each state are means over the interval; arrivals and completions are counts; `type/all/wait` is the mean wait of
    those who arrived in it. The first interval begins on the clock's full interval at or before the start. Only what
    came after the warm-up is in the waits. Intervals that the run did not reach have no values.
    """

    def __init__(self, study: StudyDocument, plan: Plan) -> None:
        self._wholes = lru_cache(maxsize=1)(partial(wholes_of_rows, study, plan))
        of = plan.sections[0]
        lines, types, teams, streams = (
            np.arange(begin, end)[:, None]
            for begin, end in (
                (0, of.type_series),
                (of.type_series, of.team_series),
                (of.team_series, of.stream_series),
                (of.stream_series, of.series),
            )
        )
        timed = [number for number, step in enumerate(study.steps) if step.kind not in INSTANT]
        states = teams.reshape(-1, k.MEMBER_STATES)[: len(study.teams)]
        of_teams: dict[str, list[int]] = {f"state:{state}": list(columns) for state, columns in STATES.items()}
        of_teams |= {"present": list(PRESENT), "working": list(BUSY)}
        levels = [f"step/{study.steps[number].id}/line" for number in timed]
        levels += [INSIDE, *(f"type/{kind.id}/inside" for kind in study.case_types)]
        levels += [f"team/{team.id}/{name}" for team in study.teams for name in of_teams]
        counts = [
            *(f"stream/{stream.id}/arrived" for stream in study.streams),
            "stream/all/arrived",
            "type/all/completed",
        ]
        self._first_count = len(levels)
        self.places = places_of([*levels, *counts, "type/all/wait"])
        self._terms = Terms.of(
            [
                [Sums.at(lines[timed])],
                [Sums.at(types).whole()],
                [Sums.at(types[: len(study.case_types)])],
                [Sums.at(states[:, columns]) for columns in of_teams.values()],
                [Sums.at(streams[:-1])],
                [Sums.at(streams[:-1]).whole()],
                [Sums.at(streams[-1:])],
            ]
        )

    def __call__(self, world: World, waits: Waits) -> Rows:
        """Return the course of a world at its end, of whose cases `waits` are those by interval."""
        wholes = self._wholes(float(world.clock[0].now))
        found = sums_of_columns(world.series, *self._terms, wholes, self._first_count)
        return Rows(self.places, np.vstack([found, ratios(waits.sums[-1], waits.found[-1])]))


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


def wholes_of_rows(study: StudyDocument, plan: Plan, until: float) -> NDArray[np.float64]:
    """Return by what each row of the series of a run up to `until` is divided for means, and for counts.

    Shape (2, rows); not-a-number where the run did not get there.
    """
    lengths = row_lengths(study, plan, until)
    weeks = np.maximum(lengths / minutes(study.run.interval), 1.0) if plan.run[0].by_week else np.ones(len(lengths))
    return np.where(lengths > _SCARCELY, [lengths, weeks], np.nan)


def row_lengths(study: StudyDocument, plan: Plan, until: float) -> NDArray[np.float64]:
    """Return how many minutes of a run up to `until` each row of the series collected."""
    interval, rows = minutes(study.run.interval), rows_of_series(plan)
    offset = first_offset(study, interval)
    edges = np.arange(0, until + offset + interval, interval) - offset
    whole = np.diff(np.clip(edges, 0.0, until))
    if not plan.run[0].by_week:
        return np.pad(whole[:rows], (0, max(0, rows - len(whole))))
    return np.bincount(np.arange(len(whole)) % rows, whole, rows).astype(np.float64)
