"""The one way to right-size a study in a process: a search, run in threads, and what it says as a file does."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np

from flowcore.checks.sizing import sizing_problems
from flowcore.findings.words import listed
from flowcore.problems import StudyError
from flowcore.results.catalogue import MEASURES
from flowcore.results.comparison import efficient
from flowcore.results.run import Results
from flowcore.simulate import never, require_sound, simulate
from flowcore.sizing.aims import Aims, target_problems
from flowcore.sizing.choosing import Judged, Standing
from flowcore.sizing.cover import Cover, hours_of_week
from flowcore.sizing.grid import Grid
from flowcore.sizing.judging import holds_in, least_margin
from flowcore.sizing.search import RosterSearch, Tried, sizing_of
from flowcore.sizing.trials import AS_IT_IS, FRESH_LUCK, Outcome, Staffing, run_trial
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import WEEK
from flowcore.theory.weekly import paid_hours_in_week

SHOWN = 30
"""So many replications tell the figures of what is proposed, with luck by which nothing was chosen."""


@dataclass(frozen=True)
class Effort:
    """How much a search took."""

    tried: int
    replications: int


def search_through(
    search: RosterSearch,
    threads: int = 1,
    should_stop: Callable[[], bool] = never,
    told: Callable[[str], None] | None = None,
) -> Effort:
    """Run a search to its end; where it is stopped, what was found so far is kept. Raises StudyError."""
    asking = search.run()
    tried = replications = 0
    outcomes: list[Outcome] | None = None
    with ThreadPoolExecutor(threads) as pool:
        while not should_stop():
            try:
                trials = next(asking) if outcomes is None else asking.send(outcomes)
            except StopIteration:
                break
            outcomes = list(pool.map(lambda trial: run_trial(search.study, search.aims, trial), trials))
            tried += len(trials)
            replications += sum(len(trial.numbers) for trial in trials)
            if told is not None:
                told(_progress(search, tried))
    return Effort(tried, replications)


def _progress(search: RosterSearch, tried: int) -> str:
    best = search.best()
    so_far = "none holds yet" if best is None else f"the cheapest that holds costs {best.cost:,.0f} a week"
    return f"{tried} tried, {so_far}"


@dataclass(frozen=True)
class Proposal:
    """A staffing to be told: what it is called, what it costs a week, and how it stands."""

    name: str
    staffing: Staffing
    outcome: Outcome
    standing: str
    people: int
    hours: float


def proposals_of(search: RosterSearch) -> list[Proposal]:
    """Return the study as it is, the cheapest that holds, and what is efficient and keeps the first target better."""
    found = []
    today = search.found.today
    if today is not None:
        people = sum(team.members for team in search.study.teams if team.id in search.teams)
        hours = sum(_paid_hours(search, team) for team in search.teams)
        found.append(
            Proposal("As it is today", AS_IT_IS, today.outcome, _standing(search.aims, today.outcome), people, hours)
        )
    chosen = chosen_of(search)
    if chosen is not None:
        found.append(_proposal(search, "Cheapest that holds", chosen.staffing, chosen.outcome, chosen.standing))
    names = ("One step easier", "Hardly anyone waits")
    for name, part in zip(names, (0.7, 0.4), strict=True):
        best = search.best(search.aims.with_misses(part)) if search.aims.aims else None
        if best is not None and chosen is not None and best.staffing.key != chosen.staffing.key:
            found.append(_proposal(search, name, best.staffing, best.outcome, _standing(search.aims, best.outcome)))
    return found


def chosen_of(search: RosterSearch) -> Judged | None:
    """Return the cheapest that holds, if it is known."""
    choice = search.found.choice
    return None if choice is None or choice.chosen is None else choice.candidates[choice.chosen]


def _paid_hours(search: RosterSearch, team_id: str) -> float:
    team = next(each for each in search.study.teams if each.id == team_id)
    return paid_hours_in_week(search.study, team) if team.kind == "people" else 0.0


def _standing(aims: Aims, outcome: Outcome) -> Standing:
    return Standing.HOLDS if least_margin(aims, outcome) >= 0 else Standing.MISSES


def _proposal(search: RosterSearch, name: str, staffing: Staffing, outcome: Outcome, standing: str) -> Proposal:
    plan = search.found.tried[staffing.key].plan
    assert plan is not None
    fixed = sum(row.people for team in search.covering.teams for row in team.fixed)
    people = sum(len(each) for each in plan.people.values()) + fixed
    hours = sum(hours_of_week(each) for each in plan.people.values())
    return Proposal(name, staffing, outcome, standing, people, hours)


@dataclass(frozen=True)
class Point:
    """A point of the frontier: what a tried staffing costs a week, and how the first target's figure is."""

    tried: Tried
    cost: float
    figure: float
    is_today: bool


def frontier_of(search: RosterSearch) -> list[Point]:
    """Return what was tried that nothing else beats in both cost and the first target's figure, and today's."""
    tried = [*search.with_plans(), *([search.found.today] if search.found.today else [])]
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


def size(
    study: StudyDocument,
    sizing_id: str | None = None,
    threads: int = 1,
    told: Callable[[str], None] | None = None,
) -> dict[str, Any]:
    """Right-size a study, and return what was found as a document.

    Raises StudyError where the study has errors, where a target cannot be aimed at, or where nothing within the limits
    can do the work.
    """
    require_sound(study)
    sizing = sizing_of(study, sizing_id)
    where = f"sizing/{sizing.id}/targets" if sizing.targets else "targets"
    problems = [*sizing_problems(study, sizing), *target_problems(study, sizing.targets or study.targets, where)]
    if problems:
        raise StudyError(problems)
    search = RosterSearch(study, sizing)
    effort = search_through(search, threads, told=told)
    return document_of(search, effort, threads)


def document_of(search: RosterSearch, effort: Effort, threads: int = 1) -> dict[str, Any]:
    """Return what a search found as JSON."""
    weeks = (minutes(search.study.run.length)) / WEEK
    proposals = proposals_of(search)
    return {
        "sizing": search.sizing.id,
        "need": {team: _whole(there) for team, there in search.staffed.members(search.found.need).items()},
        "need_by_theory": {team: _whole(each) for team, each in search.staffed.members(search.found.by_theory).items()},
        "need_holds": search.found.need_holds,
        "interval": search.grid.interval,
        "proposals": [_written(search, each, threads) for each in proposals],
        "frontier": [
            {"cost_per_week": each.cost, "figure": each.figure, "today": each.is_today} for each in frontier_of(search)
        ],
        "says": says(search),
        "tried": effort.tried,
        "weeks_simulated": round(effort.replications * weeks, 3),
        "seed": search.study.run.seed,
    }


def _whole(members: np.ndarray) -> list[int]:
    return [round(each) for each in members.tolist()]


def _written(search: RosterSearch, proposal: Proposal, threads: int) -> dict[str, Any]:
    results = figures_with(search.study, proposal.staffing, threads)
    asked = dict.fromkeys([*(target.figure for target in search.targets), *MEASURES])
    figures = {address: results.figure(address) for address in asked if results.has(address)}
    return {
        "name": proposal.name,
        "cost_per_week": float(proposal.outcome.costs.mean()),
        "holds": proposal.standing == Standing.HOLDS,
        "holds_in": [holds_in(search.aims, proposal.outcome), proposal.outcome.count],
        "people": proposal.people,
        "hours_per_week": proposal.hours,
        "teams": _teams(proposal.staffing),
        "figures": {
            address: {"mean": each.mean, "half_width": each.half_width, "n": each.n}
            for address, each in figures.items()
        },
    }


def _teams(staffing: Staffing) -> dict[str, Any]:
    rosters = {
        team: {"roster": [row.model_dump(mode="json", exclude_defaults=True) for row in rows]}
        for team, rows in staffing.rosters.items()
    }
    return rosters | {team: {"size": number} for team, number in staffing.sizes.items()}


def figures_with(study: StudyDocument, staffing: Staffing, threads: int = 1) -> Results:
    """Return the results of a study with a staffing, by luck with which nothing was chosen."""
    changed = staffing.of(study)
    run = changed.run.model_copy(
        update={"seed": (study.run.seed + FRESH_LUCK) % 2**63, "replications": SHOWN, "precision": None}
    )
    return simulate(changed.model_copy(update={"run": run}), threads=threads)


def says(search: RosterSearch) -> list[str]:
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
