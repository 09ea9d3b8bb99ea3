"""Work that outlives its people: steps to which cases still come after those who would serve them have gone."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.distributions import mean_of
from flowcore.study.graph import link_ways, links_of, reach, ways_through
from flowcore.study.needs import teams_of
from flowcore.study.steps import Delay, Serve, Step
from flowcore.theory.network import work_for
from flowcore.theory.weekly import arrivals_in_week, members_in_week

QUARTER = 15.0
SOON = 16
"""Quarters of an hour after a shift's end in which cases that come have outlived it; later ones are of the night."""
USUAL_STAY = 60.0
"""Minutes that a team is taken to stay where its stay has no limit."""
Times = NDArray[np.bool_]
"""For each quarter of an hour of an ordinary week from Monday's midnight whether something may happen."""


@dataclass(frozen=True)
class Outlived:
    """A step that has nobody any more from `gone` on, and from where cases come until `until`, minutes of the week."""

    step: Serve
    feeder: Step
    gone: float
    until: float


def outlived(study: StudyDocument) -> list[Outlived]:
    """Return the steps to which cases may still come from others within hours of their last people's leaving.

    A delay ends for so long after cases come to it as it takes on average; who works until later than others do may
    send them cases until then.
    """
    leaving, feeders = _leaving(study), _feeders(study)
    served = [step for step in study.steps if isinstance(step, Serve) and step.needs]
    found = [_of_step(study, step, leaving, feeders[step.id]) for step in served]
    return [each for each in found if each is not None]


def _feeders(study: StudyDocument) -> dict[str, list[Step]]:
    """Return by step the steps from which cases come to it without being held up in between."""
    passed = ways_through(study, ("choose", "set", "fork"))
    feeders: dict[str, list[Step]] = {step.id: [] for step in study.steps}
    for each in study.steps:
        if _holds(each):
            for to in reach([link.to for link in links_of(each)], passed):
                feeders[to].append(each)
    return feeders


def _of_step(study: StudyDocument, step: Serve, leaving: dict[str, Times], feeders: list[Step]) -> Outlived | None:
    there = _lasting(_people(study, step), _stay(study, step, ("empty",)))
    ends = np.flatnonzero(there & ~np.roll(there, -1))
    worst: tuple[int, int, Step] | None = None
    for end in ends:
        gap = _gap_after(there, int(end))
        for feeder in feeders:
            late = np.roll(leaving[feeder.id], -int(end) - 1)[:gap]
            beyond = np.flatnonzero(late[:SOON])
            if len(beyond) and not late.all() and (worst is None or beyond[-1] + 1 > worst[1]):
                worst = int(end) + 1, int(beyond[-1]) + 1, feeder
    if worst is None:
        return None
    gone, long, feeder = worst
    return Outlived(step, feeder, gone * QUARTER, (gone + long) * QUARTER)


def _gap_after(there: Times, end: int) -> int:
    """Return for how many quarters after one nobody is there."""
    ahead = np.roll(there, -end - 1)
    return int(np.argmax(ahead)) if ahead.any() else len(there)


def _holds(step: Step) -> bool:
    """Say whether cases stay at a step for a time of its own: they wait, or are served by people."""
    return isinstance(step, Delay) or (isinstance(step, Serve) and bool(step.needs))


def _leaving(study: StudyDocument) -> dict[str, Times]:
    """Return when cases may leave each step."""
    count = round(7 * 1440 / QUARTER)
    steps = {step.id: step for step in study.steps}
    coming = {step.id: np.zeros(count, dtype=np.bool_) for step in study.steps}
    for stream in study.streams:
        coming[stream.to] |= arrivals_in_week(study, stream, QUARTER) > 0
    leaving = {step.id: np.zeros(count, dtype=np.bool_) for step in study.steps}
    ways = link_ways(study)
    ahead = {stream.to for stream in study.streams}
    while ahead:
        step = steps[ahead.pop()]
        times = _left_at(study, step, coming[step.id])
        if (times == leaving[step.id]).all():
            continue
        leaving[step.id] = times
        for to in ways[step.id]:
            coming[to] = coming[to] | times
            ahead.add(to)
    return leaving


def _left_at(study: StudyDocument, step: Step, coming: Times) -> Times:
    """Return when cases that may come at some times may leave a step."""
    if isinstance(step, Delay):
        return _lasting(coming, mean_of(work_for(step.time, "")))
    if isinstance(step, Serve) and step.needs and coming.any():
        return _lasting(_people(study, step), _stay(study, step, ("clear-line", "empty")))
    return coming


def _stay(study: StudyDocument, step: Serve, ways: tuple[str, ...]) -> float:
    """Return how many minutes at most a step's people stay who stay in one of some ways."""
    able = {team for need in step.needs for team in teams_of(need, study)}
    closings = [team.closing for team in study.teams if team.id in able and team.closing.stay in ways]
    return max((USUAL_STAY if each.at_most is None else minutes(each.at_most) for each in closings), default=0.0)


def _people(study: StudyDocument, step: Serve) -> Times:
    """Return when somebody is there for each of a step's needs."""
    teams = {team.id: team for team in study.teams}
    there = [
        np.sum([members_in_week(study, teams[team], QUARTER) for team in teams_of(need, study)], axis=0) > 0
        for need in step.needs
    ]
    everyone: Times = np.logical_and.reduce(there)
    return everyone


def _lasting(times: Times, long: float) -> Times:
    """Return the times and so many minutes after each of them."""
    quarters = min(len(times), int(np.ceil(long / QUARTER)))
    for _ in range(quarters):
        times = times | np.roll(times, 1)
    return times
