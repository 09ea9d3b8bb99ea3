"""The week as it will arrive, beside what the staff can handle."""

import time

from pydantic import BaseModel

from flowcore.problems import StudyError
from flowcore.results.series import by_week
from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import StudyDocument
from flowcore.study.timetable import ordinary_monday
from flowcore.theory.outlook import shared_with
from flowcore.theory.weekly import HOURS, arrivals_in_week, members_in_week, work_in_week

SECONDS = 0.6
"""Of computing, whatever else the machine does meanwhile."""
Hourly = list[float]


class WeekOfStream(BaseModel):
    """Cases by hour of an ordinary week from Monday's midnight: as expected, and as they came in one simulated week.

    `simulated` is None where a week takes too long to simulate in passing, or cannot be simulated.
    """

    expected: Hourly
    simulated: Hourly | None


class WeekOfTeam(BaseModel):
    """Members by hour of an ordinary week: those that the work would keep busy, and those who are there.

    `shared_with` are the teams that can do some of the same work; theory counts it for the first of them.
    """

    work: Hourly
    members: Hourly
    shared_with: list[str]


class DemandWeek(BaseModel):
    """An ordinary week of every stream and every team, 168 hours each."""

    streams: dict[str, WeekOfStream]
    teams: dict[str, WeekOfTeam]


def week_of_demand(study: StudyDocument) -> DemandWeek:
    """Return what an ordinary week of a study brings and asks for.

    Raises StudyError where a health check finds an error.
    """
    require_sound(study)
    came = _simulated(study)
    work = work_in_week(study)
    return DemandWeek(
        streams={
            stream.id: WeekOfStream(expected=arrivals_in_week(study, stream).tolist(), simulated=came.get(stream.id))
            for stream in study.streams
        },
        teams={
            team.id: WeekOfTeam(
                work=work[team.id].tolist(),
                members=members_in_week(study, team).tolist(),
                shared_with=shared_with(study, team.id),
            )
            for team in study.teams
        },
    )


def _simulated(study: StudyDocument) -> dict[str, Hourly]:
    """Return the arrivals of one simulated week that begins on a Monday's midnight, by stream; none where it fails."""
    settings = {"length": "1 wk", "warm_up": "0 min", "interval": "60 min", "until": None, "doors": None}
    monday = ordinary_monday(study).isoformat()
    week = study.model_copy(update={"start": monday, "run": study.run.model_copy(update=settings)})
    get_ready()
    deadline = time.thread_time() + SECONDS
    try:
        require_sound(week)
        series = Replicator(week, lambda: time.thread_time() > deadline)(0).series
    except (Stopped, StudyError):
        return {}
    return {
        stream.id: by_week(week, series[f"stream/{stream.id}/arrived"])[:HOURS].tolist() for stream in study.streams
    }
