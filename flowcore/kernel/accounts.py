"""What is counted over time: every minute of a case on its account, and how many stand where."""

import math

import numpy as np

from flowcore.kernel.compiled import part, rare
from flowcore.kernel.kinds import FIRST_CAUSE, NONE, POOL_CAUSES, Account, CaseState
from flowcore.kernel.state import (
    EXACT_BINS,
    INSIDE_LEVEL,
    LEVEL_BINS,
    LINE_LEVEL,
    SNAPSHOT,
    VISIT_MINUTES,
    World,
)


@part
def bin_of(value: int) -> int:
    """Return which bin of the distribution over time a value falls into."""
    if value < EXACT_BINS:
        return value
    return wide_bin_of(value)


@rare
def wide_bin_of(value: int) -> int:
    """Return which of the ever wider bins a value falls into."""
    return min(LEVEL_BINS - 1, EXACT_BINS + int(math.log(value / EXACT_BINS) / math.log(1.5)))


@part
def book_level(world: World, level: int) -> None:
    """Bring a level's integral up to now."""
    here = world.levels[level]
    elapsed = world.clock[0].now - here.since
    if elapsed > 0.0:
        here.area += here.now * elapsed
        if world.clock[0].is_overtime:
            here.overtime += here.now * elapsed
        world.level_minutes[level, bin_of(here.now)] += elapsed
    here.since = world.clock[0].now


@part
def change_level(world: World, level: int, change: int) -> None:
    """Let a level rise or fall at this instant."""
    book_level(world, level)
    here = world.levels[level]
    here.now += change
    here.highest = max(here.highest, here.now)


@part
def step_level(world: World, step: int, column: int) -> int:
    """Return which level counts the cases at a step of the plan."""
    return 2 * world.plan.steps[step].document + column


@part
def type_level(world: World, case: int, column: int) -> int:
    """Return which level counts the cases of a case's type."""
    return 2 * (world.plan.run[0].document_steps + world.cases[case].type) + column


@part
def room_level(world: World, room: int) -> int:
    """Return which level counts the cases in a shared waiting room."""
    run = world.plan.run[0]
    return 2 * (run.document_steps + run.types) + room


@rare
def book_all_levels(world: World) -> None:
    """Bring all levels up to now: what follows counts as overtime, or no longer does."""
    for level in range(len(world.levels)):
        book_level(world, level)


@part
def change_inside_step(world: World, case: int, change: int) -> None:
    """A case, with all who travel with it, comes to its step or leaves it."""
    who = world.cases[case]
    change_level(world, step_level(world, who.step, INSIDE_LEVEL), change * who.together)


@part
def next_aboard(world: World, leader: int, case: int) -> int:
    """Return who comes after a case among those who travel with a leader, itself first; NONE after the last."""
    return world.cases[case].first_aboard if case == leader else world.cases[case].next_aboard


@part
def change_inside(world: World, case: int, change: int) -> None:
    """A case comes into the service or leaves it."""
    change_level(world, type_level(world, case, INSIDE_LEVEL), change)


@part
def book_pool(world: World, pool: int) -> None:
    """Charge the minutes since the last look to what was missing."""
    here = world.pools[pool]
    elapsed = world.clock[0].now - here.since
    here.since = world.clock[0].now
    if elapsed > 0.0 and here.charged > 0:
        world.pool_minutes[pool, here.cause - FIRST_CAUSE] += elapsed
        if here.team != NONE:
            run = world.plan.run[0]
            world.cause_minutes[run.document_steps + run.types + here.team, here.cause] += elapsed * here.charged


@part
def book_minutes(world: World, case: int) -> None:
    """Put the minutes since a case's last change on their account."""
    who = world.cases[case]
    elapsed = world.clock[0].now - who.since
    if elapsed <= 0.0:
        return
    who.since = world.clock[0].now
    if who.state == CaseState.AT_WORK:
        account = Account.TRAVEL if world.plan.steps[who.step].is_travel > 0 else Account.WORK
        world.minutes[case, VISIT_MINUTES + account] += elapsed
    elif who.state == CaseState.ON_THE_WAY:
        world.minutes[case, Account.TRAVEL] += elapsed
        who.visit_travel += elapsed
    elif who.state == CaseState.IN_LINE:
        book_wait_in_line(world, case)
    elif who.state == CaseState.WAITING or who.state == CaseState.BLOCKED:
        world.minutes[case, VISIT_MINUTES + who.cause] += elapsed
        note_cause(world, case, who.cause)


@part
def note_cause(world: World, case: int, cause: int) -> None:
    """Remember that a case waited for a cause at this visit."""
    who = world.cases[case]
    who.causes |= 1 << cause
    who.last_cause = cause


@part
def book_wait_in_line(world: World, case: int) -> None:
    """Put a case's minutes in a line on the accounts of what its pool has waited for meanwhile."""
    who = world.cases[case]
    pool = world.plan.lines[who.line].pool
    book_pool(world, pool)
    if who.changes_seen == world.pools[pool].changes:
        book_cause(world, case, pool, world.pools[pool].cause - FIRST_CAUSE)
        return
    for cause in range(POOL_CAUSES):
        if world.pool_minutes[pool, cause] != world.minutes[case, SNAPSHOT + cause]:
            book_cause(world, case, pool, cause)
    who.changes_seen = world.pools[pool].changes


@part
def book_cause(world: World, case: int, pool: int, cause: int) -> None:
    """Put the minutes that a case's pool has booked on one of its causes on the case's account."""
    spent = world.pool_minutes[pool, cause] - world.minutes[case, SNAPSHOT + cause]
    world.minutes[case, VISIT_MINUTES + FIRST_CAUSE + cause] += spent
    world.minutes[case, SNAPSHOT + cause] = world.pool_minutes[pool, cause]
    note_cause(world, case, FIRST_CAUSE + cause)


@part
def is_waiting(state: int) -> bool:
    """Say whether a case in this state counts as waiting."""
    return state == CaseState.IN_LINE or state == CaseState.WAITING


@part
def turn_to(world: World, case: int, state: int, cause: int) -> None:
    """Let a case change its state, and keep all its accounts; `cause` is what it waits for, if it does."""
    book_minutes(world, case)
    who = world.cases[case]
    change = int(is_waiting(state)) - int(is_waiting(who.state))
    if change != 0:
        change_level(world, step_level(world, who.step, LINE_LEVEL), change * who.together)
        other = case
        while other != NONE:
            change_level(world, type_level(world, other, LINE_LEVEL), change * world.cases[other].weight)
            other = next_aboard(world, case, other)
    if (who.state == CaseState.IN_LINE) != (state == CaseState.IN_LINE):
        pool = world.plan.lines[who.line].pool
        book_pool(world, pool)
        if state == CaseState.IN_LINE:
            world.pools[pool].charged += who.together
            who.changes_seen = world.pools[pool].changes
            for column in range(POOL_CAUSES):
                world.minutes[case, SNAPSHOT + column] = world.pool_minutes[pool, column]
        else:
            world.pools[pool].charged -= who.together
    who.state = state
    who.cause = cause
    who.since = world.clock[0].now


@part
def wait_of(minutes: np.ndarray, case: int, first: int) -> float:
    """Return the minutes waited, from column `first` on, without those of being blocked."""
    total = 0.0
    for account in range(Account.BUSY, FIRST_CAUSE + POOL_CAUSES):
        total += minutes[case, first + account]
    for account in range(FIRST_CAUSE + POOL_CAUSES + 1, VISIT_MINUTES):
        total += minutes[case, first + account]
    return total


@part
def visit_wait_of(world: World, case: int) -> float:
    """Return the minutes waited at this visit, without those of being blocked: mostly all for one cause."""
    who = world.cases[case]
    if who.causes == 0:
        return 0.0
    if who.causes != 1 << who.last_cause:
        return wait_of(world.minutes, case, VISIT_MINUTES)
    return 0.0 if who.last_cause == Account.NEXT_LINE else world.minutes[case, VISIT_MINUTES + who.last_cause]


@part
def waited(world: World, case: int) -> float:
    """Return the minutes that a case has waited on its way, with those of the batches in which it travels."""
    total = 0.0
    while case != NONE:
        total += wait_of(world.minutes, case, 0) + visit_wait_of(world, case)
        case = world.cases[case].leader
    return total
