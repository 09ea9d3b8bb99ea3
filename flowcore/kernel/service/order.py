"""Who goes before whom, and whom those before keep from those behind."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, Closed
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.presence import available, idle_for


@part
def is_before(world: World, case_id: int, other: int) -> bool:
    """Say whether one waiting case goes before another (or none): by priority, then by its turn."""
    if other == NONE:
        return True
    one, two = world.cases[case_id], world.cases[other]
    if one.priority != two.priority:
        return one.priority > two.priority
    return world.turns[case_id].order < world.turns[other].order


@part
def first_of_pool(world: World, pool: int) -> int:
    """Return the first of the cases that wait in an open pool's lines, or NONE."""
    line = world.pools[pool].first
    return NONE if line == NONE or world.pools[pool].closed != Closed.OPEN else world.lines[line].first


@rare
def hold_nothing_back(world: World) -> None:
    """Let all idle members be there for anyone again."""
    for team in range(len(world.teams)):
        world.teams[team].held_back = 0


@rare
def hold_back_for_those_before(world: World, case_id: int) -> None:
    """Keep from a case what is idle and asked for by those before it who hold back, in their order.

    A step that reserves holds back from all behind; one that pre-empts from those of lower priority.
    """
    last = case_id
    while True:
        first = NONE
        pool = world.clock[0].first_reserving
        while pool != NONE:
            other = first_of_pool(world, pool)
            if other != NONE and other != case_id and holds_back_from(world, pool, other, case_id):
                is_later = last == case_id or is_before(world, last, other)
                if other != last and is_later and is_before(world, other, first):
                    first = other
            pool = world.pools[pool].next_reserving
        if first == NONE:
            return
        hold_back(world, world.plan.lines[world.cases[first].line].pool)
        last = first


@part
def holds_back_from(world: World, pool: int, case_id: int, other: int) -> bool:
    """Say whether the first case of a pool keeps its teams' idle members from another."""
    if not is_before(world, case_id, other):
        return False
    return world.plan.pools[pool].reserve == 1 or world.cases[case_id].priority > world.cases[other].priority


@part
def hold_back(world: World, pool: int) -> None:
    """Keep the idle members whom a pool asks for from everyone behind, of each need the preferred first."""
    pool_plan = world.plan.pools[pool]
    for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
        team = world.teams[world.incidences[incidence].team]
        team.held_back_before = team.held_back
    for entry in range(pool_plan.first_need, pool_plan.first_need + pool_plan.needs):
        need = world.plan.needs[world.plan.lists[entry]]
        wanted = need.count
        for place in range(need.first_team, need.first_team + need.teams):
            number = world.plan.lists[place]
            here = world.teams[number]
            left = idle_for(world, number, pool_plan.overtime) - (here.held_back - here.held_back_before)
            kept = max(0, min(wanted, left, available(world, number, pool_plan.overtime)))
            here.held_back += kept
            wanted -= kept


@rare
def touch_held_back(world: World) -> None:
    """Mark all teams of whom someone may be held back: where one has changed, others may be held back instead."""
    pool = world.clock[0].first_reserving
    while pool != NONE:
        pool_plan = world.plan.pools[pool]
        for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
            touch(world, world.incidences[incidence].team)
        pool = world.pools[pool].next_reserving
