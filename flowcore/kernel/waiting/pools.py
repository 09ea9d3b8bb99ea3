"""Pools of lines that ask for the same: which line of theirs is first, and whether they ask their teams."""

from flowcore.kernel.clockwork.queues import put_in, take_out
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.kinds import NONE, Closed
from flowcore.kernel.records.world import World


@part
def settle_line(world: World, line: int, before: int) -> None:
    """Move a line, whose first case was `before`, to where it now belongs among those of its pool."""
    here = world.lines[line]
    if here.first == before:
        return
    pool = world.pools[world.plan.lines[line].pool]
    if world.plan.lines[line].is_only:
        pool.first = line if here.first != NONE else NONE
        return
    if before != NONE:
        take_out(world.lines, pool, line)
    if here.first != NONE:
        here.rank = -world.cases[here.first].priority
        here.order = world.cases[here.first].order
        put_in(world.lines, pool, line)


@part
def ask_pool(world: World, pool: int) -> None:
    """One more case asks for what a pool asks for; with the first, the pool asks its teams."""
    here = world.pools[pool]
    here.waiting += 1
    if here.waiting > 1:
        return
    asks = world.plan.pools[pool]
    if asks.reserve or asks.preempts:
        here.prev_reserving = NONE
        here.next_reserving = world.clock[0].first_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = pool
        world.clock[0].first_reserving = pool
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        node = world.asks[ask]
        team = world.teams[node.team]
        node.prev = NONE
        node.next = team.first_ask
        if team.first_ask != NONE:
            world.asks[team.first_ask].prev = ask
        team.first_ask = ask


@part
def ask_pool_no_more(world: World, pool: int) -> None:
    """One case fewer asks; with the last, the pool asks its teams no more."""
    here = world.pools[pool]
    here.waiting -= 1
    if here.waiting > 0:
        return
    asks = world.plan.pools[pool]
    if asks.reserve or asks.preempts:
        if here.prev_reserving == NONE:
            world.clock[0].first_reserving = here.next_reserving
        else:
            world.pools[here.prev_reserving].next_reserving = here.next_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = here.prev_reserving
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        node = world.asks[ask]
        if node.prev == NONE:
            world.teams[node.team].first_ask = node.next
        else:
            world.asks[node.prev].next = node.next
        if node.next != NONE:
            world.asks[node.next].prev = node.prev


@part
def asks_someone(world: World, line: int) -> bool:
    """Say whether those who wait in a line ask for anyone but particular people."""
    pool = world.plan.lines[line].pool
    return pool != NONE and world.plan.pools[pool].asks > 0


@part
def is_open(world: World, line: int) -> bool:
    """Say whether a line's step is served now as far as its hours go."""
    pool = world.plan.lines[line].pool
    return pool == NONE or world.pools[pool].closed == Closed.OPEN
