"""Every minute of a case on its account: work, travel, and the causes of waiting."""

import numpy as np

from flowcore.kernel.accounts.levels import change_level, step_level, type_level
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import VALUE_CLASSES, TravelKind
from flowcore.kernel.records.kinds import FIRST_CAUSE, NONE, POOL_CAUSES, Account, CaseState
from flowcore.kernel.records.ledger import LINE_LEVEL, SNAPSHOT, VALUES, VISIT_MINUTES
from flowcore.kernel.records.world import World


@part
def next_aboard(world: World, leader: int, case_id: int) -> int:
    """Return who comes after a case among those who travel with a leader, itself first; NONE after the last."""
    return world.cases[case_id].first_aboard if case_id == leader else world.cases[case_id].next_aboard


@part
def book_pool(world: World, pool: int) -> None:
    """Charge the minutes since the last look to what was missing."""
    here = world.pools[pool]
    elapsed = world.clock[0].now - here.since
    here.since = world.clock[0].now
    if elapsed > 0.0 and here.charged > 0:
        world.pool_minutes[pool, here.cause - FIRST_CAUSE] += elapsed
        if here.team != NONE:
            world.cause_minutes[world.plan.sections[0].team_causes + here.team, here.cause] += elapsed * here.charged


@part
def book_minutes(world: World, case_id: int) -> None:
    """Put the minutes since a case's last change on their account."""
    case = world.cases[case_id]
    elapsed = world.clock[0].now - case.since
    if elapsed <= 0.0:
        return
    case.since = world.clock[0].now
    if case.state == CaseState.AT_WORK:
        world.minutes[case_id, VISIT_MINUTES + account_of_work(world, case.step)] += elapsed
    elif case.state == CaseState.ON_THE_WAY:
        world.minutes[case_id, Account.TRAVEL] += elapsed
        case.visit_travel += elapsed
    elif case.state == CaseState.IN_LINE:
        book_wait_in_line(world, case_id)
    elif case.state == CaseState.WAITING or case.state == CaseState.BLOCKED:
        world.minutes[case_id, VISIT_MINUTES + case.cause] += elapsed
        note_cause(world, case_id, case.cause)


@part
def account_of_work(world: World, step: int) -> int:
    """Return on which account the minutes of work at a step of the plan are: a way with an escort is travel."""
    return Account.TRAVEL if world.plan.steps[step].travel_kind != TravelKind.NONE else Account.WORK


@part
def note_cause(world: World, case_id: int, cause: int) -> None:
    """Remember that a case waited for a cause at this visit."""
    case = world.cases[case_id]
    case.causes |= 1 << cause
    case.last_cause = cause


@part
def book_wait_in_line(world: World, case_id: int) -> None:
    """Put a case's minutes in a line on the accounts of what its pool has waited for meanwhile."""
    case = world.cases[case_id]
    pool = world.plan.lines[case.line].pool
    book_pool(world, pool)
    if case.changes_seen == world.pools[pool].changes:
        book_cause(world, case_id, pool, world.pools[pool].cause - FIRST_CAUSE)
        return
    for cause in range(POOL_CAUSES):
        if world.pool_minutes[pool, cause] != world.minutes[case_id, SNAPSHOT + cause]:
            book_cause(world, case_id, pool, cause)
    case.changes_seen = world.pools[pool].changes


@part
def book_cause(world: World, case_id: int, pool: int, cause: int) -> None:
    """Put the minutes that a case's pool has booked on one of its causes on the case's account."""
    spent = world.pool_minutes[pool, cause] - world.minutes[case_id, SNAPSHOT + cause]
    world.minutes[case_id, VISIT_MINUTES + FIRST_CAUSE + cause] += spent
    world.minutes[case_id, SNAPSHOT + cause] = world.pool_minutes[pool, cause]
    note_cause(world, case_id, FIRST_CAUSE + cause)


@part
def is_waiting(state: int) -> bool:
    """Say whether a case in this state counts as waiting."""
    return state == CaseState.IN_LINE or state == CaseState.WAITING


@part
def turn_to(world: World, case_id: int, state: int, cause: int) -> None:
    """Let a case change its state, and keep all its accounts; `cause` is what it waits for, if it does."""
    book_minutes(world, case_id)
    case = world.cases[case_id]
    change = int(is_waiting(state)) - int(is_waiting(case.state))
    if change != 0:
        change_level(world, step_level(world, case.step, LINE_LEVEL), change * case.together)
        other = case_id
        while other != NONE:
            change_level(world, type_level(world, other, LINE_LEVEL), change * world.cases[other].weight)
            other = next_aboard(world, case_id, other)
    if (case.state == CaseState.IN_LINE) != (state == CaseState.IN_LINE):
        pool = world.plan.lines[case.line].pool
        book_pool(world, pool)
        if state == CaseState.IN_LINE:
            be_charged_by(world, case_id, pool)
        else:
            world.pools[pool].charged -= case.together
    case.state = state
    case.cause = cause
    case.since = world.clock[0].now


@part
def be_charged_by(world: World, case_id: int, pool: int) -> None:
    """Let a case be charged from now on for what its pool waits for."""
    case = world.cases[case_id]
    world.pools[pool].charged += case.together
    case.changes_seen = world.pools[pool].changes
    for column in range(POOL_CAUSES):
        world.minutes[case_id, SNAPSHOT + column] = world.pool_minutes[pool, column]


@part
def change_waiting(world: World, case_id: int, change: int) -> None:
    """A case that travels by itself comes among those who wait, or is no longer one of them."""
    case = world.cases[case_id]
    change_level(world, step_level(world, case.step, LINE_LEVEL), change)
    change_level(world, type_level(world, case_id, LINE_LEVEL), change * case.weight)


@part
def start_waiting(world: World, case_id: int, pool: int) -> None:
    """Let a case that moves by itself, and counts as waiting, wait in a line of a pool from now on: see `turn_to`."""
    case = world.cases[case_id]
    book_pool(world, pool)
    be_charged_by(world, case_id, pool)
    case.state = CaseState.IN_LINE
    case.cause = NONE
    case.since = world.clock[0].now


@part
def stop_waiting(world: World, case_id: int, pool: int) -> None:
    """Let a case that waits by itself in a line of a pool move again: see `turn_to`."""
    case = world.cases[case_id]
    if world.clock[0].now > case.since:
        book_wait_in_line(world, case_id)
    change_waiting(world, case_id, -1)
    book_pool(world, pool)
    world.pools[pool].charged -= 1
    case.state = CaseState.MOVING
    case.since = world.clock[0].now


@part
def start_working(world: World, case_id: int) -> None:
    """Let a case that moves be worked on from now on: see `turn_to`."""
    case = world.cases[case_id]
    case.state = CaseState.AT_WORK
    case.cause = NONE
    case.since = world.clock[0].now


@part
def stop_working(world: World, case_id: int) -> None:
    """Let a case on which the work has ended move again: see `turn_to`."""
    case = world.cases[case_id]
    now = world.clock[0].now
    world.minutes[case_id, VISIT_MINUTES + account_of_work(world, case.step)] += now - case.since
    case.state = CaseState.MOVING
    case.cause = NONE
    case.since = now


@part
def wait_of(minutes: np.ndarray, case_id: int, first: int) -> float:
    """Return the minutes waited, from column `first` on, without those of being blocked."""
    total = 0.0
    for account in range(Account.BUSY, FIRST_CAUSE + POOL_CAUSES):
        total += minutes[case_id, first + account]
    for account in range(FIRST_CAUSE + POOL_CAUSES + 1, VISIT_MINUTES):
        total += minutes[case_id, first + account]
    return total


@part
def visit_wait_of(world: World, case_id: int) -> float:
    """Return the minutes waited at this visit, without those of being blocked: mostly all for one cause."""
    case = world.cases[case_id]
    if case.causes == 0:
        return 0.0
    if case.causes != 1 << case.last_cause:
        return wait_of(world.minutes, case_id, VISIT_MINUTES)
    return 0.0 if case.last_cause == Account.NEXT_LINE else world.minutes[case_id, VISIT_MINUTES + case.last_cause]


@part
def waited(world: World, case_id: int) -> float:
    """Return the minutes that a case has waited on its way, with those of the batches in which it travels."""
    total = 0.0
    while case_id != NONE:
        total += wait_of(world.minutes, case_id, 0) + visit_wait_of(world, case_id)
        case_id = world.cases[case_id].leader
    return total


@part
def has_one_cause(world: World, case_id: int) -> bool:
    """Say whether a case has waited for one cause only on its way so far, the visit that is not over apart."""
    case = world.cases[case_id]
    return case.causes_before == 1 << case.last_cause


@part
def clear_minutes(world: World, case_id: int) -> None:
    """Leave no minutes on the accounts of a record for the case that uses it next."""
    case = world.cases[case_id]
    if case.causes != 0 or (case.causes_before != 0 and not has_one_cause(world, case_id)):
        clear_all_minutes(world, case_id)
        return
    minutes = world.minutes
    for account in range(FIRST_CAUSE):
        minutes[case_id, account] = 0.0
        minutes[case_id, VISIT_MINUTES + account] = 0.0
    if case.causes_before != 0:
        minutes[case_id, case.last_cause] = 0.0
    if world.plan.run[0].values:
        for value in range(VALUES, VALUES + VALUE_CLASSES):
            minutes[case_id, value] = 0.0


@rare
def clear_all_minutes(world: World, case_id: int) -> None:
    """Leave no minutes on any account of a record."""
    for column in range(world.minutes.shape[1]):
        world.minutes[case_id, column] = 0.0
