"""What members did with their time, and what everything cost."""

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import INSIDE_LEVEL, LINE_LEVEL
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import levels_of_types
from flowcore.results.catalogue import PARTS_OF_LINES, TEAM_LINES
from flowcore.results.samples import Figures, ratio
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
    plan = world.plan.teams[team]
    rows = world.member_time[plan.first_member : plan.first_member + plan.members]
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


def _figures_of(address: str, team: Team, times: Times, minutes: float) -> Figures:
    """Return the figures of some members' minutes, shape (states,), over `minutes` of the run.

    Busy is working and walking. `utilisation` is busy over the time on duty, which breaks are not;
    `occupancy` leaves out interruptions too; `paid-use` is busy over the time paid.
    """
    present = float(times.sum() - times[k.MemberState.OFF] - times[k.MemberState.ABSENT])
    working = float(times[k.MemberState.WORKING] + times[k.MemberState.WALKING])
    idle = float(times[k.MemberState.IDLE])
    paid = float(paid_minutes(team, times))
    return {
        f"{address}/utilisation": ratio(working, working + idle + float(times[k.MemberState.INTERRUPTED])),
        f"{address}/occupancy": ratio(working, working + idle),
        f"{address}/paid-use": ratio(working, paid),
        f"{address}/present": ratio(present, minutes),
        f"{address}/working": ratio(working, minutes),
    }


def _states_of(address: str, times: Times) -> Figures:
    """Return the share of the time in each state."""
    whole = float(times.sum())
    return {
        f"{address}/state:{state}": ratio(float(times[list(columns)].sum()), whole) for state, columns in STATES.items()
    }


def teams(study: StudyDocument, world: World, minutes: float) -> Figures:
    """Return how busy teams and members were: over all, in regular time and in overtime."""
    figures: Figures = {}
    overtime = float(world.clock[0].overtime_minutes)
    for number, team in enumerate(study.teams):
        times = times_of(world, number)
        whole = times.sum(axis=(0, 1))
        figures |= _figures_of(f"team/{team.id}", team, whole, minutes)
        figures |= _states_of(f"team/{team.id}", whole)
        if study.has_shifts:
            regular, beyond = times[:, 0].sum(axis=0), times[:, 1].sum(axis=0)
            split = {"regular": (regular, minutes - overtime), "overtime": (beyond, overtime)}
            for name, (part, length) in split.items():
                found = _figures_of(f"team/{team.id}", team, part, length)
                figures |= {f"{address}:{name}": value for address, value in found.items()}
        for member, each in enumerate(times.sum(axis=1)):
            found = _figures_of(f"member/{team.id}:{member + 1}", team, each, minutes)
            figures |= {address: value for address, value in found.items() if not address.endswith("/present")}
            figures |= _states_of(f"member/{team.id}:{member + 1}", each)
    return figures | _places(study, world, minutes)


def _places(study: StudyDocument, world: World, minutes: float) -> Figures:
    """Return how full the places with a capacity were."""
    figures: Figures = {}
    rooms = world.plan.teams.kind == c.TeamKind.PLACE_CAPACITY
    used = [team for team in range(len(world.plan.teams)) if rooms[team]]
    places = {step.place for step in study.steps} | {each.place for step in study.steps for each in step.places}
    limited = [place for place in study.site.places if place.capacity and place.id in places]
    for place, team in zip(limited, used, strict=True):
        times = times_of(world, team).sum(axis=(0, 1))
        figures[f"place/{place.id}/utilisation"] = ratio(float(times[k.MemberState.WORKING]), float(times.sum()))
        figures[f"place/{place.id}/inside/mean"] = ratio(float(times[k.MemberState.WORKING]), minutes)
    return figures


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


def costs(study: StudyDocument, world: World, minutes: float, days_open: int) -> Figures:
    """Return what everything cost, by line and team: in the whole run, per hour, per day and per completed case.

    Per day is by the clock; `days_open` are the days of those minutes on which the service is open. `total` is the sum
    of all lines but those that are parts or sums of others; `value` stands beside it.
    """
    money: Figures = {}
    sums = dict.fromkeys(TEAM_LINES[1:], 0.0)
    for number, team in enumerate(study.teams):
        lines = _team_costs(team, times_of(world, number), int(world.teams[number].uses))
        for line, amount in lines.items():
            sums[line] += amount
            money[f"cost/team/{team.id}/{line}"] = amount
        money[f"cost/team/{team.id}/total"] = _sum_of(lines)
    exits = np.array([step.kind == "exit" for step in study.steps])
    sums["case"] = float(world.step_tally.cost[~exits].sum()) if len(exits) else 0.0
    sums["changeover"] = float(world.step_tally.changeover.sum())
    sums["penalty"] = float(world.step_tally.cost[exits].sum()) if len(exits) else 0.0
    waiting, inside = levels_of_types(world, LINE_LEVEL).area, levels_of_types(world, INSIDE_LEVEL).area
    sums["waiting"] = float((waiting * world.plan.types.waiting_cost).sum()) / MINUTES_PER_HOUR
    sums["inside"] = float((inside * world.plan.types.inside_cost).sum()) / MINUTES_PER_HOUR
    sums["total"] = _sum_of(sums)
    values = np.array([kind.value for kind in study.case_types] or [0.0])
    sums["value"] = float((values * world.type_tally.completed).sum())
    money |= {f"cost/{line}": amount for line, amount in sums.items()}
    completed = float(world.type_tally.completed.sum())
    return (
        {f"{each}/run": v for each, v in money.items()}
        | {f"{each}/per:hour": ratio(v, minutes / MINUTES_PER_HOUR) for each, v in money.items()}
        | {f"{each}/per:day": ratio(v, minutes / DAY) for each, v in money.items()}
        | {f"{each}/per:open-day": ratio(v, days_open) for each, v in money.items()}
        | {f"{each}/per:case": ratio(v, completed) for each, v in money.items()}
    )
