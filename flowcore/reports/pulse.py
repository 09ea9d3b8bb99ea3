"""The consequence of an edit at a glance: theory at once, and a simulation of a week that ends in time."""

import math
import time
from collections.abc import Callable
from math import isfinite

from pydantic import BaseModel

from flowcore.checks import check_study
from flowcore.problems import Problem, Severity
from flowcore.results.after_hours import work_outlives_people
from flowcore.results.cost_lines import CostLine, cost_lines
from flowcore.results.replication import Replication
from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import WEEK
from flowcore.theory.outlook import outlook

SECONDS = 0.3
SECONDS_AT_REST = 2.0
"""Of computing: what else the machine does takes nothing of it."""
WEEKS = 8
"""So many weeks are simulated while nothing is typed: the same figures on any machine."""
TOO_LONG = "A week of it takes too long to simulate in passing. Run it."


class Pulse(BaseModel):
    """What theory says: loads as shares by team id, the mean wait in minutes, wages a day.

    None stands for what cannot be said; `reasons` say why.
    """

    loads: dict[str, float | None] = {}
    wait: float | None = None
    cost: float | None = None
    reasons: list[str] = []


class Week(BaseModel):
    """The figures of one simulated week: loads as shares by team id, times in minutes, money by the day.

    `lines` are the mean numbers of waiting cases by step id. None stands for what there was none of.
    """

    loads: dict[str, float | None]
    wait: float | None
    wait_p90: float | None
    inside: float | None
    cost: float | None
    lines: dict[str, float]
    costs: list[CostLine]


class Weeks(BaseModel):
    """Some of the weeks that are simulated of a study, in their order; `reasons` say why there are none.

    `doubts` are what these weeks show of the study that no check sees without them.
    """

    first: int
    weeks: list[Week]
    of: int
    reasons: list[str] = []
    doubts: list[Problem] = []


class PulseByTheory(BaseModel):
    """What is known of a study without a run: theory, and what is wrong or doubtful."""

    pulse: Pulse
    problems: list[Problem]


def by_theory(study: StudyDocument) -> PulseByTheory:
    """Return what theory and the health checks say about a study, also about one that cannot run."""
    problems = check_study(study)
    if any(problem.level is Severity.ERROR for problem in problems):
        return PulseByTheory(pulse=Pulse(reasons=["The study has errors."]), problems=problems)
    found = outlook(study)
    loads = {team: load if load is None or isfinite(load) else None for team, load in found.loads.items()}
    pulse = Pulse(loads=loads, wait=found.wait, cost=found.wages, reasons=found.reasons)
    return PulseByTheory(pulse=pulse, problems=problems)


def by_simulation(
    study: StudyDocument, first: int = 0, seconds: float = SECONDS, clock: Callable[[], float] = time.thread_time
) -> Weeks:
    """Simulate ordinary weeks of a study from the given one on, for at most so many seconds, and return their figures.

    A week depends on the study and on its own number alone: two pulses differ by the edit, week by week, and
    neither by luck nor by what else the machine does. Raises StudyError where a health check finds an error and
    where the study stands still.
    """
    require_sound(study)
    get_ready()
    deadline = clock() + seconds
    week = _a_week_of(study)
    replicate = Replicator(week, lambda: clock() > deadline)
    found: list[Replication] = []
    took = 0.0
    for number in range(first, WEEKS):
        began = clock()
        if began + took > deadline:
            break
        try:
            found.append(replicate(number))
        except Stopped:
            break
        took = clock() - began
    return Weeks(
        first=first,
        weeks=[_figures(week, each) for each in found],
        of=WEEKS,
        reasons=[] if found or first >= WEEKS else [TOO_LONG],
        doubts=list(work_outlives_people(study, lambda address: _mean(found, address))) if found else [],
    )


def _mean(weeks: list[Replication], address: str) -> float | None:
    values = [value for each in weeks if isfinite(value := each.figures.get(address, math.nan))]
    return sum(values) / len(values) if values else None


def _a_week_of(study: StudyDocument) -> StudyDocument:
    """Return a study that runs for no longer than a week after a warm-up of no longer than a week."""
    warm_up = min(minutes(study.run.warm_up), WEEK)
    length = min(minutes(study.run.length), warm_up + WEEK)
    shorter = {"length": f"{length} min", "warm_up": f"{warm_up} min", "precision": None}
    return study.model_copy(update={"run": study.run.model_copy(update=shorter)})


def _figures(study: StudyDocument, week: Replication) -> Week:
    def known(address: str) -> float | None:
        value = week.figures.get(address, math.nan)
        return value if isfinite(value) else None

    lines = {step.id: known(f"step/{step.id}/line/mean") for step in study.steps}
    return Week(
        loads={team.id: known(f"team/{team.id}/utilisation") for team in study.teams},
        wait=known("type/all/wait/mean"),
        wait_p90=known("type/all/wait/p90"),
        inside=known("type/all/inside/mean"),
        cost=known("cost/total/per:day"),
        lines={step: line for step, line in lines.items() if line},
        costs=cost_lines(study, known),
    )
