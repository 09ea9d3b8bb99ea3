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
def join_line(world: World, case: int, at_front: bool) -> None:
    """Let a case wait at its step: in the line, with its person, or until its minimum time is over."""
    who = world.cases[case]
    rules = world.plan.lines[who.line]
    who.stamp += 1
    give_order(world, case, at_front)
    enter_room(world, case, 1)
    note(world, Note.JOINED_LINE, case, who.step, NONE)
    now = world.clock[0].now
    if rules.patience != NONE and not at_front:
        key = key_for(world, case, world.plan.steps[who.step].key, DrawFor.PATIENCE)
        patience = sample(world.plan.numbers, world.plan.distributions[rules.patience], key)
        schedule(world, now + patience, Rank.SIGNAL, EventKind.PATIENCE_OVER, case, who.stamp)
    if rules.min_wait > 0.0 and not at_front:
        who.stands = Stand.IN_MINIMUM_WAIT
        turn_to(world, case, CaseState.WAITING, Account.MINIMUM)
        schedule(world, now + rules.min_wait, Rank.SIGNAL, EventKind.MINIMUM_OVER, case, who.stamp)
    else:
        take_a_stand(world, case)


@part
def take_a_stand(world: World, case: int) -> None:
    """Let a case stand where it can be called from."""
    who = world.cases[case]
    rules = world.plan.lines[who.line]
    first = first_person(world, case, rules.step)
    if first == NONE or not is_open(world, who.line):
        stand_in_line(world, case)
        wait_for(world, case, CaseState.IN_LINE)
        touch_teams_of(world, rules.pool)
        return
    person = busy_person(world, case, who.line)
    if person == NONE and not asks_someone(world, who.line):
        person = first
    wait_for_person(world, case, person)


@rare
def wait_for_person(world: World, case: int, person: int) -> None:
    """Let a case stand with the one member it waits for, or, if it lacks only others (NONE), among the stalled."""
    who = world.cases[case]
    who.person = person
    if who.person != NONE:
        append(world.cases, world.members[who.person], case)
        who.stands = Stand.WITH_PERSON
        wait_for(world, case, CaseState.WAITING)
        if world.members[person].state == MemberState.IDLE:
            attend(world, person)
            touch(world, world.members[person].team)
        return
    pool = world.plan.lines[who.line].pool
    append(world.cases, world.stalled[pool], case)
    who.stands = Stand.AMONG_STALLED
    world.clock[0].stalled += 1
    join_pool(world, pool)
    wait_for(world, case, CaseState.IN_LINE)
    touch_teams_of(world, pool)


@rare
def attend(world: World, member: int) -> None:
    """Let those who wait for this very member be looked at when its team looks whom it can serve."""
    who = world.members[member]
    if who.attending == 0:
        who.attending = 1
        who.next_attending = world.teams[who.team].first_attending
        world.teams[who.team].first_attending = member


@part
def wait_for(world: World, case: int, state: int) -> None:
    """Let a case be charged as one that waits in a line, or for its person; who is blocked before it stays so."""
    if world.cases[case].state != CaseState.BLOCKED:
        turn_to(world, case, state, Account.PERSON if state == CaseState.WAITING else NONE)


@rare
def stand_anew(world: World, pool: int) -> None:
    """Let those who ask for particular people stand where they belong now that a pool has opened or shut."""
    for case in range(len(world.cases) if world.plan.run[0].remembered > 0 else 0):
        who = world.cases[case]
        stands = who.stands == Stand.IN_LINE or who.stands == Stand.WITH_PERSON or who.stands == Stand.AMONG_STALLED
        if not stands or world.plan.lines[who.line].pool != pool:
            continue
        if first_person(world, case, world.plan.lines[who.line].step) != NONE:
            leave_stand(world, case)
            take_a_stand(world, case)


@part
def leave_line(world: World, case: int) -> None:
    """Take a waiting case from wherever it stands."""
    who = world.cases[case]
    if who.stands == Stand.IN_LINE or who.stands == Stand.WITH_PERSON or who.stands == Stand.AMONG_STALLED:
        if world.clock[0].first_reserving != NONE:
            touch_teams_of(world, world.plan.lines[who.line].pool)
        leave_stand(world, case)
    elif who.stands == Stand.AT_SIGNAL:
        unchain(world.cases, world.lines[who.line], case)
        world.lines[who.line].count -= 1
    stood_in_room = who.stands != Stand.AT_SIGNAL and who.state != CaseState.BLOCKED
    if stood_in_room:
        enter_room(world, case, -1)
    who.stands = Stand.NOWHERE
    who.stamp += 1
    turn_to(world, case, CaseState.MOVING, NONE)


@part
def leave_stand(world: World, case: int) -> None:
    """Take a case from where it can be called from."""
    if world.cases[case].stands == Stand.IN_LINE:
        step_out_of_line(world, case)
    else:
        leave_person(world, case)


@rare
def leave_person(world: World, case: int) -> None:
    """Take a case from the member it waits for, or from among the stalled."""
    who = world.cases[case]
    if who.stands == Stand.WITH_PERSON:
        unchain(world.cases, world.members[who.person], case)
    else:
        pool = world.plan.lines[who.line].pool
        unchain(world.cases, world.stalled[pool], case)
        world.clock[0].stalled -= 1
        leave_pool(world, pool)
    who.stands = Stand.NOWHERE


@rare
def stand_blocked(world: World, case: int, line: int) -> None:
    """Let a case wait where it is until there is room in the line that it goes to."""
    who = world.cases[case]
    turn_to(world, case, CaseState.BLOCKED, Account.NEXT_LINE)
    rules = world.plan.lines[line]
    if rules.most == 0 and rules.pool != NONE:
        who.line = line
        who.stamp += 1
        world.clock[0].orders += 1
        who.order = world.clock[0].orders
        who.rank = 0.0
        take_a_stand(world, case)
    else:
        append(world.cases, world.rooms[rules.room], case)


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
