"""What members did with their time, and what everything cost."""

from collections.abc import Iterator, Mapping

import numpy as np

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import INSIDE_LEVEL, LINE_LEVEL
from flowcore.kernel.records.world import Plan
from flowcore.results.arrays import plain
from flowcore.results.catalogue import PARTS_OF_LINES
from flowcore.results.counted import Counted, Minutes
from flowcore.results.ratios import Figures
from flowcore.results.sums import Ratio, Sums, side_by_side
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


def _paid(minutes: Minutes, teams: list[Team]) -> Sums:
    """Return the minutes of subjects of these teams, one each, that are paid: those there, or those used."""
    return minutes.where(np.array([_paid_states(team) for team in teams], bool).reshape(-1, k.MEMBER_STATES))


def _paid_states(team: Team) -> list[bool]:
    if team.paid == "used":
        return [state in BUSY for state in k.MemberState]
    unpaid = {k.MemberState.OFF, k.MemberState.ON_UNPAID_BREAK, *(() if team.absence_paid else (k.MemberState.ABSENT,))}
    return [state not in unpaid for state in k.MemberState]


BUSY = (k.MemberState.WORKING, k.MemberState.WALKING)
PRESENT = [state for state in k.MemberState if state not in (k.MemberState.OFF, k.MemberState.ABSENT)]


def _figures_of(minutes: Minutes, teams: list[Team], length: Sums) -> dict[str, Ratio]:
    """Return how busy subjects of these teams, one each, were over a length of the run.

    Busy is working and walking. `utilisation` is busy over the time on duty, which breaks are not;
    `occupancy` leaves out interruptions too; `paid-use` is busy over the time paid.
    """
    working = minutes.of(*BUSY)
    return {
        "utilisation": working / minutes.of(*BUSY, k.MemberState.IDLE, k.MemberState.INTERRUPTED),
        "occupancy": working / minutes.of(*BUSY, k.MemberState.IDLE),
        "paid-use": working / _paid(minutes, teams),
        "present": minutes.of(*PRESENT) / length,
        "working": working / length,
    }


def _states_of(minutes: Minutes) -> dict[str, Ratio]:
    """Return the shares of the time in each of the STATES."""
    return {f"state:{state}": minutes.of(*columns) / minutes.of() for state, columns in STATES.items()}


def staff(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield how busy teams and members were: over all, in regular time and in overtime."""
    teams = study.teams
    of_teams, of_members = counted.minutes_of_teams()[: len(teams)], counted.minutes_of_members()
    figures = _figures_of(of_teams, teams, counted.minutes) | _states_of(of_teams)
    halves = (("regular", counted.minutes - counted.overtime), ("overtime", counted.overtime))
    for shift, (half, length) in enumerate(halves if study.has_shifts else ()):
        of_half = _figures_of(of_teams.half(shift), teams, length)
        figures |= {f"{name}:{half}": ratio for name, ratio in of_half.items()}
    yield Figures([f"team/{team.id}" for team in teams], figures)
    members = [
        (team, number) for team, many in zip(teams, _members(counted.plan), strict=False) for number in range(many)
    ]
    whose = [team for team, _ in members]
    mine = of_members[: len(members)]
    told = _figures_of(mine, whose, counted.minutes) | _states_of(mine)
    subjects = [f"member/{team.id}:{number + 1}" for team, number in members]
    yield Figures(subjects, {name: ratio for name, ratio in told.items() if name != "present"})


def _members(plan: Plan) -> list[int]:
    """Return how many members each team of the plan has."""
    members: list[int] = plain(plan.teams)["members"].tolist()
    return members


def places(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield how full the places with a capacity were."""
    used = [number for number, team in enumerate(counted.plan.teams) if team.kind == c.TeamKind.PLACE_CAPACITY]
    named = {step.place for step in study.steps} | {each.place for step in study.steps for each in step.places}
    limited = [place.id for place in study.site.places if place.capacity and place.id in named]
    minutes = counted.minutes_of_teams()[used]
    working = minutes.of(k.MemberState.WORKING)
    figures = {"utilisation": working / minutes.of(), "inside/mean": working / counted.minutes}
    yield Figures([f"place/{place}" for place, _ in zip(limited, used, strict=True)], figures)


def _team_costs(teams: list[Team], minutes: Minutes, uses: Sums) -> dict[str, Sums]:
    """Return the teams' money by line, and of that what is idle, and all overtime."""
    hourly = np.array([team.rate for team in teams]) / MINUTES_PER_HOUR
    overtime = np.array([team.overtime for team in teams])
    regular, base = (_paid(minutes.half(shift), teams) * hourly for shift in (0, 1))
    waits_paid = np.array([team.paid == "present" for team in teams], float)
    return {
        "regular": regular,
        "idle": minutes.half(0).of(k.MemberState.IDLE) * (hourly * waits_paid),
        "overtime-base": base,
        "overtime-premium": base * (overtime - 1),
        "overtime": base * overtime,
        "use": uses * np.array([team.use_cost for team in teams]),
    }


def _sum_of(lines: Mapping[str, Sums]) -> Sums:
    return side_by_side([sums for line, sums in lines.items() if line not in PARTS_OF_LINES])


def costs(study: StudyDocument, counted: Counted) -> Iterator[Figures]:
    """Yield what everything cost, by line and team: in the whole run, per hour, per day and per completed case.

    Per day is by the clock; per open day is over the days on which the service is open. `total` is the sum of all lines
    but those that are parts or sums of others; `value` stands beside it.
    """
    teams = study.teams
    uses = counted.of("teams", "uses")[: len(teams)]
    of_teams = _team_costs(teams, counted.minutes_of_teams()[: len(teams)], uses)
    subjects = [f"cost/team/{team.id}" for team in teams]
    yield Figures(subjects, _by_unit(of_teams | {"total": _sum_of(of_teams)}, counted))
    lines = {line: sums.whole() for line, sums in of_teams.items()} | _of_service(study, counted)
    completed = counted.of("type_tally", "completed")
    worth = np.array([kind.value for kind in study.case_types] or [0.0])
    yield Figures(["cost"], _by_unit(lines | {"total": _sum_of(lines), "value": (completed * worth).whole()}, counted))


def _by_unit(lines: Mapping[str, Sums], counted: Counted) -> dict[str, Ratio]:
    wholes = {
        "run": counted.one,
        "per:hour": counted.minutes * (1 / MINUTES_PER_HOUR),
        "per:day": counted.minutes * (1 / DAY),
        "per:open-day": counted.days_open,
        "per:case": counted.of("type_tally", "completed").whole(),
    }
    return {f"{line}/{unit}": sums / whole for unit, whole in wholes.items() for line, sums in lines.items()}


def _of_service(study: StudyDocument, counted: Counted) -> dict[str, Sums]:
    """Return the money that is no team's, by line."""
    is_exit = np.array([step.kind == "exit" for step in study.steps], float)
    cost, changeover = (counted.of("step_tally", field) for field in ("cost", "changeover"))
    sections, types = counted.plan.sections[0], plain(counted.plan.types)
    area = counted.of("levels", "area")[int(sections.type_levels) : int(sections.room_levels)]
    waiting, inside = area[LINE_LEVEL::2], area[INSIDE_LEVEL::2]
    return {
        "case": (cost * (1 - is_exit)).whole(),
        "changeover": changeover.whole(),
        "penalty": (cost * is_exit).whole(),
        "waiting": (waiting * (types["waiting_cost"] / MINUTES_PER_HOUR)).whole(),
        "inside": (inside * (types["inside_cost"] / MINUTES_PER_HOUR)).whole(),
    }
