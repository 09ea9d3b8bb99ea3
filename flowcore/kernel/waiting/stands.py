"""Where a waiting case stands: in the line, with its particular person, among the stalled, blocked before a line."""

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.draws import key_for
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import append, unchain
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import (
    NONE,
    Account,
    CaseState,
    Closed,
    DrawFor,
    EventKind,
    MemberState,
    Note,
    Rank,
    Stand,
)
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.causes import attribute_wait, touch, touch_teams_of
from flowcore.kernel.waiting.lines import enter_room, give_order, stand_in_line, step_out_of_line
from flowcore.kernel.waiting.own_people import busy_person, first_person
from flowcore.kernel.waiting.pools import asks_someone, is_open, join_pool, leave_pool


@part
def join_line(world: World, case_id: int, at_front: bool) -> None:
    """Let a case wait at its step: in the line, with its person, or until its minimum time is over."""
    case = world.cases[case_id]
    rules = world.plan.lines[case.line]
    case.stamp += 1
    give_order(world, case_id, at_front)
    enter_room(world, case_id, 1)
    note(world, Note.JOINED_LINE, case_id, case.step, NONE)
    now = world.clock[0].now
    if rules.patience != NONE and not at_front:
        key = key_for(world, case_id, world.plan.steps[case.step].key, DrawFor.PATIENCE)
        patience = sample(world.plan.numbers, world.plan.distributions[rules.patience], key)
        schedule(world, now + patience, Rank.SIGNAL, EventKind.PATIENCE_OVER, case_id, case.stamp)
    if rules.min_wait > 0.0 and not at_front:
        case.stands = Stand.IN_MINIMUM_WAIT
        turn_to(world, case_id, CaseState.WAITING, Account.MINIMUM)
        schedule(world, now + rules.min_wait, Rank.SIGNAL, EventKind.MINIMUM_OVER, case_id, case.stamp)
    else:
        take_a_stand(world, case_id)


@part
def take_a_stand(world: World, case_id: int) -> None:
    """Let a case stand where it can be called from."""
    case = world.cases[case_id]
    rules = world.plan.lines[case.line]
    first = first_person(world, case_id, rules.step)
    if first == NONE or not is_open(world, case.line):
        stand_in_line(world, case_id)
        wait_for(world, case_id, CaseState.IN_LINE)
        touch_teams_of(world, rules.pool)
        return
    person = busy_person(world, case_id, case.line)
    if person == NONE and not asks_someone(world, case.line):
        person = first
    wait_for_person(world, case_id, person)


@rare
def wait_for_person(world: World, case_id: int, person: int) -> None:
    """Let a case stand with the one member it waits for, or, if it lacks only others (NONE), among the stalled."""
    case = world.cases[case_id]
    case.person = person
    if case.person != NONE:
        append(world.turns, world.members[case.person], case_id)
        case.stands = Stand.WITH_PERSON
        wait_for(world, case_id, CaseState.WAITING)
        if world.members[person].state == MemberState.IDLE:
            attend(world, person)
            touch(world, world.members[person].team)
        return
    pool = world.plan.lines[case.line].pool
    append(world.turns, world.stalled[pool], case_id)
    case.stands = Stand.AMONG_STALLED
    world.clock[0].stalled += 1
    join_pool(world, pool)
    wait_for(world, case_id, CaseState.IN_LINE)
    touch_teams_of(world, pool)


@rare
def attend(world: World, member_id: int) -> None:
    """Let those who wait for this very member be looked at when its team looks whom it can serve."""
    member = world.members[member_id]
    if member.attending == 0:
        member.attending = 1
        member.next_attending = world.teams[member.team].first_attending
        world.teams[member.team].first_attending = member_id


@part
def wait_for(world: World, case_id: int, state: int) -> None:
    """Let a case be charged as one that waits in a line, or for its person; who is blocked before it stays so."""
    if world.cases[case_id].state != CaseState.BLOCKED:
        turn_to(world, case_id, state, Account.PERSON if state == CaseState.WAITING else NONE)


@rare
def stand_anew(world: World, pool: int) -> None:
    """Let those who ask for particular people stand where they belong now that a pool has opened or shut."""
    for case_id in range(len(world.cases) if world.plan.run[0].remembered > 0 else 0):
        case = world.cases[case_id]
        stands = case.stands == Stand.IN_LINE or case.stands == Stand.WITH_PERSON or case.stands == Stand.AMONG_STALLED
        if not stands or world.plan.lines[case.line].pool != pool:
            continue
        if first_person(world, case_id, world.plan.lines[case.line].step) != NONE:
            leave_stand(world, case_id)
            take_a_stand(world, case_id)


@part
def leave_line(world: World, case_id: int) -> None:
    """Take a waiting case from wherever it stands."""
    case = world.cases[case_id]
    if case.stands == Stand.IN_LINE or case.stands == Stand.WITH_PERSON or case.stands == Stand.AMONG_STALLED:
        if world.clock[0].first_reserving != NONE:
            touch_teams_of(world, world.plan.lines[case.line].pool)
        leave_stand(world, case_id)
    elif case.stands == Stand.AT_SIGNAL:
        unchain(world.turns, world.lines[case.line], case_id)
        world.lines[case.line].count -= 1
    stood_in_room = case.stands != Stand.AT_SIGNAL and case.state != CaseState.BLOCKED
    if stood_in_room:
        enter_room(world, case_id, -1)
    case.stands = Stand.NOWHERE
    case.stamp += 1
    turn_to(world, case_id, CaseState.MOVING, NONE)


@part
def leave_stand(world: World, case_id: int) -> None:
    """Take a case from where it can be called from."""
    if world.cases[case_id].stands == Stand.IN_LINE:
        step_out_of_line(world, case_id)
    else:
        leave_person(world, case_id)


@rare
def leave_person(world: World, case_id: int) -> None:
    """Take a case from the member it waits for, or from among the stalled."""
    case = world.cases[case_id]
    if case.stands == Stand.WITH_PERSON:
        unchain(world.turns, world.members[case.person], case_id)
    else:
        pool = world.plan.lines[case.line].pool
        unchain(world.turns, world.stalled[pool], case_id)
        world.clock[0].stalled -= 1
        leave_pool(world, pool)
    case.stands = Stand.NOWHERE


@rare
def stand_blocked(world: World, case_id: int, line: int) -> None:
    """Let a case wait where it is until there is room in the line that it goes to."""
    case = world.cases[case_id]
    turn_to(world, case_id, CaseState.BLOCKED, Account.NEXT_LINE)
    rules = world.plan.lines[line]
    if rules.most == 0 and rules.pool != NONE:
        case.line = line
        case.stamp += 1
        world.clock[0].orders += 1
        world.turns[case_id].order = world.clock[0].orders
        world.turns[case_id].rank = 0.0
        take_a_stand(world, case_id)
    else:
        append(world.turns, world.rooms[rules.room], case_id)


@part
def update_gate(world: World, pool: int) -> None:
    """Find whether a pool is open: by its hours, and whether anyone is ever there who may serve it."""
    here = world.pools[pool]
    closed = Closed.OPEN
    if here.shut:
        closed = Closed.BY_HOURS
    elif world.plan.pools[pool].never:
        closed = Closed.BY_OVERTIME
    if closed != here.closed:
        here.closed = closed
        attribute_wait(world, pool)
        touch_teams_of(world, pool)
        stand_anew(world, pool)
