"""What a search proposes, and what it says in words."""

from dataclasses import dataclass, replace

import numpy as np

from flowcore.findings.words import listed
from flowcore.results.comparison import efficient
from flowcore.sizing.aims import Aims
from flowcore.sizing.choosing import Judged, Standing
from flowcore.sizing.cover import Cover
from flowcore.sizing.grid import Grid
from flowcore.sizing.judging import least_margin
from flowcore.sizing.search import Search, Tried
from flowcore.sizing.trials import Outcome, Staffing
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
    if chosen is None:
        return found
    cheapest = replace(search.found.tried[chosen.staffing.key], outcome=chosen.outcome)
    found.append(_proposal(search, "Cheapest that holds", cheapest, chosen.standing))
    told = {chosen.staffing.key}
    for name, part in EASIER.items():
        best = search.best(search.aims.with_misses(part))
        if best is not None and best.staffing.key not in told:
            told.add(best.staffing.key)
            found.append(_of_search(search, name, best))
    return found


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
    people = sum(team.members for team in teams)
    if tried.plan is not None:
        fixed = sum(row.people for limits in search.sizing.teams for row in limits.fixed)
        people = fixed + sum(len(each) for each in tried.plan.people.values())
    hours = sum(paid_hours_in_week(changed, team) for team in teams)
    return Proposal(name, tried.staffing, tried.outcome, standing, people, hours)


@dataclass(frozen=True)
class Point:
    """A point of the frontier: what a tried staffing costs a week, and how the first target's figure is."""

    tried: Tried
    cost: float
    figure: float
    is_today: bool


def frontier_of(search: Search) -> list[Point]:
    """Return what was tried that nothing else beats in both cost and the first target's figure, and today's."""
    tried = [*search.tried(), *([search.found.today] if search.found.today else [])]
    if not search.aims.aims:
        return []
    points = [(each.cost, _figure(search.aims, each.outcome)) for each in tried]
    kept = efficient(points, (-1, search.aims.aims[0].sign))
    places = [*kept, *(n for n, each in enumerate(tried) if each.plan is None and n not in kept)]
    return [Point(tried[n], *points[n], is_today=tried[n].plan is None) for n in places]


def _figure(aims: Aims, outcome: Outcome) -> float:
    """Return what the first aim is a limit of: over the run, or in the worst day or interval."""
    aim, cells = next(aims.split(outcome.cells))
    parts, wholes = cells.sum(axis=0)
    known = wholes > 0
    ratios = parts[known] / wholes[known]
    if not len(ratios):
        return float("nan")
    return float(ratios.min() if aim.sign > 0 else ratios.max())


def says(search: Search) -> list[str]:
    """Return in plain words what a search found, or what stands in the way."""
    chosen, choice = chosen_of(search), search.found.choice
    currency = search.study.currency
    if chosen is not None and choice is not None:
        cost = float(chosen.outcome.costs.mean())
        today = search.found.today.cost if search.found.today else cost
        beside = f"{abs(today - cost):,.0f} {'less' if cost < today else 'more'} than today"
        words = [f"The cheapest roster that holds costs {currency} {cost:,.0f} a week, {beside}."]
        if not choice.is_sure:
            words.append(f"Another may be as cheap: {chosen.outcome.count} replications could not tell them apart.")
        return words
    if search.found.short is not None:
        return [short_words(search.found.short, search.grid)]
    if choice is not None:
        counts = max(each.outcome.count for each in choice.candidates)
        return [f"Some rosters seemed to hold, but none did in {counts} replications with fresh luck."]
    return ["No roster within the limits holds. The nearest is the dearest that was tried: allow more people."]


def short_words(cover: Cover, grid: Grid) -> str:
    """Return where the limits do not let the need be covered: the interval that lacks most, and how many in all."""
    pool, lacking = max(cover.short.items(), key=lambda each: float(each[1].max()))
    place = int(np.argmax(lacking))
    teams = listed(pool.split("+"))
    return (
        f"Nothing within the limits covers the need: {grid.words(place)} lacks {lacking[place]:.0f} of {teams}. "
        "Allow more people, longer shifts, or other starts."
    )
