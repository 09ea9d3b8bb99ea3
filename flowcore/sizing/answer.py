"""What a search found as it is told: the need, who is there, what is proposed, the frontier, and all that was tried."""

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from pydantic import BaseModel

from flowcore.findings.words import Sentence
from flowcore.reports.keeping import Keeps, keeps_target
from flowcore.results.aims import Aim, Aims
from flowcore.results.statistics import Estimate
from flowcore.results.week_grid import Floats
from flowcore.sizing.aiming.choosing import Standing
from flowcore.sizing.aiming.judging import figure_of_first, holds_in, least_margin
from flowcore.sizing.aiming.trials import Staffing, Trial, ratio_of, shown_figures
from flowcore.sizing.proposals import Point, Proposal, chosen_of, frontier_of, proposals_of
from flowcore.sizing.saying import says
from flowcore.sizing.search import Asking, Search, Tried
from flowcore.study import minutes
from flowcore.study.durations import WEEK
from flowcore.theory.weekly import members_in_week

SHOWN = tuple(range(1_000, 1_030))
"""These replications tell the figures of what is proposed, with luck by which nothing was chosen."""


class ToldFigure(BaseModel):
    """A figure of a proposal: the mean over `n` replications, and half the width of its interval.

    `keeps` says how it stands to its target over the whole run, where it has one.
    """

    mean: float | None
    half_width: float | None
    n: int
    keeps: Keeps | None


class Changed(BaseModel):
    """A staffing: what the teams are changed to (a roster, or a size), or where the levers are.

    `there` are the members on duty by team, in each interval of the week.
    """

    teams: dict[str, Any]
    levers: dict[str, Any]
    there: dict[str, list[float]]


class ToldProposal(Changed):
    """A staffing that is proposed.

    It `holds` where it keeps all targets by the trials of the search; by itself each of `holds_in` replications keeps
    them, `out_of` so many.
    """

    name: str
    cost_per_week: float
    holds: bool
    holds_in: int
    out_of: int
    people: int
    hours_per_week: float
    figures: dict[str, ToldFigure]


class ToldPoint(Changed):
    """A point of the frontier: what it costs a week, the first target's figure, and the standard error of that."""

    cost_per_week: float
    figure: float
    error: float
    holds: bool
    today: bool
    cheapest: bool


class Candidate(BaseModel):
    """Something that was tried, as the search saw it."""

    cost_per_week: float
    figure: float | None
    holds: bool


class AimedAt(BaseModel):
    """What the frontier stands against: the figure of the first target, of a percentile the share within its limit.

    It is of what `by` says, else of the worst day or interval; `limit` is where it is kept.
    """

    figure: str
    by: str
    limit: float


class Answer(BaseModel):
    """What a search found; lists by team have one number for each `interval` (minutes) of the week, from Monday on.

    `measures` are the figures that tell whether the targets hold.
    """

    sizing: str
    says: list[Sentence]
    need: dict[str, list[int]]
    need_by_theory: dict[str, list[int]]
    need_holds: bool
    interval: float
    present: dict[str, list[float]]
    proposals: list[ToldProposal]
    frontier: list[ToldPoint]
    candidates: list[Candidate]
    aimed_at: AimedAt
    measures: list[str]
    tried: int
    weeks_simulated: float
    seed: int


def figures_of_proposed(search: Search) -> Asking:
    """Ask for the figures of what is proposed by now."""
    proposed = [each.staffing for each in proposals_of(search)]
    if proposed:
        outcomes = yield [Trial(each, SHOWN, fresh=True, shows=True) for each in proposed]
        search.found.figures = {each.key: outcome.figures for each, outcome in zip(proposed, outcomes, strict=True)}


def answer_of(search: Search, tried: int, replications: int) -> Answer:
    """Return what a search found, with how many trials and replications it took."""
    chosen = chosen_of(search)
    teams = [team for team in search.study.teams if team.id in search.changes_teams]
    return Answer(
        sizing=search.sizing.id,
        says=says(search),
        need=_in_whole(search.needed(search.found.need)),
        need_by_theory=_in_whole(search.needed(search.found.by_theory)),
        need_holds=search.found.need_holds,
        interval=search.grid.interval,
        present={team.id: members_in_week(search.study, team, search.grid.interval).tolist() for team in teams},
        proposals=[_told(search, each) for each in proposals_of(search)],
        frontier=[_point(search, each, chosen.staffing if chosen else None) for each in frontier_of(search)],
        candidates=[_candidate(search.aims, each) for each in search.tried()],
        aimed_at=_aimed_at(search.aims.aims[0]),
        measures=shown_figures(search.aims),
        tried=tried,
        weeks_simulated=round(replications * minutes(search.study.run.length) / WEEK, 3),
        seed=search.study.run.seed,
    )


def _aimed_at(aim: Aim) -> AimedAt:
    return AimedAt(figure=ratio_of(aim), by=aim.target.by, limit=aim.limit)


def _in_whole(needed: Mapping[str, Floats]) -> dict[str, list[int]]:
    return {team: np.round(members).astype(int).tolist() for team, members in needed.items()}


def _told(search: Search, proposal: Proposal) -> ToldProposal:
    figures = search.found.figures.get(proposal.staffing.key, {})
    return ToldProposal(
        name=proposal.name,
        cost_per_week=float(proposal.outcome.costs.mean()),
        holds=proposal.standing == Standing.HOLDS,
        holds_in=holds_in(search.aims, proposal.outcome),
        out_of=proposal.outcome.count,
        people=proposal.people,
        hours_per_week=proposal.hours,
        figures={address: _figure(search, address, each) for address, each in figures.items()},
        **_changed(search, proposal.staffing),
    )


def _figure(search: Search, address: str, estimate: Estimate) -> ToldFigure:
    of_run = (each for each in search.targets if each.figure == address and each.by == "run" and each.per is None)
    target = next(of_run, None)
    keeps = None if target is None or estimate.mean is None else keeps_target(estimate, target)
    return ToldFigure(mean=estimate.mean, half_width=estimate.half_width, n=estimate.n, keeps=keeps)


def _point(search: Search, point: Point, chosen: Staffing | None) -> ToldPoint:
    return ToldPoint(
        cost_per_week=point.cost,
        figure=point.figure,
        error=point.error,
        holds=least_margin(search.aims, point.tried.outcome) >= 0,
        today=point.is_today,
        cheapest=point.tried.staffing == chosen,
        **_changed(search, point.tried.staffing),
    )


def _changed(search: Search, staffing: Staffing) -> dict[str, Any]:
    """Return a staffing as the fields of Changed."""
    rosters = {
        team: {"roster": [row.model_dump(mode="json", exclude_defaults=True) for row in rows]}
        for team, rows in staffing.rosters.items()
    }
    changed = staffing.of(search.study)
    there = {
        team.id: members_in_week(changed, team, search.grid.interval).tolist()
        for team in changed.teams
        if team.id in search.changes_teams
    }
    sizes = {team: {"size": number} for team, number in staffing.sizes.items()}
    return {"teams": rosters | sizes, "levers": dict(staffing.levers), "there": there}


def _candidate(aims: Aims, tried: Tried) -> Candidate:
    figure, _ = figure_of_first(aims, tried.outcome)
    told = figure if math.isfinite(figure) and not tried.outcome.stands_still else None
    return Candidate(cost_per_week=tried.cost, figure=told, holds=least_margin(aims, tried.outcome) >= 0)
