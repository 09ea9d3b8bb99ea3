"""Plans next to a plan: a shift taken off, shortened or moved, and which of these promise most.

What a change does is guessed by theory, as arrivals that then have to wait, and tried by simulation later.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import product

import numpy as np
from scipy.special import gammaln, logsumexp

from flowcore.results.week_grid import Floats
from flowcore.sizing.staffing.allowed import Allowed
from flowcore.sizing.staffing.cover import Coverage, Covering
from flowcore.sizing.staffing.plans import Person, Plan
from flowcore.sizing.staffing.pools import Pool
from flowcore.sizing.staffing.shifts import Hours, Shift

MOST_PAIRS = 60
"""So many of the best single changes are tried together with another."""
NOTHING = 1e-9
LEFT_OVER = 10.0
"""The work that one member too few leaves undone makes so many times as many wait as come in that time."""


@dataclass(frozen=True)
class Change:
    """Members who go and come in one team, or fewer places: what that saves a week, and what it is guessed to do.

    `harm` is in arrivals of a week that wait longer than they may and would not have.
    """

    team: str
    gone: tuple[Person, ...]
    come: tuple[Person, ...]
    fewer: int
    saves: float
    harm: float


@dataclass(frozen=True)
class Neighbour:
    """A plan next to another one, by which changes: what it saves a week, and the guessed harm in each team."""

    plan: Plan
    changes: tuple[Change, ...]
    saves: float
    harms: Mapping[str, float]

    @property
    def harm(self) -> float:
        """The harm in all teams."""
        return sum(self.harms.values())


class Neighbourhood:
    """Finds the plans next to a plan, those that promise most first."""

    def __init__(self, covering: Covering, pools: Sequence[Pool], limit: float) -> None:
        self._covering, self._pools, self._limit = covering, pools, limit

    def weights(self, coverage: Coverage) -> tuple[dict[str, Floats], dict[str, Floats]]:
        """Return how many more arrivals wait too long where a team has one less in an interval, and how many one more.

        The second is how many fewer.
        """
        less = {each.team.id: np.zeros(self._covering.grid.count) for each in self._covering.teams}
        more = {team: each.copy() for team, each in less.items()}
        for pool in self._pools:
            mine = [team for team in pool.teams if team in less]
            there = np.round(sum((coverage[team] for team in pool.teams), np.zeros(self._covering.grid.count)))
            here = self._waiting(there, pool)
            for team in mine:
                less[team] += self._waiting(there - 1, pool) - here
                more[team] += here - self._waiting(there + 1, pool)
        return less, more

    def _waiting(self, members: Floats, pool: Pool) -> Floats:
        """Return how many of a pool's arrivals in each interval wait longer than the limit with so many members.

        By the formula of M/M/c for the load there; see `theory.queues.wait_beyond_mmc`. Beyond what the members can do
        all do, and what is left over makes others wait later.
        """
        load = pool.load
        share = np.where(load > NOTHING, 1.0 + LEFT_OVER * np.maximum(0.0, load - members), 0.0)
        enough = (members > load) & (load > NOTHING)
        rate = pool.arrivals / self._covering.grid.interval
        for count in np.unique(members[enough]).astype(int).tolist():
            where = enough & (members == count)
            faster = (count - load[where]) * rate[where] / load[where]
            share[where] = _erlang_c(count, load[where]) * np.exp(-faster * self._limit)
        found: Floats = pool.arrivals * share
        return found

    def of(self, plan: Plan) -> list[Neighbour]:
        """Return the cheaper plans next to one, and those that cost the same and promise shorter waits."""
        singles = sorted(self.changes(plan), key=_promise, reverse=True)
        found = [_neighbour(plan, (each,)) for each in singles if _helps(each)]
        return found + [_neighbour(plan, pair) for pair in self._pairs(singles)]

    def _pairs(self, singles: Sequence[Change]) -> Iterator[tuple[Change, Change]]:
        """Yield a change that saves with one that makes up for it, of other members, where both together still save."""
        saving = [each for each in singles if each.saves > NOTHING][:MOST_PAIRS]
        mending = sorted((each for each in singles if each.harm < -NOTHING), key=lambda each: each.harm)[:MOST_PAIRS]
        for one, other in product(saving, mending):
            apart = one.team != other.team or not {each.key for each in one.gone} & {each.key for each in other.gone}
            if apart and one.saves + other.saves > NOTHING:
                yield one, other

    def changes(self, plan: Plan) -> Iterator[Change]:
        """Yield all single changes of a plan, those that cost more too."""
        coverage = self._covering.coverage(plan)
        less, more = self.weights(coverage)
        for team in self._covering.teams:
            name = team.team.id
            if team.has_shifts:
                yield from self._of_people(team, plan, less[name], more[name])
            elif plan.sizes[name] > team.people[0]:
                yield Change(name, (), (), 1, team.limits.cost, float(less[name].sum()))

    def _of_people(self, team: Allowed, plan: Plan, less: Floats, more: Floats) -> Iterator[Change]:
        name, people = team.team.id, plan.people[team.team.id]
        low, high = team.people
        others, comes = self._candidates(team, less)
        costs = np.array([team.cost_of(each.tour) for each in others])
        for person in {each.key: each for each in people}.values():
            there, cost = self._covering.presence(team, person), team.cost_of(person.tour)
            if len(people) > low:
                yield Change(name, (person,), (), 0, cost, float(there @ less))
            more_or_less = comes - there
            harms = np.clip(-more_or_less, 0, None) @ less - np.clip(more_or_less, 0, None) @ more
            for other, saves, harm in zip(others, (cost - costs).tolist(), harms.tolist(), strict=True):
                if other.key != person.key and _has_room(team, people, other, person):
                    yield Change(name, (person,), (other,), 0, saves, harm)
        if len(people) < high:
            for other, cost, won in zip(others, costs.tolist(), (comes @ more).tolist(), strict=True):
                if _has_room(team, people, other, None):
                    yield Change(name, (), (other,), 0, -cost, -won)

    def _candidates(self, team: Allowed, less: Floats) -> tuple[list[Person], Floats]:
        """Return a member for every tour, with the breaks where they do least harm, and when each is there."""
        grid = self._covering.grid

        @cache
        def placed(day: int, hours: Hours) -> Shift:
            return hours.with_breaks_where_least(day, less, grid)

        people = []
        for tour in team.tours:
            shifts = tuple(placed(day, hours) for day, hours in zip(tour.days, tour.hours, strict=True))
            people.append(Person(tour, shifts))
        return people, np.array([self._covering.presence(team, person) for person in people])


def _neighbour(plan: Plan, changes: Sequence[Change]) -> Neighbour:
    harms: dict[str, float] = {}
    for each in changes:
        harms[each.team] = harms.get(each.team, 0.0) + each.harm
    return Neighbour(changed_by(plan, changes), tuple(changes), sum(each.saves for each in changes), harms)


def _has_room(team: Allowed, people: Sequence[Person], comes: Person, goes: Person | None) -> bool:
    """Say whether one more of the kind of who comes may be there, once another has gone."""
    for kind in team.limits.kinds:
        if kind.name == comes.tour.kind:
            taken = sum(each.tour.kind == kind.name for each in people)
            return taken - (goes is not None and goes.tour.kind == kind.name) < kind.people
    return True


def _helps(change: Change) -> bool:
    return change.saves > NOTHING or (abs(change.saves) <= NOTHING and change.harm < -NOTHING)


def _promise(change: Change) -> float:
    """Return how much a change saves for the harm that it does."""
    return change.saves / max(change.harm, 1e-3) if change.saves > 0 else -change.harm * 1e-6


def changed_by(plan: Plan, changes: Sequence[Change]) -> Plan:
    """Return a plan with changes of different members."""
    people = {team: list(each) for team, each in plan.people.items()}
    sizes = dict(plan.sizes)
    for change in changes:
        for gone in change.gone:
            keys = [each.key for each in people[change.team]]
            people[change.team].pop(keys.index(gone.key))
        if change.gone or change.come:
            people[change.team] += change.come
        if change.fewer:
            sizes[change.team] -= change.fewer
    return Plan({team: tuple(sorted(each, key=lambda one: one.key)) for team, each in people.items()}, sizes)


def _erlang_c(servers: int, loads: Floats) -> Floats:
    """Return the share that waits in M/M/c at several loads below c."""
    log_terms = np.arange(servers) * np.log(loads)[:, None] - gammaln(np.arange(servers) + 1)
    log_full = servers * np.log(loads) - gammaln(servers + 1) + np.log(servers / (servers - loads))
    found: Floats = np.exp(log_full - logsumexp(np.column_stack([log_terms, log_full]), axis=1))
    return found
