"""What members did with their time, and what everything cost."""

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import INSIDE_LEVEL, LINE_LEVEL
from flowcore.kernel.records.world import Plan, World
from flowcore.kernel.summary.views import levels_of_types
from flowcore.results.arrays import Values, columns_of, plain, ratio, ratios
from flowcore.results.catalogue import PARTS_OF_LINES, TEAM_LINES
from flowcore.study import StudyDocument
from flowcore.study.durations import DAY
from flowcore.study.teams import Team

MINUTES_PER_HOUR = 60.0
STATES = {
    "off": (k.MemberState.OFF,),
    "absent": (k.MemberState.ABSENT,),
    "idle": (k.MemberState.IDLE,),
    "working": (k.MemberState.WORKING,),
    "walking": (k.MemberState.WALKING,),
    "break": (k.MemberState.ON_BREAK, k.MemberState.ON_UNPAID_BREAK),
    "interrupted": (k.MemberState.INTERRUPTED,),
}
Times = NDArray[np.float64]


def times_of(world: World, team: int) -> Times:
    """Return the minutes of a team's members by shift and state, shape (members, 2, states)."""
    teams = plain(world.plan.teams)
    first = teams["first_member"][team]
    rows = world.member_time[first : first + teams["members"][team]]
    return rows.reshape(-1, 2, k.MEMBER_STATES)


def paid_minutes(team: Team, times: Times) -> Times:
    """Return the minutes of `times`, shape (…, states), that are paid: those there, or those used."""
    if team.paid == "used":
        return times[..., k.MemberState.WORKING] + times[..., k.MemberState.WALKING]
    unpaid = (
        [k.MemberState.OFF, k.MemberState.ON_UNPAID_BREAK]
        if team.absence_paid
        else [k.MemberState.OFF, k.MemberState.ON_UNPAID_BREAK, k.MemberState.ABSENT]
    )
    paid: Times = times.sum(axis=-1) - times[..., unpaid].sum(axis=-1)
    return paid


_FIGURES = ("utilisation", "occupancy", "paid-use", "present", "working")
_OF_MEMBERS = [number for number, name in enumerate(_FIGURES) if name != "present"]


def _figures_of(team: Team, times: Times, minutes: Values) -> Values:
    """Return the _FIGURES of rows of members' minutes, shape (rows, states), each over its `minutes` of the run.

    Busy is working and walking. `utilisation` is busy over the time on duty, which breaks are not;
    `occupancy` leaves out interruptions too; `paid-use` is busy over the time paid.
    """
    present = times.sum(axis=1) - times[:, k.MemberState.OFF] - times[:, k.MemberState.ABSENT]
    working = times[:, k.MemberState.WORKING] + times[:, k.MemberState.WALKING]
    idle = times[:, k.MemberState.IDLE]
    told = [
        ratios(working, working + idle + times[:, k.MemberState.INTERRUPTED]),
        ratios(working, working + idle),
        ratios(working, paid_minutes(team, times)),
        ratios(present, minutes),
        ratios(working, minutes),
    ]
    return np.stack(told, axis=1)


def _states_of(times: Times) -> Values:
    """Return the shares of the time in each of the STATES, shape (rows, STATES)."""
    whole = times.sum(axis=1)
    return np.stack([ratios(times[:, list(columns)].sum(axis=1), whole) for columns in STATES.values()], axis=1)


class Teams:
    """How busy teams and members were: over all, in regular time and in overtime."""

    def __init__(self, study: StudyDocument, plan: Plan) -> None:
        self._teams, self._splits = study.teams, study.has_shifts
        self._places = _Places(study, plan)
        states = [f"state:{state}" for state in STATES]
        of_members = [*(_FIGURES[number] for number in _OF_MEMBERS), *states]
        self.addresses: list[str] = []
        for team, planned in zip(study.teams, plan.teams, strict=False):
            self.addresses += [f"team/{team.id}/{name}" for name in (*_FIGURES, *states)]
            for half in ("regular", "overtime") if self._splits else ():
                self.addresses += [f"team/{team.id}/{name}:{half}" for name in _FIGURES]
            for member in range(planned.members):
                self.addresses += [f"member/{team.id}:{member + 1}/{name}" for name in of_members]
        self.addresses += self._places.addresses

    def __call__(self, world: World, minutes: float) -> Values:
        """Return the figures of a replication at its end that collected for `minutes`."""
        overtime = float(world.clock[0].overtime_minutes)
        found: list[Values] = []
        for number, team in enumerate(self._teams):
            times = times_of(world, number)
            halves = [times[:, 0].sum(axis=0), times[:, 1].sum(axis=0)] if self._splits else []
            lengths = [minutes, *((minutes - overtime, overtime) if self._splits else ()), *[minutes] * len(times)]
            rows = np.vstack([times.sum(axis=(0, 1)), *halves, times.sum(axis=1)])
            figures, states = _figures_of(team, rows, np.array(lengths)), _states_of(rows)
            first = 1 + len(halves)
            found += [figures[0], states[0], figures[1:first].ravel()]
            found.append(np.hstack([figures[first:, _OF_MEMBERS], states[first:]]).ravel())
        return np.concatenate([*found, self._places(world, minutes)])


class _Places:
    """How full the places with a capacity were."""

    def __init__(self, study: StudyDocument, plan: Plan) -> None:
        self._used = [number for number, team in enumerate(plan.teams) if team.kind == c.TeamKind.PLACE_CAPACITY]
        places = {step.place for step in study.steps} | {each.place for step in study.steps for each in step.places}
        limited = [place for place in study.site.places if place.capacity and place.id in places]
        self.addresses = [
            f"place/{place.id}/{name}"
            for place, _ in zip(limited, self._used, strict=True)
            for name in ("utilisation", "inside/mean")
        ]

    def __call__(self, world: World, minutes: float) -> Values:
        found: list[float] = []
        for team in self._used:
            times = times_of(world, team).sum(axis=(0, 1))
            working = float(times[k.MemberState.WORKING])
            found += [ratio(working, float(times.sum())), ratio(working, minutes)]
        return np.array(found)


def _team_costs(team: Team, times: Times, uses: int) -> dict[str, float]:
    """Return a team's money by line, and of that what is idle, and all overtime."""
    hourly = team.rate / MINUTES_PER_HOUR
    paid = paid_minutes(team, times.sum(axis=0))
    idle = float(times[:, 0, k.MemberState.IDLE].sum()) if team.paid == "present" else 0.0
    base = float(paid[1]) * hourly
    return {
        "regular": float(paid[0]) * hourly,
        "idle": idle * hourly,
        "overtime-base": base,
        "overtime-premium": base * (team.overtime - 1),
        "overtime": base * team.overtime,
        "use": uses * team.use_cost,
    }


def _sum_of(lines: dict[str, float]) -> float:
    return sum(amount for line, amount in lines.items() if line not in PARTS_OF_LINES)


_OF_SERVICE = ("case", "changeover", "penalty", "waiting", "inside", "total", "value")
_UNITS = ("run", "per:hour", "per:day", "per:open-day", "per:case")


class Costs:
    """What everything cost, by line and team: in the whole run, per hour, per day and per completed case.

    Per day is by the clock; per open day is over the days on which the service is open. `total` is the sum of all lines
    but those that are parts or sums of others; `value` stands beside it.
    """

    def __init__(self, study: StudyDocument) -> None:
        self._teams = study.teams
        self._exits = np.array([step.kind == "exit" for step in study.steps], bool)
        self._worth = np.array([kind.value for kind in study.case_types] or [0.0])
        money = [f"cost/team/{team.id}/{line}" for team in study.teams for line in (*TEAM_LINES[1:], "total")]
        money += [f"cost/{line}" for line in (*TEAM_LINES[1:], *_OF_SERVICE)]
        self.addresses = [f"{each}/{unit}" for unit in _UNITS for each in money]

    def __call__(self, world: World, minutes: float, days_open: int) -> Values:
        """Return the figures of a replication at its end that collected for `minutes`, on so many days of opening."""
        money: list[float] = []
        sums = dict.fromkeys(TEAM_LINES[1:], 0.0)
        for number, team in enumerate(self._teams):
            lines = _team_costs(team, times_of(world, number), int(world.teams[number].uses))
            for line, amount in lines.items():
                sums[line] += amount
            money += [*(lines[line] for line in TEAM_LINES[1:]), _sum_of(lines)]
        sums |= self._of_service(world)
        sums["total"] = _sum_of(sums)
        (completed,) = columns_of(world.type_tally, "completed")
        sums["value"] = float((self._worth * completed).sum())
        amounts = np.array([*money, *sums.values()])
        wholes = (minutes / MINUTES_PER_HOUR, minutes / DAY, float(days_open), float(completed.sum()))
        return np.concatenate([amounts, *(ratios(amounts, whole) for whole in wholes)])

    def _of_service(self, world: World) -> dict[str, float]:
        """Return the money that is no team's, by line."""
        cost, changeover = columns_of(world.step_tally, "cost", "changeover")
        waiting, inside = (plain(levels_of_types(world, column))["area"] for column in (LINE_LEVEL, INSIDE_LEVEL))
        types = plain(world.plan.types)
        return {
            "case": float(cost[~self._exits].sum()),
            "changeover": float(changeover.sum()),
            "penalty": float(cost[self._exits].sum()),
            "waiting": float((waiting * types["waiting_cost"]).sum()) / MINUTES_PER_HOUR,
            "inside": float((inside * types["inside_cost"]).sum()) / MINUTES_PER_HOUR,
        }
