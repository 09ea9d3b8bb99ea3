"""What a search proposes, and the frontier of what it tried."""

import math
from dataclasses import dataclass, replace

from flowcore.results.comparison import efficient
from flowcore.sizing.aiming.choosing import Judged, Standing
from flowcore.sizing.aiming.judging import figure_of_first, least_margin
from flowcore.sizing.aiming.trials import AS_IT_IS, Outcome, Staffing
from flowcore.sizing.search import Search, Tried
from flowcore.theory.weekly import paid_hours_in_week

EASIER = {"One step easier": 0.7, "Hardly anyone waits": 0.4}
"""What else is proposed: the cheapest that misses so many times as much of the first target as it allows."""


@dataclass(frozen=True)
class Proposal:
    """A staffing to be told: what it is called, what it costs a week, and how it stands."""

    name: str
    staffing: Staffing
    outcome: Outcome
    standing: str
    people: int
    hours: float


def proposals_of(search: Search) -> list[Proposal]:
    """Return the study as it is, the cheapest that holds, and what is efficient and keeps the first target better."""
    found = []
    if search.found.today is not None:
        found.append(_of_search(search, "As it is today", search.found.today))
    chosen = chosen_of(search)
    if chosen is None and (best := search.best()) is not None and search.found.choice is None:
        return [*found, _of_search(search, "Cheapest so far", best)]
    if chosen is None:
        nearest = nearest_of(search)
        return found if nearest is None else [*found, _of_search(search, "Nearest to holding", nearest)]
    cheapest = replace(search.found.tried[chosen.staffing.key], outcome=chosen.outcome)
    found.append(_proposal(search, "Cheapest that holds", cheapest, chosen.standing))
    told = {chosen.staffing.key}
    for name, part in EASIER.items():
        best = search.best(search.aims.with_misses(part))
        if best is not None and best.staffing.key not in told:
            told.add(best.staffing.key)
            found.append(_of_search(search, name, best))
    return found


def nearest_of(search: Search) -> Tried | None:
    """Return what was tried and comes nearest to keeping the targets; None where nothing could be run."""
    able = [each for each in search.tried() if not each.outcome.stands_still]
    return max(able, key=lambda each: least_margin(search.aims, each.outcome), default=None)


def _of_search(search: Search, name: str, tried: Tried) -> Proposal:
    standing = Standing.HOLDS if least_margin(search.aims, tried.outcome) >= 0 else Standing.MISSES
    return _proposal(search, name, tried, standing)


def chosen_of(search: Search) -> Judged | None:
    """Return the cheapest that holds, if it is known."""
    choice = search.found.choice
    return None if choice is None or choice.chosen is None else choice.candidates[choice.chosen]


def _proposal(search: Search, name: str, tried: Tried, standing: str) -> Proposal:
    """Return something that was tried as a proposal: its members, and the hours of a week that they are paid for."""
    changed = tried.staffing.of(search.study)
    teams = [team for team in changed.teams if team.kind == "people" and team.id in search.changes_teams]
    planned = planned_members(search, tried)
    people = sum(planned.get(team.id, team.members) for team in teams)
    hours = sum(paid_hours_in_week(changed, team) for team in teams)
    return Proposal(name, tried.staffing, tried.outcome, standing, people, hours)


def planned_members(search: Search, tried: Tried) -> dict[str, int]:
    """Return how many members each team has by the plan behind what was tried, fixed ones too; none without a plan."""
    if tried.plan is None:
        return {}
    fixed = {limits.team: sum(row.people for row in limits.fixed) for limits in search.sizing.teams}
    people = {team: len(each) + fixed[team] for team, each in tried.plan.people.items()}
    return {**tried.plan.sizes, **people}


@dataclass(frozen=True)
class Point:
    """A point of the frontier: what a tried staffing costs a week, and how the first target's figure is.

    `error` is the standard error of the figure, with the luck of the search.
    """

    tried: Tried
    cost: float
    figure: float
    error: float
    is_today: bool


def frontier_of(search: Search) -> list[Point]:
    """Return what was tried that nothing else beats in both cost and the first target's figure, and today's."""
    every = [*search.tried(), *([search.found.today] if search.found.today else [])]
    known = [(each, figure_of_first(search.aims, each.outcome)) for each in every if not each.outcome.stands_still]
    tried = [each for each, (figure, _) in known if math.isfinite(figure)]
    figures = [told for _, told in known if math.isfinite(told[0])]
    points = [(each.cost, figure) for each, (figure, _) in zip(tried, figures, strict=True)]
    kept = efficient(points, (-1, search.aims.aims[0].sign))
    places = [*kept, *(n for n, each in enumerate(tried) if each.staffing == AS_IT_IS and n not in kept)]
    return [Point(tried[n], tried[n].cost, *figures[n], is_today=tried[n].staffing == AS_IT_IS) for n in places]
