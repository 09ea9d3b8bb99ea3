"""The one way to right-size a study in a process: a search, run in threads, and what it says as a file does."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np

from flowcore.checks.sizing import sizing_problems
from flowcore.problems import StudyError
from flowcore.results.catalogue import MEASURES
from flowcore.results.run import Results
from flowcore.simulate import never, require_sound, simulate
from flowcore.sizing.aiming.aims import target_problems
from flowcore.sizing.aiming.choosing import Standing
from flowcore.sizing.aiming.judging import holds_in
from flowcore.sizing.aiming.trials import FRESH_LUCK, Outcome, Staffing, run_trial
from flowcore.sizing.levers import LeverSearch
from flowcore.sizing.proposals import Proposal, frontier_of, proposals_of, says
from flowcore.sizing.rosters import RosterSearch
from flowcore.sizing.search import Search, sizing_of
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import WEEK

SHOWN = 30
"""So many replications tell the figures of what is proposed, with luck by which nothing was chosen."""


@dataclass(frozen=True)
class Effort:
    """How much a search took."""

    tried: int
    replications: int


def search_through(
    search: Search,
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


def _progress(search: Search, tried: int) -> str:
    best = search.best()
    so_far = "none holds yet" if best is None else f"the cheapest that holds costs {best.cost:,.0f} a week"
    return f"{tried} tried, {so_far}"


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
    search: Search = LeverSearch(study, sizing) if sizing.levers else RosterSearch(study, sizing)
    effort = search_through(search, threads, told=told)
    return document_of(search, effort, threads)


def document_of(search: Search, effort: Effort, threads: int = 1) -> dict[str, Any]:
    """Return what a search found as JSON."""
    weeks = (minutes(search.study.run.length)) / WEEK
    proposals = proposals_of(search)
    return {
        "sizing": search.sizing.id,
        "need": {team: _whole(each) for team, each in search.needed(search.found.need).items()},
        "need_by_theory": {team: _whole(each) for team, each in search.needed(search.found.by_theory).items()},
        "need_holds": search.found.need_holds,
        "interval": search.grid.interval,
        "proposals": [_written(search, each, threads) for each in proposals],
        "frontier": [
            {
                "cost_per_week": each.cost,
                "figure": each.figure,
                "error": each.error,
                "today": each.is_today,
                "teams": _teams(each.tried.staffing),
                "levers": dict(each.tried.staffing.levers),
            }
            for each in frontier_of(search)
        ],
        "says": says(search),
        "tried": effort.tried,
        "weeks_simulated": round(effort.replications * weeks, 3),
        "seed": search.study.run.seed,
    }


def _whole(members: np.ndarray) -> list[int]:
    return [round(each) for each in members.tolist()]


def _written(search: Search, proposal: Proposal, threads: int) -> dict[str, Any]:
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
        "levers": dict(proposal.staffing.levers),
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
