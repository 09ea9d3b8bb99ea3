"""A short pilot of a run: how the number of cases inside settles, and how much of its beginning to leave out."""

import time
from collections.abc import Callable

import numpy as np
from pydantic import BaseModel

from flowcore.findings.trust import warm_up_words
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.results.steady_state import cases_inside, proposed_warm_up
from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import StudyDocument, minutes

SECONDS = 4.0
REPLICATIONS = 10
MOST_POINTS = 400
TOO_LONG = "One replication takes too long to be tried in passing. Run it: its findings say how much to leave out."


class Pilot(BaseModel):
    """The mean number of cases inside over so many replications, a point every so many minutes from the start on.

    `proposed` is the warm-up in minutes that leaves out what is unlike the rest; None where that cannot be told.
    """

    replications: int
    every: float
    inside: list[float]
    proposed: float | None
    words: str


def pilot(study: StudyDocument, clock: Callable[[], float] = time.thread_time) -> Pilot:
    """Run a study a few times without a warm-up, for a few seconds.

    Raises StudyError where a health check finds an error and where the study stands still.
    """
    require_sound(study)
    get_ready()
    deadline = clock() + SECONDS
    without = study.model_copy(update={"run": study.run.model_copy(update={"warm_up": "0 min", "precision": None})})
    replicate = Replicator(without, lambda: clock() > deadline)
    found: list[Replication] = []
    try:
        for number in range(REPLICATIONS):
            found.append(replicate(number))
    except Stopped:
        pass
    results = Results.of(found, study.run.confidence)
    course = cases_inside(without, results)
    if not course.size:
        return Pilot(replications=len(found), every=0.0, inside=[], proposed=None, words=TOO_LONG)
    proposed = proposed_warm_up(without, results)
    step = max(1, -(-course.shape[1] // MOST_POINTS))
    whole = course.shape[1] // step * step
    means = course.mean(axis=0)[:whole].reshape(-1, step).mean(axis=1)
    return Pilot(
        replications=len(found),
        every=step * minutes(study.run.interval),
        inside=np.nan_to_num(means).tolist(),
        proposed=proposed,
        words=warm_up_words(proposed),
    )
