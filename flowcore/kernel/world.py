"""The making of a world, its growth, and the settling of its accounts."""

from typing import NamedTuple

import numpy as np

from flowcore.kernel import records as r
from flowcore.kernel.loop import advance, open_streams

_FIRST_CASES = 256
_FIRST_ROWS = 4096
_SPARE = 8


class Ledger(NamedTuple):
    """Room for what a replication writes down; handed from one to the next to save making it anew."""

    visits: np.recarray  # VISIT
    departures: np.recarray  # DEPARTURE


def new_ledger() -> Ledger:
    """Return a ledger with little room; it grows as it is used."""
    return Ledger(_blank(_FIRST_ROWS, r.VISIT), _blank(_FIRST_ROWS, r.DEPARTURE))


def new_world(plan: r.Plan, seed: int, replication: int, ledger: Ledger) -> r.World:
    """Return a replication at its first instant: nobody inside, everyone idle, streams open.

    `seed` and `replication` are whole numbers from zero; together they decide everything. What
    stands in the ledger is written over.
    """
    sizes = plan.teams.members
    members = int(sizes.sum())
    steps, types, streams = len(plan.steps), plan_types(plan), len(plan.streams)
    world = r.World(
        plan=plan,
        clock=_blank(1, r.CLOCK),
        cases=_blank(0, r.CASE),
        events=_blank(0, r.EVENT),
        lines=_blank(steps, r.LINE),
        places=np.zeros(steps, np.int32),
        waiting=np.zeros(len(plan.pools), np.int32),
        crews=_blank(len(sizes), r.CREW),
        members=_blank(members, r.MEMBER),
        member_time=np.zeros((members, r.MEMBER_STATES)),
        sources=_blank(streams, r.SOURCE),
        step_levels=_blank((steps, 2), r.LEVEL),
        type_levels=_blank((types, 2), r.LEVEL),
        step_tally=_blank(steps, r.TALLY),
        type_tally=_blank(types, r.TALLY),
        stream_tally=_blank(streams, r.TALLY),
        visits=ledger.visits,
        departures=ledger.departures,
    )
    world.lines.first[:] = r.NONE
    clock = world.clock[0]
    clock.free_case = r.NONE
    clock.margin = _SPARE + int(plan.needs["count"].sum()) + streams
    _gather_members(world)
    world = _with_more_cases(world)
    with np.errstate(over="ignore"):
        open_streams(world, np.uint64(seed), np.uint64(replication))
    return world


def plan_types(plan: r.Plan) -> int:
    """Return how many case types a plan has, at least one."""
    return max(1, len(plan.mixes) // max(1, len(plan.streams)))


def go_until(world: r.World, until: float, budget: int) -> tuple[r.World, bool]:
    """Let at most `budget` events happen up to a time; return the world and whether it got there.

    The world returned is the one given, or a roomier copy of it.
    """
    world.clock[0].until = until
    with np.errstate(over="ignore"):
        code = advance(world, budget)
    while code not in (r.OVER, r.PAUSED):
        world = _with_room(world, code)
        with np.errstate(over="ignore"):
            code = advance(world, budget)
    return world, code == r.OVER


def settle(world: r.World) -> None:
    """Book all levels and all members' time up to now, so that nothing is lost at the edge."""
    now = world.clock[0].now
    for levels in (world.step_levels, world.type_levels):
        levels.area += levels.now * (now - levels.since)
        levels.since = now
    rows = np.arange(len(world.members))
    world.member_time[rows, world.members.state] += now - world.members.since
    world.members.since = now


def start_afresh(world: r.World) -> None:
    """Forget what was counted so far: the warm-up is over."""
    settle(world)
    for levels in (world.step_levels, world.type_levels):
        levels.area = 0.0
        levels.highest = levels.now
    world.member_time[:] = 0.0
    for tally in (world.step_tally, world.type_tally, world.stream_tally):
        tally[:] = np.zeros((), r.TALLY)
    world.clock[0].visits = 0
    world.clock[0].departures = 0


def _blank(shape: int | tuple[int, ...], dtype: np.dtype[np.void]) -> np.recarray:
    return np.zeros(shape, dtype).view(np.recarray)


def _gather_members(world: r.World) -> None:
    """Let all members stand idle, in the order of their numbers."""
    for team, crew in zip(world.plan.teams, world.crews, strict=True):
        numbers = np.arange(team.first_member, team.first_member + team.members)
        world.members.next_idle[numbers] = numbers + 1
        crew.first_idle = team.first_member
        crew.last_idle = team.first_member + team.members - 1
        crew.idle = team.members
    world.members.team = np.repeat(np.arange(len(world.crews)), world.plan.teams.members)


def _grown(records: np.recarray, size: int) -> np.recarray:
    larger = _blank(size, records.dtype)
    larger.view(np.uint8)[: records.nbytes] = records.view(np.uint8)
    return larger


def _with_room(world: r.World, code: int) -> r.World:
    if code == r.NEEDS_CASES:
        return _with_more_cases(world)
    if code == r.NEEDS_VISITS:
        return world._replace(visits=_grown(world.visits, 2 * len(world.visits) + world.clock[0].margin))
    room = 2 * len(world.departures) + world.clock[0].margin
    return world._replace(departures=_grown(world.departures, room))


def _with_more_cases(world: r.World) -> r.World:
    """Double the room for cases, chain the new records up as free, and make room for their events."""
    clock = world.clock[0]
    known = len(world.cases)
    size = max(2 * known, _FIRST_CASES) + int(clock.margin)
    cases = _grown(world.cases, size)
    cases.next[known:] = np.arange(known + 1, size + 1)
    cases.next[-1] = clock.free_case
    clock.free_case = known
    return world._replace(cases=cases, events=_grown(world.events, size + len(world.sources)))
