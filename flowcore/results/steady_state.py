"""Whether a run has settled: how much of its beginning to leave out, and what makes its figures doubtful."""

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray

from flowcore.problems import Problem, warning_at
from flowcore.results.after_hours import work_outlives_people
from flowcore.results.run import Results
from flowcore.results.series import INSIDE, Series
from flowcore.results.statistics import estimate
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY, WEEK
from flowcore.study.runs import ONE_REPLICATION
from flowcore.study.streams import AppointmentStream, ProfileStream
from flowcore.thresholds import CERTAIN, FULL, GROWTH, STILL_INSIDE

"""The series of a replication by which it is told whether a run has settled."""
_BATCH = 5
_LEAST_BATCHES = 10
_ROUNDING = 1e-12


def mser5(values: NDArray[np.float64], least: int = 25) -> int | None:
    """Return how many of the first values to leave out; None for fewer than fifty, or if most had to go.

    The cut is where the standard error of the mean of what is left, over batches of five values, is
    least; at least `least` values are left. Source: White, Cobb and Spratt, A comparison of five
    steady-state truncation heuristics for simulation, Proceedings of the Winter Simulation Conference (2000).
    """
    batches = len(values) // _BATCH
    if batches < _LEAST_BATCHES:
        return None
    means = values[: batches * _BATCH].reshape(batches, _BATCH).mean(axis=1)
    means -= means[batches // 2 :].mean()
    left = np.arange(batches, 0, -1)
    sums, squares = (np.cumsum(each[::-1])[::-1] for each in (means, means**2))
    errors = np.maximum(squares - sums**2 / left, 0.0) / left.astype(np.float64) ** 2
    errors = errors[: batches - least // _BATCH]
    cut = int(np.argmax(errors <= errors.min() + _ROUNDING * errors.max()))
    return cut * _BATCH if cut <= batches // 2 else None


def cycle_of(study: StudyDocument) -> float:
    """Return after how many minutes a service's timetable begins anew; zero where it has none.

    It is a week wherever rosters, calendars, a profile or appointments say when things happen, or a
    day in a run that does not hold two weeks.
    """
    timed = any(isinstance(stream, ProfileStream | AppointmentStream) for stream in study.streams)
    if not (timed or study.calendars or any(team.roster for team in study.teams)):
        return 0.0
    return WEEK if minutes(study.run.length) >= 2 * WEEK else DAY


def cases_inside(study: StudyDocument, results: Results) -> NDArray[np.float64]:
    """Return the cases inside by replication and interval; see `by_interval`."""
    return by_interval(study, [each.series for each in results.replications], INSIDE)


def by_interval(study: StudyDocument, courses: Sequence[Series], address: str) -> NDArray[np.float64]:
    """Return a series by replication and interval, or nothing where the run was too long to keep it.

    Intervals that not all replications reached are left out.
    """
    interval = minutes(study.run.interval)
    rows = [course[address] for course in courses]
    if not rows or len(rows[0]) * interval < minutes(study.run.length):
        return np.empty((0, 0))
    shortest = min(int((~np.isnan(row)).sum()) for row in rows)
    return np.array([row[:shortest] for row in rows])


def proposed_warm_up(study: StudyDocument, results: Results) -> float | None:
    """Return how many minutes to leave out at the beginning, by MSER-5 on the cases inside.

    The cases inside are averaged over the replications, and what they are on average at the same
    place of the timetable is taken off them. None where the run is too short to tell, or has not
    settled within its first half.
    """
    inside = cases_inside(study, results)
    interval = minutes(study.run.interval)
    turn = max(1, int(cycle_of(study) // interval))
    turns = inside.shape[1] // turn
    if turns < 2:
        return None
    course = inside[:, : turns * turn].mean(axis=0).reshape(turns, turn)
    cut = mser5((course - course.mean(axis=0)).ravel(), max(25, turn))
    return None if cut is None else cut * interval


def doubts(study: StudyDocument, results: Results) -> list[Problem]:
    """Return what makes a run's figures doubtful, gravest first; nothing of a run that has none yet."""
    if not results.replications:
        return []
    return [
        *_overloads(study, results),
        *_growth(study, results),
        *work_outlives_people(study, lambda address: results.figure(address).mean),
        *_left_inside(results),
        *_single(results),
    ]


def _overloads(study: StudyDocument, results: Results) -> Iterator[Problem]:
    for team in study.teams:
        load = results.figure(f"team/{team.id}/utilisation").mean
        if load is not None and load >= FULL:
            yield warning_at(
                f"teams/{team.id}",
                f"{team.name} were at work {100 * load:.1f} % of their time: their lines grow as long as cases come.",
                "Have more of them, or let cases take less; every wait here is a lower bound.",
            )


def _growth(study: StudyDocument, results: Results) -> Iterator[Problem]:
    """Warn where the second half of the run, in whole turns of the timetable, holds more cases than the first."""
    inside = cases_inside(study, results)
    interval = minutes(study.run.interval)
    turn = max(1, int(cycle_of(study) // interval))
    begins = int(-(-minutes(study.run.warm_up) // interval))
    half = (inside.shape[1] - begins) // (2 * turn) * turn if inside.size else 0
    if half < 2:
        return
    first, second = inside[:, -2 * half : -half].mean(axis=1), inside[:, -half:].mean(axis=1)
    growth = estimate(second - first, CERTAIN)
    if growth.low is not None and growth.low > 0 and second.mean() > (1 + GROWTH) * first.mean():
        yield warning_at(
            "run",
            f"The run has not settled: {first.mean():.1f} cases were inside on average in its first half, "
            f"{second.mean():.1f} in its second.",
            "Lengthen the run or its warm-up; if the number goes on growing, more work comes than can be done.",
        )


def _left_inside(results: Results) -> Iterator[Problem]:
    inside = results.figure("type/all/inside/end").mean or 0.0
    completed = results.figure("type/all/completed").mean or 0.0
    if inside > STILL_INSIDE * completed:
        yield warning_at(
            "run/length",
            f"{inside:,.0f} cases were still inside at the end, and {completed:,.0f} completed: "
            "the figures are of those that left.",
            "Lengthen the run.",
        )


def _single(results: Results) -> Iterator[Problem]:
    if len(results.replications) == 1:
        yield ONE_REPLICATION
