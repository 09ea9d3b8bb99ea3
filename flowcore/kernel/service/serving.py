"""Who is next: of all who wait for a team, the first whose needs can all be met."""

from flowcore.kernel.clockwork.agenda import push_front
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, Agenda, CaseState, Look, MemberState
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import can_be_served, pre_empt
from flowcore.kernel.service.order import (
    first_of_pool,
    hold_back_for_those_before,
    hold_nothing_back,
    is_before,
    touch_held_back,
)
from flowcore.kernel.service.plain import (
    begin_when_ready,
    begins_at_this_instant,
    call_plainly,
    is_plain_for,
    join_after_all,
)
from flowcore.kernel.service.shifts import look_at_stays
from flowcore.kernel.service.work import begin
from flowcore.kernel.waiting.causes import attribute_wait
from flowcore.kernel.waiting.own_people import busy_person
from flowcore.kernel.waiting.pools import asks_someone
from flowcore.kernel.waiting.stands import leave_line, leave_person, wait_for_person


@part
def next_for(world: World, team: int) -> int:
    """Return the case that a team should serve next, or NONE.

    Only the first cases of lines are looked at, and only of pools that wait for this team.
    """
    chosen = NONE
    incidence = world.teams[team].first_incidence
    while incidence != NONE:
        pool = world.incidences[incidence].pool
        after = world.incidences[incidence].next
        case_id = first_of_pool(world, pool)
        if case_id != NONE and is_before(world, case_id, chosen) and can_be_served_by_idle(world, case_id, pool):
            chosen = case_id
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
        incidence = after
    if world.teams[team].first_attending != NONE:
        chosen = next_attended(world, team, chosen)
    return chosen


@part
def can_be_served_by_idle(world: World, case_id: int, pool: int) -> bool:
    """Say whether a case's needs are met where a team of its pool has someone idle: at a plain step that is all."""
    step = world.plan.lines[world.cases[case_id].line].step
    return world.plan.steps[step].is_plain > 0 or can_be_served(world, case_id, pool)


@rare
def next_stalled(world: World, pool: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose person is free and whose pool's needs are met now.

    Those whose person has been taken meanwhile go to stand with that person again.
    """
    case_id = world.stalled[pool].first
    while case_id != NONE:
        after = world.turns[case_id].next
        person = busy_person(world, case_id, world.cases[case_id].line)
        if person != NONE:
            move_to_person(world, case_id, person)
        elif is_before(world, case_id, chosen) and can_be_served(world, case_id, pool):
            chosen = case_id
        case_id = after
    return chosen


@rare
def next_of_all_stalled(world: World, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose person was free, but held back from it until now."""
    for pool in range(len(world.pools)):
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
    return chosen


@rare
def move_to_person(world: World, case_id: int, person: int) -> None:
    """Let a case that was stalled stand with a member again."""
    leave_person(world, case_id)
    wait_for_person(world, case_id, person)


@rare
def next_attended(world: World, team: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one that waits for a member of the team who is free now."""
    here = world.teams[team]
    member_id = here.first_attending
    before = NONE
    while member_id != NONE:
        member = world.members[member_id]
        after = member.next_attending
        if member.state == MemberState.IDLE:
            chosen = next_with(world, member_id, chosen)
        if member.state == MemberState.IDLE and member.first != NONE:
            before = member_id
        else:
            member.attending = 0
            if before == NONE:
                here.first_attending = after
            else:
                world.members[before].next_attending = after
        member_id = after
    return chosen


@part
def next_with(world: World, member_id: int, chosen: int) -> int:
    """Return `chosen` or a case that waits for this idle member; those that lack something else stall."""
    case_id = world.members[member_id].first
    while case_id != NONE:
        after = world.turns[case_id].next
        pool = world.plan.lines[world.cases[case_id].line].pool
        other = busy_person(world, case_id, world.cases[case_id].line)
        if other == member_id:
            case_id = after
            continue
        if other != NONE:
            move_to_person(world, case_id, other)
        elif not can_be_served(world, case_id, pool):
            if asks_someone(world, world.cases[case_id].line):
                move_to_person(world, case_id, NONE)
        elif is_before(world, case_id, chosen):
            chosen = case_id
        case_id = after
    return chosen


@part
def serve_touched(world: World) -> None:
    """Let the teams that were touched serve the first whom they can; of those that can serve none, note why."""
    clock = world.clock[0]
    if forget_if_busy(world):
        return
    if clock.first_reserving != NONE:
        touch_held_back(world)
    team = clock.first_touched if world.plan.run[0].stays else NONE
    while team != NONE:
        if world.teams[team].staying > 0 and look_at_stays(world, team):
            return
        team = world.teams[team].next_touched
    chosen = NONE
    team = clock.first_touched
    while team != NONE:
        after = world.teams[team].next_touched
        world.teams[team].touched = Look.LOOKED_AT
        case_id = NONE
        if world.teams[team].idle > 0 or clock.first_reserving != NONE:
            case_id = next_for(world, team)
        if case_id != NONE:
            world.teams[team].touched = Look.TOUCHED
            chosen = case_id if is_before(world, case_id, chosen) else chosen
        team = after
    if clock.stalled > 0:
        chosen = next_of_all_stalled(world, chosen)
    if clock.ready != NONE and is_before(world, clock.ready, chosen):
        begin_when_ready(world)
        return
    if chosen == NONE:
        forget_touched(world)
        return
    serve_waiting(world, chosen)
    if clock.agenda_length == 0 and clock.first_touched != NONE:
        forget_if_busy(world)


@part
def serve_ready(world: World) -> None:
    """Let the case that is ready begin, those before it first; where anything else comes between, it waits in line."""
    if not begins_at_this_instant(world, world.clock[0].ready):
        join_after_all(world)
    elif world.clock[0].first_touched != NONE:
        serve_touched(world)
    else:
        begin_when_ready(world)


@part
def forget_if_busy(world: World) -> bool:
    """Look at the teams that were touched no more where that is one only, with nobody idle; say whether it is so."""
    team = world.clock[0].first_touched
    if not is_busy_alone(world, team):
        return False
    world.teams[team].touched = Look.LOOKED_AT
    forget_touched(world)
    return True


@part
def is_busy_alone(world: World, team: int) -> bool:
    """Say whether a team is the only one touched, and has nobody idle to serve anyone."""
    here, clock = world.teams[team], world.clock[0]
    is_alone = here.next_touched == NONE and clock.first_reserving == NONE and clock.stalled == 0
    return is_alone and here.idle == 0 and here.staying == 0


@part
def forget_touched(world: World) -> None:
    """Let the teams that were looked at be so no more, and note what their cases wait for."""
    if world.clock[0].stalled > 0:
        for pool in range(len(world.pools)):
            next_stalled(world, pool, NONE)
    team = world.clock[0].first_touched
    world.clock[0].first_touched = NONE
    while team != NONE:
        here = world.teams[team]
        after = here.next_touched
        if here.touched == Look.LOOKED_AT:
            here.touched = 0
            incidence = here.first_incidence
            while incidence != NONE:
                attribute_wait(world, world.incidences[incidence].pool)
                incidence = world.incidences[incidence].next
        else:
            here.next_touched = world.clock[0].first_touched
            world.clock[0].first_touched = team
        team = after


@part
def serve_waiting(world: World, case_id: int) -> None:
    """Let a waiting case begin; one that was blocked before a line without places comes in first."""
    if is_plain_for(world, case_id) and world.cases[case_id].state == CaseState.IN_LINE:
        world.clock[0].serve_first = 0
        call_plainly(world, case_id)
        return
    pool = world.plan.lines[world.cases[case_id].line].pool
    others_hold_back = world.clock[0].first_reserving != NONE
    if others_hold_back:
        hold_back_for_those_before(world, case_id)
    if world.plan.pools[pool].preempts:
        pre_empt(world, case_id, pool)
    was_blocked = world.cases[case_id].state == CaseState.BLOCKED
    leave_line(world, case_id)
    world.clock[0].serve_first = 0
    if was_blocked:
        push_front(world, Agenda.LET_IN_CASE, case_id)
    else:
        begin(world, case_id)
    if others_hold_back:
        hold_nothing_back(world)


@rare
def serve_pool(world: World, pool: int) -> None:
    """Let the first of a pool that asks nobody begin."""
    case_id = first_of_pool(world, pool)
    if case_id != NONE:
        push_front(world, Agenda.SERVE_POOL, pool)
        serve_waiting(world, case_id)
