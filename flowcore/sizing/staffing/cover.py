"""Rosters that cover a need at least cost: an integer programme over tours, with the breaks placed at the same time.

Whole numbers of members work each tour (Dantzig, A comment on Edie's traffic delays at toll booths, Operations Research
2, 1954). Breaks are counted by when they begin, for all shifts of a length together: there must be as many up to each
moment as windows have closed by then, and from each on as windows open later (Bechtold and Jacobs, Implicit modeling of
flexible break assignments in optimal shift scheduling, Management Science 36, 1990). Who began first has the first one.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, OptimizeResult, milp
from scipy.sparse import coo_array, csr_array

from flowcore.sizing.grid import Floats, Grid, Whole
from flowcore.sizing.staffing.shifts import Hours, Shift, Tour, Window, presence_of_rows, tours_of
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY, HOUR
from flowcore.study.rosters import RosterRow
from flowcore.study.sizing import TeamLimits
from flowcore.study.teams import Team
from flowcore.theory.staying import empties, still_there

A_LITTLE = 1e-3
"""What an hour costs besides its rate, so that of two rosters that cost the same the shorter is found."""
ALMOST = 1e-6
NEAR_ENOUGH = 5e-3
"""A cover may cost so large a share more than the least that could be."""
MOST_SECONDS = 60.0
"""So long a cover is looked for."""
FEW_TOURS = 150
"""Of more tours than these some members are settled first, and the best is looked for with the rest."""
LEFT_OPEN = 3.0
"""So many members are left open when the others are settled."""

Coverage = dict[str, Floats]
"""The members of each team in each interval of the week."""


@dataclass(frozen=True)
class Person:
    """One member of a team: the tour, and the shift of each of its days with its breaks."""

    tour: Tour
    shifts: tuple[Shift, ...]

    @property
    def key(self) -> tuple[object, ...]:
        """What tells members apart that work differently; in order."""
        hours = tuple((day, each.begin, each.length) for day, each in zip(self.tour.days, self.shifts, strict=True))
        return (self.tour.kind, hours, tuple(tuple(after for after, _ in each.breaks) for each in self.shifts))


@dataclass(frozen=True)
class Plan:
    """Who works when: the members of the teams with shifts, and how many the others have."""

    people: Mapping[str, tuple[Person, ...]]
    sizes: Mapping[str, int]


@dataclass(frozen=True)
class Cut:
    """Something more that the coverage must keep: the sum over teams and intervals of weights times members."""

    weights: Mapping[str, Floats]
    at_least: float


@dataclass(frozen=True)
class Cover:
    """A plan that covers a need, what it costs a week, and by how large a share a better one could be cheaper.

    `short` are the members that are lacking where nothing within the limits covers the need, by pool and interval.
    """

    plan: Plan
    cost: float
    gap: float
    short: dict[str, Floats] = field(default_factory=dict)


class Allowed:
    """All that the limits of one team allow."""

    def __init__(self, team: Team, limits: TeamLimits, days: Sequence[int], grid: Grid, stays: Floats) -> None:
        self.team, self.limits, self.grid, self.stays = team, limits, grid, stays
        self.has_shifts = bool(limits.shifts)
        self.tours = tours_of(limits, days) if self.has_shifts else []
        self.fixed: Sequence[RosterRow] = limits.fixed
        self.fixed_presence = presence_of_rows(limits.fixed, grid)

    @cached_property
    def worked(self) -> list[tuple[int, Hours]]:
        """All hours that may be worked on each day, in order."""
        found = {(day, each) for tour in self.tours for day, each in zip(tour.days, tour.hours, strict=True)}
        return sorted(found, key=lambda each: (each[0], each[1].begin, each[1].length))

    @cached_property
    def rests(self) -> "list[Rest]":
        """The breaks of all shifts of a length together, day by day."""
        groups: dict[tuple[int, float, tuple[Window, ...]], list[int]] = {}
        for number, (day, hours) in enumerate(self.worked):
            groups.setdefault((day, hours.length, hours.windows), []).append(number)
        return [
            Rest(day, which, window, tuple(numbers), [self.worked[n][1].begin for n in numbers], self.grid)
            for (day, _, windows), numbers in groups.items()
            for which, window in enumerate(windows)
        ]

    @cached_property
    def presences(self) -> Floats:
        """Who is there in the hours worked, and who is not in the breaks, shape (worked and breaks, intervals).

        An interval of which half or more is covered counts as a whole one: with parts the programme takes far longer.
        """
        there = [
            Shift(hours.begin, hours.length).presence(self.grid, day) + self.staying(day, hours.end)
            for day, hours in self.worked
        ]
        away = [-each.away(begin) for each in self.rests for begin in each.begins]
        shares = np.array([*there, *away]).reshape(-1, self.grid.count)
        whole: Floats = np.sign(shares) * np.floor(np.abs(shares) + 0.5)
        return whole

    def staying(self, day: int, end: float) -> Floats:
        """Return who is still there after a shift that ends then, in each interval of the week: a share of one."""
        place = int((day * DAY + end) // self.grid.interval) % self.grid.count
        there: Floats = self.stays[place]
        return there

    def cost_of(self, tour: Tour) -> float:
        """Return what a member with a tour costs a week, with the overtime of staying until nobody is inside."""
        rate = self.team.rate if self.team.paid == "present" else 0.0
        worked = zip(tour.days, tour.hours, strict=True)
        stays = sum(float(self.staying(day, hours.end).sum()) for day, hours in worked) * self.grid.interval
        overtime = stays * rate * self.team.overtime
        return ((rate + A_LITTLE) * tour.paid + overtime) / HOUR

    @property
    def people(self) -> tuple[int, int]:
        """From how many on, and up to how many, members there may be besides those of fixed rows."""
        fixed = sum(row.people for row in self.fixed)
        return max(0, self.limits.people.low - fixed), max(0, self.limits.people.high - fixed)


class Rest:
    """One break of all shifts of a length on a day: when it may begin, and the `worked` hours whose break it is."""

    def __init__(
        self, day: int, which: int, window: Window, worked: tuple[int, ...], starts: Sequence[float], grid: Grid
    ) -> None:
        self.day, self.which, self.window, self.worked, self.starts = day, which, window, worked, starts
        self._grid = grid
        self.begins = sorted({start + after for start in starts for after in window.places(grid)})

    def away(self, begin: float) -> Floats:
        """Return which share of each interval of the week is lost by a break that begins then."""
        at = self.day * DAY + begin
        return self._grid.covered(at, at + self.window.pause.length)

    def bounds(self) -> Iterator[tuple[Whole, list[int], bool]]:
        """Yield which breaks must be at least as many as the members of which hours, and if exactly so many.

        Each are the places of the breaks among `begins`, and the hours by their number.
        """
        begins = np.array(self.begins)
        yield np.arange(len(begins)), list(self.worked), True
        for number, start in enumerate(self.starts):
            closed = np.flatnonzero(begins <= start + self.window.last + ALMOST)
            yield closed, list(self.worked[: number + 1]), False
            opened = np.flatnonzero(begins >= start + self.window.first - ALMOST)
            yield opened, list(self.worked[number:]), False


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
        """Whether there are few enough tours for a cover to be found in no time."""
        return sum(len(team.tours) for team in self.teams) <= FEW_TOURS

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

    def solve(self, need: Mapping[tuple[str, ...], Floats], cuts: Sequence[Cut] = ()) -> Cover:
        """Return the cheapest plan that covers a need.

        Parameters
        ----------
        need
            The members needed of some teams together in each interval of the week, shape (intervals,).
        cuts
            What else the coverage must keep.

        Returns
        -------
        Cover
            Where nothing covers the need, a plan that lacks least.
        """
        found = _Programme(self, need, cuts, lacking=False).solve()
        return found or _Programme(self, need, cuts, lacking=True).solve() or self._nobody()

    def _nobody(self) -> Cover:
        plan = Plan({each.team.id: () for each in self.teams if each.has_shifts}, {})
        return Cover(plan, 0.0, 0.0)

    def others_in(self, teams: Sequence[str]) -> Floats:
        """Return who of some teams is there without being changed: other teams, and fixed rows."""
        there = np.zeros(self.grid.count)
        for team in teams:
            there = there + self._others.get(team, 0.0)
        for each in self.teams:
            if each.team.id in teams:
                there = there + each.fixed_presence
        return there


class _Programme:
    """The variables and rows of one integer programme, by tours, hours and breaks, sizes, what is lacking."""

    def __init__(
        self,
        covering: Covering,
        need: Mapping[tuple[str, ...], Floats],
        cuts: Sequence[Cut],
        lacking: bool,
    ) -> None:
        self._covering, self._teams = covering, covering.teams
        self._rows: list[tuple[Floats, Floats]] = []
        self._least: list[float] = []
        self._most: list[float] = []
        self._lay_out()
        for teams, values in need.items():
            self._add_need(teams, values, lacking)
        for cut in cuts:
            self._add_cut(cut)
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
        there = self._covering.others_in(teams)
        for place in np.flatnonzero(need > there + ALMOST).tolist():
            columns, weights = self._there(teams, place)
            asked = float(need[place] - there[place])
            if lacking:
                short = self._new([self._price_of_lack])
                self._short.append((teams, place, short))
                columns, weights = [*columns, short], [*weights, 1.0]
            self._row(columns, weights, asked - ALMOST, np.inf)

    def _add_cut(self, cut: Cut) -> None:
        columns: list[int] = []
        weights: list[float] = []
        already = 0.0
        for team in self._teams:
            of_team = cut.weights.get(team.team.id)
            if of_team is None:
                continue
            if team.has_shifts:
                already += float(team.fixed_presence @ of_team)
                brings = team.presences @ of_team
                columns += (self._there_by[team.team.id] + np.arange(len(brings))).tolist()
                weights += brings.tolist()
            else:
                columns.append(self._sizes[team.team.id])
                weights.append(float(of_team.sum()))
        self._row(columns, weights, cut.at_least - already, np.inf)

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

    def solve(self) -> Cover | None:
        """Return the cover; None where there is none.

        With many tours the programme without whole numbers is solved first, the largest part of a member made a whole
        one, and so on until few are left (a dive: Achterberg, Constraint Integer Programming, thesis, Technische
        Universität Berlin 2007, section 9.1); how much less it might cost is then told by the first of these.
        """
        lowest, least = np.zeros(len(self._costs)), 0.0
        if not self._covering.is_quick:
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
        return milp(
            np.array(self._costs),
            integrality=whole,
            bounds=Bounds(lowest, np.array(self._highest)),
            constraints=LinearConstraint(self._table, np.array(self._least), np.array(self._most)),
            options={"mip_rel_gap": NEAR_ENOUGH, "time_limit": MOST_SECONDS},
        )

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

    def _read(self, values: Floats, gap: float) -> Cover:
        people = {team.team.id: self._people_of(team, values) for team in self._teams if team.has_shifts}
        plan = Plan(people, {name: round(values[place]) for name, place in self._sizes.items()})
        short: dict[str, Floats] = {}
        for teams, place, column in self._short:
            if values[column] > ALMOST * 10:
                short.setdefault("+".join(teams), np.zeros(self._covering.grid.count))[place] = values[column]
        return Cover(plan, self._covering.cost(plan), gap, short)

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


def rows_of(people: Sequence[Person], fixed: Sequence[RosterRow] = ()) -> list[RosterRow]:
    """Return members as rows of a roster: who has the same hours and breaks on the same days is in one row."""
    counts: dict[Shift, list[int]] = {}
    for person in people:
        for day, shift in zip(person.tour.days, person.shifts, strict=True):
            counts.setdefault(shift, [0] * 7)[day] += 1
    rows = list(fixed)
    in_order = sorted(counts, key=lambda each: (each.begin, each.length, [after for after, _ in each.breaks]))
    for shift in in_order:
        rows += _layers(shift, counts[shift])
    return rows


def _layers(shift: Shift, counts: Sequence[int]) -> list[RosterRow]:
    """Return the rows of one shift of which there are so many on each day."""
    layers: dict[tuple[int, ...], int] = {}
    for level in range(1, max(counts) + 1):
        days = tuple(day for day, count in enumerate(counts) if count >= level)
        layers[days] = layers.get(days, 0) + 1
    return [shift.row(days, people) for days, people in layers.items()]


def hours_of_week(people: Sequence[Person]) -> float:
    """Return the hours of a week that members are paid for."""
    return sum(person.tour.paid for person in people) / HOUR


def days_with_work(load: Floats, grid: Grid) -> list[int]:
    """Return the days of the week, from 0 for Monday, on which something is to be done."""
    by_day = load.reshape(7, grid.a_day).sum(axis=1)
    return [day for day in range(7) if by_day[day] > 0.01 * by_day.max()] if by_day.max() > 0 else []


def interval_of(study: StudyDocument) -> Grid:
    """Return the grid of a study: the intervals in which it is told."""
    return Grid(minutes(study.run.interval))
