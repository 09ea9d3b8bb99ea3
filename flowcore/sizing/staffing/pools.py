"""Pools: teams whose members can take one another's work, and what is asked of them together."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from flowcore.results.week_grid import Floats, Grid
from flowcore.study import StudyDocument
from flowcore.study.needs import teams_of
from flowcore.study.steps import Need, Serve
from flowcore.theory.lagging import Lagging

MOST_GROUPS = 6
"""Beyond so many kinds of work that are met by several teams, only each alone and all together are looked at."""


@dataclass(frozen=True)
class Pool:
    """Some teams, the steps whose work only they can do, and how much that is in each interval of the week.

    `arrivals` are visits in an interval, `load` is in members; both as if nobody ever waited, shape (intervals,).
    """

    teams: tuple[str, ...]
    steps: tuple[str, ...]
    arrivals: Floats
    load: Floats

    @property
    def name(self) -> str:
        """How it is called in files: the ids of its teams."""
        return "+".join(self.teams)

    def within(self, hours: NDArray[np.bool_]) -> "Pool":
        """Return the pool with what comes at other times waiting for these hours of the week, shape (intervals,).

        All of it stays as much, each hour's part of what waits as large as its part of what comes in these hours.
        """
        if hours.all() or not hours.any():
            return self
        return replace(self, arrivals=_moved_into(hours, self.arrivals), load=_moved_into(hours, self.load))


def _moved_into(hours: NDArray[np.bool_], values: Floats) -> Floats:
    inside = np.where(hours, values, 0.0)
    even: Floats = np.where(hours, values.sum() / hours.sum(), 0.0)
    return inside * (values.sum() / inside.sum()) if inside.sum() > 0 else even


@dataclass(frozen=True)
class _Work:
    """The work that one need of a step makes, and the teams that can do it."""

    step: str
    teams: frozenset[str]
    arrivals: Floats
    load: Floats


def pools_of(study: StudyDocument, grid: Grid) -> list[Pool]:
    """Return the pools of a study.

    Work that some teams can do must be done by these, and work that two overlapping groups can do by both together: so
    many as that must be there. Source: Hall, On representatives of subsets, J. London Math. Society 10 (1935).
    """
    works = list(_works(study, grid))
    groups = list(dict.fromkeys(each.teams for each in works))
    order = [team.id for team in study.teams]
    return [_pool(sorted(teams, key=order.index), works) for teams in _together(groups)]


def _together(groups: list[frozenset[str]]) -> list[frozenset[str]]:
    """Return groups of teams, and the unions of those that hang together through a team that is in several."""
    found = dict.fromkeys(groups)
    sharing = [group for group in groups if any(group & other for other in groups if other != group)]
    sizes = range(2, len(sharing) + 1) if len(sharing) <= MOST_GROUPS else [len(sharing)]
    for size in sizes:
        for chosen in combinations(sharing, size):
            if _hang_together(chosen):
                found.setdefault(frozenset.union(*chosen))
    return list(found)


def _hang_together(groups: tuple[frozenset[str], ...]) -> bool:
    reached, rest = groups[0], list(groups[1:])
    while touching := [group for group in rest if group & reached]:
        reached = reached.union(*touching)
        rest = [group for group in rest if group not in touching]
    return not rest


def _pool(teams: list[str], works: list[_Work]) -> Pool:
    inside = [each for each in works if each.teams <= set(teams)]
    return Pool(
        tuple(teams),
        tuple(dict.fromkeys(each.step for each in inside)),
        np.sum([each.arrivals for each in inside], axis=0),
        np.sum([each.load for each in inside], axis=0),
    )


def _works(study: StudyDocument, grid: Grid) -> Iterator[_Work]:
    lagging = Lagging(study, grid.interval)
    for number, step in enumerate(study.steps):
        for need in step.needs if isinstance(step, Serve) else []:
            teams = teams_of(need, study)
            if teams:
                load = lagging.in_work(number) * need.count / _pace(study, teams[0])
                yield _Work(step.id, frozenset(_who(study, need)), lagging.arrivals(number), load)


def _who(study: StudyDocument, need: Need) -> list[str]:
    """Return who can do the work of a need; the same member as another need's is of its teams."""
    if need.same_as is None:
        return teams_of(need, study)
    named = (each for step in study.steps if isinstance(step, Serve) for each in step.needs if each.as_ == need.same_as)
    return [team for each in named for team in teams_of(each, study)] or teams_of(need, study)


def _pace(study: StudyDocument, team: str) -> float:
    return next(each.pace for each in study.teams if each.id == team)
