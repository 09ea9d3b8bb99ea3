"""Why cases wait: what is missing for a pool, and which teams have to be looked at again."""

from flowcore.kernel.accounts import book_pool
from flowcore.kernel.compiled import part
from flowcore.kernel.kinds import (
    BREAK,
    BUSY,
    CLOSED,
    EQUIPMENT,
    INTERRUPTION,
    NONE,
    OFF_SHIFT,
    OPEN,
    PEOPLE,
    PLACE,
    SHUT_BY_HOURS,
)
from flowcore.kernel.state import World


@part
def touch(world: World, team: int) -> None:
    """Mark a team whose members have changed: whoever waits for it is looked at again at this instant."""
    here = world.teams[team]
    if here.touched == 0:
        here.touched = 1
        here.next_touched = world.clock[0].first_touched
        world.clock[0].first_touched = team


@part
def touch_teams_of(world: World, pool: int) -> None:
    """Mark every team that a pool asks."""
    asks = world.plan.pools[pool]
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        touch(world, world.asks[ask].team)


@part
def available(world: World, team: int) -> int:
    """Return how many members of a team are idle and not held back for someone else."""
    return world.teams[team].idle - world.teams[team].held_back


@part
def needs_can_be_met(world: World, pool: int) -> bool:
    """Say whether everything that a pool asks for is there at once."""
    if world.pools[pool].closed != OPEN:
        return False
    asks = world.plan.pools[pool]
    for number in range(asks.first_condition, asks.first_condition + asks.conditions):
        condition = world.plan.conditions[number]
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            there += available(world, world.plan.lists[place])
        if there < condition.count:
            return False
    return True


@part
def settle_cause(world: World, pool: int) -> None:
    """Find what a pool waits for now: the first need that lacks, and whether the absent would suffice.

    Where those of a team who are interrupted would suffice that is the cause, then those on break as
    well, then those whom the roster has at its fullest; only then that all are busy.
    """
    book_pool(world, pool)
    here = world.pools[pool]
    asks = world.plan.pools[pool]
    here.team = world.asks[asks.first_ask].team if asks.asks > 0 else NONE
    here.cause = BUSY
    if here.closed != OPEN:
        here.cause = CLOSED if here.closed == SHUT_BY_HOURS else OFF_SHIFT
        return
    for entry in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[world.plan.lists[entry]]
        idle, interrupted, on_break, off = 0, 0, 0, 0
        for place in range(need.first_team, need.first_team + need.teams):
            team = world.teams[world.plan.lists[place]]
            idle += team.idle
            interrupted += team.interrupted
            on_break += team.on_break
            off += max(0, world.plan.teams[world.plan.lists[place]].peak - team.rostered)
        if idle >= need.count:
            continue
        here.team = world.plan.lists[need.first_team]
        kind = world.plan.teams[here.team].kind
        if idle + interrupted >= need.count:
            here.cause = INTERRUPTION
        elif idle + interrupted + on_break >= need.count:
            here.cause = BREAK
        elif idle + interrupted + on_break + off >= need.count:
            here.cause = OFF_SHIFT
        elif kind != PEOPLE and kind != EQUIPMENT:
            here.cause = PLACE
        return
