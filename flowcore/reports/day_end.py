"""The end of the day as it will be: when cases stop coming, how the lines run out, and who is still there."""

import time

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.problems import StudyError
from flowcore.results.series import by_week
from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import WEEK

SECONDS = 1.0
WEEKS = 8
Quarters = NDArray[np.float64]


class DayEnds(BaseModel):
    """A mean simulated week by quarter of an hour from Monday's midnight; None where the run has no such time.

    Cases that came, cases waiting in all lines, and members there by team. Nothing where a week takes too long to
    simulate in passing; `weeks` says how many there were.
    """

    weeks: int
    arrived: list[float | None]
    waiting: list[float | None]
    there: dict[str, list[float | None]]


def day_ends(study: StudyDocument) -> DayEnds:
    """Return the mean week of a study.

    Raises StudyError where a health check finds an error.
    """
    require_sound(study)
    settings = {"length": f"{min(minutes(study.run.length), WEEK)} min", "warm_up": "0 min", "interval": "15 min"}
    week = study.model_copy(update={"run": study.run.model_copy(update=settings)})
    get_ready()
    deadline = time.thread_time() + SECONDS
    replicate = Replicator(week, lambda: time.thread_time() > deadline)
    found = []
    try:
        for number in range(WEEKS):
            found.append(replicate(number).series)
    except (Stopped, StudyError):
        pass
    if not found:
        return DayEnds(weeks=0, arrived=[], waiting=[], there={})

    def mean_of(address: str) -> Quarters:
        mean: Quarters = np.mean([by_week(week, series[address]) for series in found], axis=0)
        return mean

    lines = [address for address in found[0] if address.startswith("step/") and address.endswith("/line")]
    return DayEnds(
        weeks=len(found),
        arrived=_known(mean_of("stream/all/arrived")),
        waiting=_known(np.sum([mean_of(line) for line in lines], axis=0) if lines else mean_of("type/all/inside")),
        there={team.id: _known(mean_of(f"team/{team.id}/present")) for team in study.teams},
    )


def _known(values: Quarters) -> list[float | None]:
    return [None if np.isnan(value) else float(value) for value in values]
