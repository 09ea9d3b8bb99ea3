"""What a search proposes, and what it says in words."""

import math
from dataclasses import dataclass, replace

import numpy as np

from flowcore.findings.words import listed
from flowcore.results.catalogue import titled
from flowcore.results.comparison import efficient
from flowcore.sizing.aiming.aims import Aims
from flowcore.sizing.aiming.choosing import Choice, Judged, Standing
from flowcore.sizing.aiming.judging import figure_of_first, least_margin, margins_of, replications_needed
from flowcore.sizing.aiming.trials import AS_IT_IS, Outcome, Staffing
from flowcore.sizing.grid import Grid
from flowcore.sizing.search import Search, Tried
from flowcore.sizing.staffing.cover import Cover
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
        nearest = _nearest(search)
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


def _nearest(search: Search) -> Tried | None:
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
    people = sum(team.members for team in teams)
    if tried.plan is not None:
        fixed = sum(row.people for limits in search.sizing.teams for row in limits.fixed)
        people = fixed + sum(len(each) for each in tried.plan.people.values())
    hours = sum(paid_hours_in_week(changed, team) for team in teams)
    return Proposal(name, tried.staffing, tried.outcome, standing, people, hours)


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


def says(search: Search) -> list[str]:
    """Return in plain words what a search found, or what stands in the way."""
    chosen, choice = chosen_of(search), search.found.choice
    if chosen is not None and choice is not None:
        cost = float(chosen.outcome.costs.mean())
        today = search.found.today.cost if search.found.today else cost
        beside = f"{abs(today - cost):,.0f} {'less' if cost < today else 'more'} than today"
        what = "values of the levers" if search.sizing.levers else "roster"
        verb = "cost" if search.sizing.levers else "costs"
        words = f"The cheapest {what} that holds {verb} {search.study.currency} {cost:,.0f} a week, {beside}."
        return [words] if choice.is_sure else [words, _unsure_words(search.aims, choice)]
    if choice is None and (best := search.best()) is not None:
        currency = search.study.currency
        return [f"Stopped before it was checked: what seems to hold costs {currency} {best.cost:,.0f} a week so far."]
    if search.found.short is not None:
        return [short_words(search.found.short, search.grid)]
    if choice is not None:
        return [f"Some seemed to hold, but none did with fresh luck. {_unsure_words(search.aims, choice)}"]
    return [f"Nothing within the limits holds{_missed_words(search)}. Allow more people, or loosen a target."]


def _missed_words(search: Search) -> str:
    """Return which target is missed most by what comes nearest, in words that go on a sentence."""
    nearest = _nearest(search)
    if nearest is None:
        return ""
    worst = min(margins_of(search.aims, nearest.outcome), key=lambda each: each.least)
    title = titled(worst.aim.target.figure, search.study)
    name = worst.aim.target.figure if title is None else title.name
    return f": the nearest that was tried costs {nearest.cost:,.0f} a week and misses “{name}” most"


def _unsure_words(aims: Aims, choice: Choice) -> str:
    """Return how many replications would be needed to tell what was not told."""
    judged = [each for each in choice.candidates if not each.beaten]
    count = max((each.outcome.count for each in judged), default=0)
    needed = max((replications_needed(aims, each.outcome) for each in judged), default=count)
    return f"{count} replications could not tell the cheapest ones apart, or from a limit; about {needed:,} would."


def short_words(cover: Cover, grid: Grid) -> str:
    """Return where the limits do not let the need be covered: the interval that lacks most, and how many in all."""
    pool, lacking = max(cover.short.items(), key=lambda each: float(each[1].max()))
    place = int(np.argmax(lacking))
    teams = listed(pool.split("+"))
    return (
        f"Nothing within the limits covers the need: {grid.words(place)} lacks {lacking[place]:.0f} of {teams}. "
        "Allow more people, longer shifts, or other starts."
    )
