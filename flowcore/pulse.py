"""The consequence of an edit at a glance: theory at once, and a simulation of a week that ends in time."""

import time
from collections.abc import Callable
from math import isfinite

from pydantic import BaseModel

from flowcore.checks import check_study
from flowcore.problems import Level, Problem
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.simulate import Replicator, Stopped, get_ready, require_sound
from flowcore.study import Study, minutes
from flowcore.study.durations import WEEK
from flowcore.theory.outlook import outlook

SECONDS = 0.3
MOST_WEEKS = 8


class Pulse(BaseModel):
    """The figures of the pulse: loads as shares by team id, times in minutes, money by the day.

    `lines` are the mean numbers of waiting cases by step id. None stands for what cannot be said;
    `reasons` say why.
    """

    loads: dict[str, float | None] = {}
    wait: float | None = None
    wait_p90: float | None = None
    inside: float | None = None
    cost: float | None = None
    lines: dict[str, float] = {}
    weeks: int = 0
    reasons: list[str] = []


class PulseByTheory(BaseModel):
    """What is known of a study without a run: theory, and what is wrong or doubtful."""

    pulse: Pulse
    problems: list[Problem]


def by_theory(study: Study) -> PulseByTheory:
    """Return what theory and the health checks say about a study, also about one that cannot run."""
    problems = check_study(study)
    if any(problem.level is Level.ERROR for problem in problems):
        return PulseByTheory(pulse=Pulse(reasons=["The study has errors."]), problems=problems)
    found = outlook(study)
    loads = {team: load if load is None or isfinite(load) else None for team, load in found.loads.items()}
    pulse = Pulse(loads=loads, wait=found.wait, cost=found.wages, reasons=found.reasons)
    return PulseByTheory(pulse=pulse, problems=problems)


def by_simulation(study: Study, seconds: float = SECONDS, clock: Callable[[], float] = time.monotonic) -> Pulse:
    """Simulate ordinary weeks of a study for at most so many seconds, and return their figures.

    The same seed every time, and the number of weeks doubled as long as there is time for it, so that
    two pulses differ by the edit and neither by luck nor by what else the machine does. Raises
    StudyError where a health check finds an error and where the study stands still.
    """
    require_sound(study)
    get_ready()
    deadline = clock() + seconds
    week = _a_week_of(study)
    replicate = Replicator(week, lambda: clock() > deadline)
    weeks: list[Replication] = []
    wanted, took = 1, 0.0
    while wanted <= MOST_WEEKS and clock() + took < deadline:
        began = clock()
        try:
            weeks += [replicate(number) for number in range(len(weeks), wanted)]
        except Stopped:
            break
        wanted, took = 2 * wanted, (clock() - began) * (2 if wanted > 1 else 1)
    if not weeks:
        return Pulse(reasons=["A week of it takes too long to simulate in passing. Run it."])
    return _figures(week, Results.of(weeks, study.run.confidence))


def _a_week_of(study: Study) -> Study:
    """Return a study that runs for no longer than a week after a warm-up of no longer than a week."""
    warm_up = min(minutes(study.run.warm_up), WEEK)
    length = min(minutes(study.run.length), warm_up + WEEK)
    shorter = {"length": f"{length} min", "warm_up": f"{warm_up} min", "precision": None}
    return study.model_copy(update={"run": study.run.model_copy(update=shorter)})


def _figures(study: Study, results: Results) -> Pulse:
    def mean(address: str) -> float | None:
        values = results.values.get(address)
        known = [] if values is None else [value for value in values.tolist() if isfinite(value)]
        return sum(known) / len(known) if known else None

    steps = {step.id: mean(f"step/{step.id}/line/mean") for step in study.steps}
    return Pulse(
        loads={team.id: mean(f"team/{team.id}/utilisation") for team in study.teams},
        wait=mean("type/all/wait/mean"),
        wait_p90=mean("type/all/wait/p90"),
        inside=mean("type/all/inside/mean"),
        cost=mean("cost/total/per:day"),
        lines={step: line for step, line in steps.items() if line},
        weeks=len(results.replications),
    )
