"""Every minute of a case on its account: work, travel, and the causes of waiting."""

import numpy as np

from flowcore.kernel.accounts.levels import change_level, step_level, type_level
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import TravelKind
from flowcore.kernel.records.kinds import FIRST_CAUSE, NONE, POOL_CAUSES, Account, CaseState
from flowcore.kernel.records.ledger import LINE_LEVEL, SNAPSHOT, VISIT_MINUTES
from flowcore.kernel.records.world import World


@part
def next_aboard(world: World, leader: int, case: int) -> int:
    """Return who comes after a case among those who travel with a leader, itself first; NONE after the last."""
    return world.cases[case].first_aboard if case == leader else world.cases[case].next_aboard


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
        account = Account.TRAVEL if world.plan.steps[who.step].travel_kind != TravelKind.NONE else Account.WORK
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
