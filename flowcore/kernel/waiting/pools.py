"""Pools of lines that ask for the same: which line of theirs is first, and whether they ask their teams."""

from flowcore.kernel.clockwork.queues import put_in, take_out
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.compiling.tables import fetch
from flowcore.kernel.records.kinds import NONE, Closed
from flowcore.kernel.records.world import World

FAR = 1000
"""Where more wait than this, the records of who is next are too far from the processor to be at hand in time."""


@rare
def fetch_case(world: World, case_id: int) -> None:
    """Have all that is known of a case who is next brought near, while another is served."""
    fetch(world.cases, case_id)
    fetch(world.minutes, case_id)


@part
def reposition_line(world: World, line: int, before: int) -> None:
    """Move a line, whose first case was `before`, to where it now belongs among those of its pool."""
    here = world.lines[line]
    if here.first == before:
        return
    pool = world.pools[world.plan.lines[line].pool]
    if pool.waiting > FAR and here.first != NONE:
        fetch_case(world, here.first)
    if world.plan.lines[line].is_only:
        pool.first = line if here.first != NONE else NONE
        return
    if before != NONE:
        take_out(world.lines, pool, line)
    if here.first != NONE:
        here.rank = -world.cases[here.first].priority
        here.order = world.turns[here.first].order
        put_in(world.lines, pool, line)


@part
def join_pool(world: World, pool: int) -> None:
    """One more case asks for what a pool asks for; with the first, the pool asks its teams."""
    here = world.pools[pool]
    here.waiting += 1
    if here.waiting > 1:
        return
    pool_plan = world.plan.pools[pool]
    if pool_plan.reserve or pool_plan.preempts:
        here.prev_reserving = NONE
        here.next_reserving = world.clock[0].first_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = pool
        world.clock[0].first_reserving = pool
    for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
        node = world.incidences[incidence]
        team = world.teams[node.team]
        node.prev = NONE
        node.next = team.first_incidence
        if team.first_incidence != NONE:
            world.incidences[team.first_incidence].prev = incidence
        team.first_incidence = incidence


@part
def leave_pool(world: World, pool: int) -> None:
    """One case fewer asks; with the last, the pool asks its teams no more."""
    here = world.pools[pool]
    here.waiting -= 1
    if here.waiting > 0:
        return
    pool_plan = world.plan.pools[pool]
    if pool_plan.reserve or pool_plan.preempts:
        if here.prev_reserving == NONE:
            world.clock[0].first_reserving = here.next_reserving
        else:
            world.pools[here.prev_reserving].next_reserving = here.next_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = here.prev_reserving
    for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
        node = world.incidences[incidence]
        if node.prev == NONE:
            world.teams[node.team].first_incidence = node.next
        else:
            world.incidences[node.prev].next = node.next
        if node.next != NONE:
            world.incidences[node.next].prev = node.prev


@part
def asks_someone(world: World, line: int) -> bool:
    """Say whether those who wait in a line ask for anyone but particular people."""
    pool = world.plan.lines[line].pool
    return pool != NONE and world.plan.pools[pool].incidences > 0


@part
def is_open(world: World, line: int) -> bool:
    """Say whether a line's step is served now as far as its hours go."""
    pool = world.plan.lines[line].pool
    return pool == NONE or world.pools[pool].closed == Closed.OPEN
