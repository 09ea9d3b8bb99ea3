"""Checks on the hours of the week: that someone is there when cases come, and that work does not pile up."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from flowcore.checks.registry import doubt
from flowcore.problems import Problem, warning_at
from flowcore.study import StudyDocument
from flowcore.study.calendars import DAYS
from flowcore.study.graph import first_reached
from flowcore.study.needs import teams_of
from flowcore.study.steps import Serve
from flowcore.theory.weekly import HOURS, arrivals_in_week, members_in_week, work_in_week
from flowcore.thresholds import FULL, LONG_BACKLOG, SOME_ARRIVALS


def first_served(study: StudyDocument, step_id: str) -> list[Serve]:
    """Return the steps with people at which a case that enters at a step may have to wait first."""
    reached = first_reached(study, step_id, passed=("choose", "set", "fork"))
    return [step for step in study.steps if step.id in reached and isinstance(step, Serve) and step.needs]


@doubt
def someone_is_there_when_cases_come(study: StudyDocument) -> Iterator[Problem]:
    """Wherever cases come in, those whom they need have a shift in the hours when they come."""
    teams = {team.id: team for team in study.teams}
    for stream in study.streams:
        arrivals = arrivals_in_week(study, stream)
        for step in first_served(study, stream.to):
            for need in step.needs:
                able = [teams[team] for team in teams_of(need, study)]
                there = np.sum([members_in_week(study, team) for team in able], axis=0)
                alone = np.flatnonzero((there == 0) & (arrivals > SOME_ARRIVALS * arrivals.sum()))
                if len(alone):
                    yield warning_at(
                        f"teams/{able[0].id}/roster",
                        f"{stream.name} brings cases to {step.name} {_in_words(alone)}, "
                        f"when no one of {able[0].name} is there.",
                        "Add a shift, or let cases come later; until then they wait.",
                    )


@doubt
def work_does_not_pile_up(study: StudyDocument) -> Iterator[Problem]:
    """In no hour of the week more work has come than a team can do within an hour."""
    work = work_in_week(study)
    for team in study.teams:
        members = members_in_week(study, team)
        load = work[team.id]
        enough = members.sum() and load.sum() < FULL * members.sum() and not team.skills
        if not enough or (load <= members).all():
            continue
        waits = _backlog(load, members) / np.maximum(members, 1.0)
        waits[members == 0] = 0.0
        worst = int(np.argmax(waits))
        if waits[worst] > LONG_BACKLOG:
            yield warning_at(
                f"teams/{team.id}/{'roster' if team.roster else 'size'}",
                f"{team.name}: by {_hour(worst + 1)} work has piled up that takes them {waits[worst] / 60:.1f} h, "
                "though there is enough of them over the week.",
                "Move shifts to the hours when cases come, or look whether those cases may wait.",
            )


def _backlog(load: NDArray[np.float64], members: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the minutes of work left over at the end of each hour of a week like the one before."""
    left = np.zeros(HOURS)
    over = 0.0
    for hour in range(2 * HOURS):
        over = max(0.0, over + 60.0 * (load[hour % HOURS] - members[hour % HOURS]))
        left[hour % HOURS] = over
    return left


def _hour(hour: int) -> str:
    return f"{DAYS[hour // 24 % 7].title()} {hour % 24:02d}:00"


def _in_words(hours: NDArray[np.int64]) -> str:
    """Name the first stretch of hours, and say how many more hours there are."""
    stretch = 1
    while stretch < len(hours) and hours[stretch] == hours[0] + stretch:
        stretch += 1
    others = len(hours) - stretch
    more = f" and in {others} other hours of the week" if others else ""
    return f"from {_hour(int(hours[0]))} to {(int(hours[0]) + stretch) % 24:02d}:00{more}"
