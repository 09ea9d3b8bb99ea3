"""How many cases are inside over the run: the mean over the replications and the range of most of them."""

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.results.run import Results
from flowcore.results.steady_state import cases_inside, proposed_warm_up
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY

MOST_POINTS = 1000
LOW, HIGH = 10, 90


class Course(BaseModel):
    """Cases inside, point by point: each stands for `every` minutes of the run from its start.

    `low` and `high` hold eight replications of ten. The warm-up is what is left out now, the proposed one what MSER-5
    would leave out; both in minutes, None where it cannot be told. Nothing but the warm-up where no course was kept.
    """

    every: float
    mean: list[float]
    low: list[float]
    high: list[float]
    warm_up: float
    proposed: float | None
    days: bool


def course_of(study: StudyDocument, results: Results) -> Course:
    """Return the course of the cases inside, by few enough points to be drawn."""
    course = course_through(study, cases_inside(study, results))
    return course.model_copy(update={"proposed": proposed_warm_up(study, results)})


def course_through(study: StudyDocument, rows: NDArray[np.float64]) -> Course:
    """Return the course of a figure, of shape (replications, intervals), by few points; no warm-up is proposed."""
    interval = minutes(study.run.interval)
    together = max(1, -(-rows.shape[1] // MOST_POINTS))
    points = _together(rows, together)
    bounds = np.percentile(points, [LOW, HIGH], axis=0) if points.size else np.empty((2, 0))
    return Course(
        every=interval * together,
        mean=points.mean(axis=0).tolist() if points.size else [],
        low=bounds[0].tolist(),
        high=bounds[1].tolist(),
        warm_up=minutes(study.run.warm_up),
        proposed=None,
        days=minutes(study.run.length) >= 2 * DAY,
    )


def _together(rows: NDArray[np.float64], many: int) -> NDArray[np.float64]:
    """Return rows with so many values after the other made one, their mean; what is left over at the end falls away."""
    whole = rows.shape[1] // many * many
    means: NDArray[np.float64] = rows[:, :whole].reshape(len(rows), -1, many).mean(axis=2) if whole else rows[:, :0]
    return means
