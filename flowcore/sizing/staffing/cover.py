"""Rosters that cover a need at least cost."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from flowcore.problems import StudyError, error_at
from flowcore.results.week_grid import Floats, Grid
from flowcore.sizing.staffing.allowed import Allowed
from flowcore.sizing.staffing.plans import Person, Plan
from flowcore.sizing.staffing.programme import Programme, is_quick
from flowcore.sizing.staffing.shifts import Shift, presence_of_rows
from flowcore.study import StudyDocument
from flowcore.study.sizing import TeamLimits
from flowcore.theory.staying import empties, still_there

Coverage = dict[str, Floats]
"""The members of each team in each interval of the week."""


@dataclass(frozen=True)
class Cover:
    """A plan that covers a need, what it costs a week, and by how large a share a better one could be cheaper.

    `short` are the members that are lacking where nothing within the limits covers the need, by pool and interval.
    """

    plan: Plan
    cost: float
    gap: float
    short: dict[str, Floats] = field(default_factory=dict)


class Covering:
    """The integer programme of some teams that are covered together."""

    def __init__(
        self,
        study: StudyDocument,
        limits: Sequence[TeamLimits],
        days: Sequence[int],
        grid: Grid,
    ) -> None:
        self.study, self.grid = study, grid
        self._presences: dict[tuple[str, int, Shift], Floats] = {}
        chances = empties(study, grid.interval)
        by_id = {team.id: team for team in study.teams}
        self.teams = [
            Allowed(by_id[each.team], each, days, grid, still_there(by_id[each.team], chances, grid.interval))
            for each in limits
        ]
        self._others = {
            team.id: presence_of_rows(team.roster, grid) if team.roster else np.full(grid.count, float(team.members))
            for team in study.teams
            if team.id not in {each.team for each in limits}
        }

    @property
    def is_quick(self) -> bool:
        """Whether a cover is found in no time."""
        return is_quick(self.teams)

    def coverage(self, plan: Plan) -> Coverage:
        """Return the members of each team that are there in each interval by a plan, those that do not change too."""
        found = dict(self._others)
        for each in self.teams:
            if each.has_shifts:
                there = each.fixed_presence.copy()
                for person in plan.people[each.team.id]:
                    there += self.presence(each, person)
                found[each.team.id] = there
            else:
                found[each.team.id] = np.full(self.grid.count, float(plan.sizes[each.team.id]))
        return found

    def presence(self, team: Allowed, person: Person) -> Floats:
        """Return which share of each interval a member is there, staying after the shift too, shape (intervals,)."""
        there = np.zeros(self.grid.count)
        for day, shift in zip(person.tour.days, person.shifts, strict=True):
            key = (team.team.id, day, shift)
            if key not in self._presences:
                self._presences[key] = shift.presence(self.grid, day) + team.staying(day, shift.end)
            there += self._presences[key]
        return there

    def cost(self, plan: Plan) -> float:
        """Return what a plan costs a week by theory."""
        cost = 0.0
        for each in self.teams:
            for person in plan.people.get(each.team.id, ()):
                cost += each.cost_of(person.tour)
            cost += each.limits.cost * plan.sizes.get(each.team.id, 0)
        return cost

    def solve(self, need: Mapping[tuple[str, ...], Floats]) -> Cover:
        """Return the cheapest plan that covers a need.

        Parameters
        ----------
        need
            The members needed of some teams together in each interval of the week, shape (intervals,).

        Returns
        -------
        Cover
            Where nothing covers the need, a plan that lacks least.

        Raises
        ------
        StudyError
            Where the limits leave no plan at all, or none is found in time.
        """
        asked = {teams: np.maximum(0.0, members - self._others_in(teams)) for teams, members in need.items()}
        ways = (Programme(self.teams, asked, lacking).solve() for lacking in (False, True))
        found = next((each for each in ways if each is not None), None)
        if found is None:
            what = "The limits contradict one another: no roster has as many people as there must be."
            raise StudyError([error_at("sizing", what, "Ask for fewer people, or allow more shifts or days.")])
        short = {
            pool: np.bincount([*places], [*places.values()], self.grid.count).astype(np.float64)
            for pool, places in found.short.items()
        }
        return Cover(found.plan, self.cost(found.plan), found.gap, short)

    def _others_in(self, teams: Sequence[str]) -> Floats:
        """Return who of some teams is there without being changed: other teams, and fixed rows."""
        there = np.zeros(self.grid.count)
        for team in teams:
            there = there + self._others.get(team, 0.0)
        for each in self.teams:
            if each.team.id in teams:
                there = there + each.fixed_presence
        return there
