"""How fast a study runs on this machine."""

import time
from collections.abc import Callable

from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY

SECONDS = 0.5
LONGER = 4.0


def seconds_a_replication(study: StudyDocument, clock: Callable[[], float] = time.thread_time) -> float:
    """Return about how long one replication of a study takes, found by running its beginning, ever longer parts of it.

    Takes half a second of computing or little more; what else the machine does is not counted. Raises StudyError where
    a health check finds an error.
    """
    require_sound(study)
    get_ready()
    whole = minutes(study.run.length)
    length, took = min(DAY, whole), 0.0
    deadline = clock() + SECONDS
    while True:
        began = clock()
        try:
            Replicator(_shortened(study, length), lambda: clock() > deadline)(0)
        except Stopped:
            return max(took, (clock() - began) * whole / length)
        took = (clock() - began) * whole / length
        if length == whole or clock() + (clock() - began) * LONGER > deadline:
            return took
        length = min(whole, LONGER * length)


def _shortened(study: StudyDocument, length: float) -> StudyDocument:
    shorter = {"length": f"{length} min", "warm_up": "0 min", "precision": None}
    return study.model_copy(update={"run": study.run.model_copy(update=shorter)})
