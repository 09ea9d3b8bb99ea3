"""The integer programme of the cheapest cover: over tours, with the breaks placed at the same time.

Whole numbers of members work each tour (Dantzig, A comment on Edie's traffic delays at toll booths, Operations Research
2, 1954). Breaks are counted by when they begin, for all shifts of a length together: there must be as many up to each
moment as windows have closed by then, and from each on as windows open later (Bechtold and Jacobs, Implicit modeling of
flexible break assignments in optimal shift scheduling, Management Science 36, 1990). Who began first has the first one.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, OptimizeResult, milp
from scipy.sparse import coo_array, csr_array

from flowcore.problems import StudyError, error_at
from flowcore.results.week_grid import Floats, Whole
from flowcore.sizing.staffing.allowed import A_LITTLE, ALMOST, Allowed
from flowcore.sizing.staffing.plans import Person, Plan
from flowcore.sizing.staffing.shifts import Hours

NEAR_ENOUGH = 5e-3
"""A cover may cost so large a share more than the least that could be."""
MOST_SECONDS = 60.0
"""So long a cover is looked for."""
OUT_OF_TIME = 1
"""What the solver says when its time is over."""
FEW_TOURS = 150
"""Of more tours than these some members are settled first, and the best is looked for with the rest."""
LEFT_OPEN = 3.0
"""So many members are left open when the others are settled."""


@dataclass(frozen=True)
class Solution:
    """A plan, by how large a share a better one could be cheaper, and how many are lacking by pool and interval."""

    plan: Plan
    gap: float
    short: dict[str, dict[int, float]]


def is_quick(teams: Sequence[Allowed]) -> bool:
    """Say whether there are few enough tours for a cover to be found in no time."""
    return sum(len(team.tours) for team in teams) <= FEW_TOURS


class Programme:
    """The variables and rows of one integer programme, by tours, hours and breaks, sizes, what is lacking."""

    def __init__(
        self,
        teams: Sequence[Allowed],
        need: Mapping[tuple[str, ...], Floats],
        lacking: bool,
    ) -> None:
        self._teams = teams
        self._rows: list[tuple[Floats, Floats]] = []
        self._least: list[float] = []
        self._most: list[float] = []
        self._lay_out()
        for pool, values in need.items():
            self._add_need(pool, values, lacking)
        for team in self._teams:
            self._add_team(team)

    def _lay_out(self) -> None:
        self._costs: list[float] = []
        self._highest: list[float] = []
        self._tours: dict[str, int] = {}
        self._there_by: dict[str, int] = {}
        self._sizes: dict[str, int] = {}
        for team in self._teams:
            name = team.team.id
            if team.has_shifts:
                self._tours[name] = self._new([team.cost_of(tour) for tour in team.tours])
                self._there_by[name] = self._new([0.0] * len(team.presences))
            else:
                self._sizes[name] = self._new([team.limits.cost + A_LITTLE])
        self._short: list[tuple[tuple[str, ...], int, int]] = []
        self._price_of_lack = 10 * max(1.0, *self._costs)

    def _new(self, costs: Sequence[float], highest: float = np.inf) -> int:
        begin = len(self._costs)
        self._costs += costs
        self._highest += [highest] * len(costs)
        return begin

    def _row(self, columns: Sequence[int] | Whole, weights: Sequence[float] | Floats, low: float, high: float) -> None:
        self._rows.append((np.asarray(columns), np.asarray(weights, np.float64)))
        self._least.append(low)
        self._most.append(high)

    def _there(self, teams: Sequence[str], place: int) -> tuple[list[int], list[float]]:
        """Return the variables that bring members of some teams in an interval, and how many each brings."""
        columns: list[int] = []
        weights: list[float] = []
        for team in self._teams:
            if team.team.id not in teams:
                continue
            if team.has_shifts:
                [brings] = np.nonzero(team.presences[:, place])
                columns += (self._there_by[team.team.id] + brings).tolist()
                weights += team.presences[brings, place].tolist()
            else:
                columns.append(self._sizes[team.team.id])
                weights.append(1.0)
        return columns, weights

    def _add_need(self, teams: tuple[str, ...], need: Floats, lacking: bool) -> None:
        for place in np.flatnonzero(need > ALMOST).tolist():
            columns, weights = self._there(teams, place)
            if lacking:
                short = self._new([self._price_of_lack])
                self._short.append((teams, place, short))
                columns, weights = [*columns, short], [*weights, 1.0]
            self._row(columns, weights, float(need[place]) - ALMOST, np.inf)

    def _add_team(self, team: Allowed) -> None:
        name, (low, high) = team.team.id, team.people
        if not team.has_shifts:
            self._highest[self._sizes[name]] = high
            self._row([self._sizes[name]], [1.0], low, high)
            return
        first, numbers = self._tours[name], np.arange(len(team.tours))
        self._row(first + numbers, np.ones(len(numbers)), low, high)
        for kind in team.limits.kinds:
            mine = [n for n, tour in enumerate(team.tours) if tour.kind == kind.name]
            self._row(first + np.array(mine, np.int64), np.ones(len(mine)), 0, kind.people)
        self._add_hours(team)
        self._add_breaks(team)

    def _add_hours(self, team: Allowed) -> None:
        """Ask that as many work hours on a day as have tours with them."""
        tours, hours = self._tours[team.team.id], self._there_by[team.team.id]
        having: dict[tuple[int, Hours], list[int]] = {}
        for number, tour in enumerate(team.tours):
            for each in zip(tour.days, tour.hours, strict=True):
                having.setdefault(each, []).append(tours + number)
        for number, each in enumerate(team.worked):
            columns = having[each]
            self._row([hours + number, *columns], [1.0] + [-1.0] * len(columns), 0, 0)

    def _add_breaks(self, team: Allowed) -> None:
        """Ask that everybody can have the breaks in their windows."""
        hours = self._there_by[team.team.id]
        breaks = hours + len(team.worked)
        for rest in team.rests:
            for places, worked, exactly in rest.bounds():
                columns = [*(breaks + places).tolist(), *(hours + n for n in worked)]
                weights = [1.0] * len(places) + [-1.0] * len(worked)
                self._row(columns, weights, 0, 0 if exactly else np.inf)
            breaks += len(rest.begins)

    def solve(self) -> "Solution | None":
        """Return the best plan; None where there is none.

        With many tours the programme without whole numbers is solved first, the largest part of a member made a whole
        one, and so on until few are left (a dive: Achterberg, Constraint Integer Programming, thesis, Technische
        Universität Berlin 2007, section 9.1); how much less it might cost is then told by the first of these.
        """
        lowest, least = np.zeros(len(self._costs)), 0.0
        if not is_quick(self._teams):
            lowest, least = self._dive()
        found = self._solved(lowest)
        if found.x is None and lowest.any():
            found = self._solved(np.zeros(len(lowest)))
        if found.x is None:
            return None
        gap = (found.fun - least) / max(found.fun, ALMOST) if lowest.any() else float(found.mip_gap or 0.0)
        return self._read(np.asarray(found.x), gap)

    def _solved(self, lowest: Floats, in_whole: bool = True) -> OptimizeResult:
        """Return the best with at least so much of everything, of which all is in whole numbers but what is lacking."""
        whole = np.full(len(lowest), int(in_whole))
        whole[[short for _, _, short in self._short]] = 0
        found = milp(
            np.array(self._costs),
            integrality=whole,
            bounds=Bounds(lowest, np.array(self._highest)),
            constraints=LinearConstraint(self._table, np.array(self._least), np.array(self._most)),
            options={"mip_rel_gap": NEAR_ENOUGH, "time_limit": MOST_SECONDS},
        )
        if found.x is None and found.status == OUT_OF_TIME:
            what = f"No roster was found in {MOST_SECONDS:.0f} seconds: there are too many ways of working a week."
            raise StudyError([error_at("sizing", what, "Let shifts start at fewer times, or have fewer lengths.")])
        return found

    @cached_property
    def _table(self) -> csr_array:
        rows = np.repeat(np.arange(len(self._rows)), [len(columns) for columns, _ in self._rows])
        columns = np.concatenate([each for each, _ in self._rows]).astype(np.int64)
        weights = np.concatenate([each for _, each in self._rows])
        return coo_array((weights, (rows, columns)), shape=(len(self._rows), len(self._costs))).tocsr()

    def _dive(self) -> tuple[Floats, float]:
        """Return from how many members of each tour on the rest is to be solved, and the least that all could cost."""
        tours = np.concatenate(
            [self._tours[team.team.id] + np.arange(len(team.tours)) for team in self._teams if team.has_shifts]
        )
        lowest, least = np.zeros(len(self._costs)), -np.inf
        while True:
            found = self._solved(lowest, in_whole=False)
            if found.x is None:
                return np.zeros(len(lowest)), least
            least = max(least, found.fun) if not lowest.any() else least
            members = found.x[tours]
            lowest[tours] = np.maximum(lowest[tours], np.floor(members + ALMOST))
            beyond = members - np.floor(members + ALMOST)
            if beyond.sum() <= LEFT_OPEN:
                return lowest, least
            lowest[tours[np.argmax(beyond)]] += 1

    def _read(self, values: Floats, gap: float) -> "Solution":
        people = {team.team.id: self._people_of(team, values) for team in self._teams if team.has_shifts}
        plan = Plan(people, {name: round(values[place]) for name, place in self._sizes.items()})
        short: dict[str, dict[int, float]] = {}
        for teams, place, column in self._short:
            if values[column] > ALMOST * 10:
                short.setdefault("+".join(teams), {})[place] = float(values[column])
        return Solution(plan, gap, short)

    def _people_of(self, team: Allowed, values: Floats) -> tuple[Person, ...]:
        """Return the members whom a solution has: of those with a break, who begins first has the first one."""
        hours = self._there_by[team.team.id]
        breaks = hours + len(team.worked)
        left: dict[tuple[int, Hours], list[list[float]]] = {}
        for number, each in enumerate(team.worked):
            left[each] = [[] for _ in range(round(values[hours + number]))]
        for rest in team.rests:
            taken = [at for n, at in enumerate(rest.begins) for _ in range(round(values[breaks + n]))]
            for number in rest.worked:
                for own in left[team.worked[number]]:
                    own.append(taken.pop(0) - team.worked[number][1].begin)
            breaks += len(rest.begins)
        people = []
        for number, tour in enumerate(team.tours):
            for _ in range(round(values[self._tours[team.team.id] + number])):
                worked = zip(tour.days, tour.hours, strict=True)
                people.append(Person(tour, tuple(hours.shift(left[day, hours].pop(0)) for day, hours in worked)))
        return tuple(sorted(people, key=lambda each: each.key))
