"""Who is next: of all who wait for a team, the first whose needs can all be met."""

from flowcore.kernel.causes import available, condition_holds, idle_for, needs_can_be_met, settle_cause, touch
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.events import do_first
from flowcore.kernel.kinds import NEVER, NONE, Agenda, CaseState, Closed, Look, MemberState
from flowcore.kernel.lines import (
    asks_someone,
    busy_person,
    first_person,
    leave_line,
    leave_person,
    person_for,
    wait_for_person,
)
from flowcore.kernel.members import serves_in
from flowcore.kernel.rosters import look_at_stays
from flowcore.kernel.state import World
from flowcore.kernel.work import begin, hand_back


@part
def is_before(world: World, case: int, other: int) -> bool:
    """Say whether one waiting case goes before another (or none): by priority, then by its turn."""
    if other == NONE:
        return True
    one, two = world.cases[case], world.cases[other]
    if one.priority != two.priority:
        return one.priority > two.priority
    return one.order < two.order


@part
def can_be_served(world: World, case: int, pool: int) -> bool:
    """Say whether a case's needs are met by what nobody before it holds back, or would be by displacing others."""
    if world.plan.pools[pool].preempts:
        return can_be_served_or_displace(world, case, pool)
    return can_begin_with_what_is_left(world, case, world.cases[case].line)


@rare
def can_be_served_or_displace(world: World, case: int, pool: int) -> bool:
    """Say whether a case's needs are met by what nobody before it holds back, or would be by displacing others."""
    line = world.cases[case].line
    hold_back_for_those_before(world, case)
    met = all_is_there(world, case, line)
    if not met:
        is_free = keep_persons(world, case, line, 1)
        met = is_free and could_pre_empt(world, case, pool)
        keep_persons(world, case, line, -1)
    hold_nothing_back(world)
    return met


@part
def all_is_there(world: World, case: int, line: int) -> bool:
    """Say whether a case's needs are met by what nobody holds back, when its particular people come from that."""
    pool = world.plan.lines[line].pool
    if world.plan.steps[world.plan.lines[line].step].coverable == 0:
        return needs_can_be_met(world, pool)
    return all_is_there_beside_persons(world, case, line)


@rare
def all_is_there_beside_persons(world: World, case: int, line: int) -> bool:
    """Say whether a case's needs are met when its particular people are held back for it."""
    pool = world.plan.lines[line].pool
    met = keep_persons(world, case, line, 1) and needs_can_be_met(world, pool)
    keep_persons(world, case, line, -1)
    return met


@rare
def keep_persons(world: World, case: int, line: int, change: int) -> bool:
    """Count a case's particular people among those held back, or no longer; say whether nobody else holds them back."""
    step = world.plan.steps[world.plan.lines[line].step]
    are_there = True
    for need in range(step.first_need, step.first_need + step.needs if step.coverable else step.first_need):
        person = person_for(world, case, need)
        if person != NONE:
            team = world.teams[world.members[person].team]
            team.held_back += change
            are_there = are_there and team.idle >= team.held_back
    return are_there


@rare
def hold_nothing_back(world: World) -> None:
    """Let all idle members be there for anyone again."""
    for team in range(len(world.teams)):
        world.teams[team].held_back = 0


@rare
def hold_back_for_those_before(world: World, case: int) -> None:
    """Keep from a case what is idle and asked for by those before it who hold back, in their order.

    A step that reserves holds back from all behind; one that pre-empts from those of lower priority.
    """
    last = case
    while True:
        first = NONE
        pool = world.clock[0].first_reserving
        while pool != NONE:
            other = first_of_pool(world, pool)
            if other != NONE and other != case and holds_back_from(world, pool, other, case):
                is_later = last == case or is_before(world, last, other)
                if other != last and is_later and is_before(world, other, first):
                    first = other
            pool = world.pools[pool].next_reserving
        if first == NONE:
            return
        hold_back(world, world.plan.lines[world.cases[first].line].pool)
        last = first


@part
def holds_back_from(world: World, pool: int, case: int, other: int) -> bool:
    """Say whether the first case of a pool keeps its teams' idle members from another."""
    if not is_before(world, case, other):
        return False
    return world.plan.pools[pool].reserve == 1 or world.cases[case].priority > world.cases[other].priority


@part
def first_of_pool(world: World, pool: int) -> int:
    """Return the first of the cases that wait in an open pool's lines, or NONE."""
    line = world.pools[pool].first
    return NONE if line == NONE or world.pools[pool].closed != Closed.OPEN else world.lines[line].first


@part
def hold_back(world: World, pool: int) -> None:
    """Keep the idle members whom a pool asks for from everyone behind, of each need the preferred first."""
    asks = world.plan.pools[pool]
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        team = world.teams[world.asks[ask].team]
        team.held_back_before = team.held_back
    for entry in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[world.plan.lists[entry]]
        wanted = need.count
        for place in range(need.first_team, need.first_team + need.teams):
            number = world.plan.lists[place]
            here = world.teams[number]
            left = idle_for(world, number, asks.overtime) - (here.held_back - here.held_back_before)
            kept = max(0, min(wanted, left, available(world, number, asks.overtime)))
            here.held_back += kept
            wanted -= kept


@part
def next_for(world: World, team: int) -> int:
    """Return the case that a team should serve next, or NONE.

    Only the first cases of lines are looked at, and only of pools that wait for this team.
    """
    chosen = NONE
    ask = world.teams[team].first_ask
    while ask != NONE:
        pool = world.asks[ask].pool
        after = world.asks[ask].next
        case = first_of_pool(world, pool)
        if case != NONE and is_before(world, case, chosen) and can_be_served(world, case, pool):
            chosen = case
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
        ask = after
    if world.teams[team].first_attending != NONE:
        chosen = next_attended(world, team, chosen)
    return chosen


@rare
def next_stalled(world: World, pool: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose person is free and whose pool's needs are met now.

    Those whose person has been taken meanwhile go to stand with that person again.
    """
    case = world.stalled[pool].first
    while case != NONE:
        after = world.cases[case].next
        person = busy_person(world, case, world.cases[case].line)
        if person != NONE:
            move_to_person(world, case, person)
        elif is_before(world, case, chosen) and can_be_served(world, case, pool):
            chosen = case
        case = after
    return chosen


@rare
def next_of_all_stalled(world: World, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose person was free, but held back from it until now."""
    for pool in range(len(world.pools)):
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
    return chosen


@rare
def move_to_person(world: World, case: int, person: int) -> None:
    """Let a case that was stalled stand with a member again."""
    leave_person(world, case)
    wait_for_person(world, case, person)


@rare
def next_attended(world: World, team: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one that waits for a member of the team who is free now."""
    here = world.teams[team]
    member = here.first_attending
    before = NONE
    while member != NONE:
        who = world.members[member]
        after = who.next_attending
        if who.state == MemberState.IDLE:
            chosen = next_with(world, member, chosen)
        if who.state == MemberState.IDLE and who.first != NONE:
            before = member
        else:
            who.attending = 0
            if before == NONE:
                here.first_attending = after
            else:
                world.members[before].next_attending = after
        member = after
    return chosen


@part
def next_with(world: World, member: int, chosen: int) -> int:
    """Return `chosen` or a case that waits for this idle member; those that lack something else stall."""
    case = world.members[member].first
    while case != NONE:
        after = world.cases[case].next
        pool = world.plan.lines[world.cases[case].line].pool
        other = busy_person(world, case, world.cases[case].line)
        if other == member:
            case = after
            continue
        if other != NONE:
            move_to_person(world, case, other)
        elif not can_be_served(world, case, pool):
            if asks_someone(world, world.cases[case].line):
                move_to_person(world, case, NONE)
        elif is_before(world, case, chosen):
            chosen = case
        case = after
    return chosen


@rare
def touch_held_back(world: World) -> None:
    """Mark all teams of whom someone may be held back: where one has changed, others may be held back instead."""
    pool = world.clock[0].first_reserving
    while pool != NONE:
        asks = world.plan.pools[pool]
        for ask in range(asks.first_ask, asks.first_ask + asks.asks):
            touch(world, world.asks[ask].team)
        pool = world.pools[pool].next_reserving


@part
def serve_touched(world: World) -> None:
    """Let the teams that were touched serve the first whom they can; of those that can serve none, note why."""
    clock = world.clock[0]
    if clock.first_reserving != NONE:
        touch_held_back(world)
    team = clock.first_touched
    while team != NONE:
        if world.teams[team].staying > 0 and look_at_stays(world, team):
            return
        team = world.teams[team].next_touched
    chosen = NONE
    team = clock.first_touched
    while team != NONE:
        after = world.teams[team].next_touched
        world.teams[team].touched = Look.LOOKED_AT
        case = NONE
        if world.teams[team].idle > 0 or clock.first_reserving != NONE:
            case = next_for(world, team)
        if case != NONE:
            world.teams[team].touched = Look.TOUCHED
            chosen = case if is_before(world, case, chosen) else chosen
        team = after
    if clock.stalled > 0:
        chosen = next_of_all_stalled(world, chosen)
    if chosen != NONE:
        serve_waiting(world, chosen)
    else:
        forget_touched(world)


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
            ask = here.first_ask
            while ask != NONE:
                settle_cause(world, world.asks[ask].pool)
                ask = world.asks[ask].next
        else:
            here.next_touched = world.clock[0].first_touched
            world.clock[0].first_touched = team
        team = after


@part
def serve_waiting(world: World, case: int) -> None:
    """Let a waiting case begin; one that was blocked before a line without places comes in first."""
    pool = world.plan.lines[world.cases[case].line].pool
    others_hold_back = world.clock[0].first_reserving != NONE
    if others_hold_back:
        hold_back_for_those_before(world, case)
    if world.plan.pools[pool].preempts:
        pre_empt(world, case, pool)
    was_blocked = world.cases[case].state == CaseState.BLOCKED
    leave_line(world, case)
    world.clock[0].serve_first = 0
    if was_blocked:
        do_first(world, Agenda.LET_IN_CASE, case)
    else:
        begin(world, case)
    if others_hold_back:
        hold_nothing_back(world)


@part
def begin_with_what_is_left(world: World, case: int) -> None:
    """Let a case begin with members whom nobody before it holds back."""
    if world.clock[0].first_reserving == NONE:
        begin(world, case)
        return
    hold_back_for_those_before(world, case)
    begin(world, case)
    hold_nothing_back(world)


@part
def can_begin_with_what_is_left(world: World, case: int, line: int) -> bool:
    """Say whether a case's needs are met by whom nobody before it holds back."""
    if world.clock[0].first_reserving == NONE:
        return all_is_there(world, case, line)
    return can_begin_beside_those_before(world, case, line)


@rare
def can_begin_beside_those_before(world: World, case: int, line: int) -> bool:
    """Say whether a case's needs are met by what those before it do not hold back."""
    hold_back_for_those_before(world, case)
    is_there = all_is_there(world, case, line)
    hold_nothing_back(world)
    return is_there


@rare
def serve_pool(world: World, pool: int) -> None:
    """Let the first of a pool that asks nobody begin."""
    case = first_of_pool(world, pool)
    if case != NONE:
        do_first(world, Agenda.SERVE_POOL, pool)
        serve_waiting(world, case)


@rare
def pre_empt(world: World, case: int, pool: int) -> None:
    """Take members from work on less urgent cases until this one's needs are met; see `could_pre_empt`."""
    asks = world.plan.pools[pool]
    keep_persons(world, case, world.cases[case].line, 1)
    if not needs_can_be_met(world, pool):
        for number in range(asks.first_condition, asks.first_condition + asks.conditions):
            while not condition_holds(world, number, asks.overtime):
                hand_back(world, victim_of(world, case, number, asks.overtime))
    keep_persons(world, case, world.cases[case].line, -1)


@rare
def could_pre_empt(world: World, case: int, pool: int) -> bool:
    """Say whether all needs would be met if less urgent work were put down."""
    if world.pools[pool].closed != Closed.OPEN:
        return False
    asks = world.plan.pools[pool]
    for number in range(asks.first_condition, asks.first_condition + asks.conditions):
        condition = world.plan.conditions[number]
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            team = world.plan.teams[world.plan.lists[place]]
            there += available(world, world.plan.lists[place], asks.overtime)
            for member in range(team.first_member, team.first_member + team.members):
                there += can_be_taken_from(world, member, case, asks.overtime)
        if there < condition.count:
            return False
    return True


@part
def can_be_taken_from(world: World, member: int, case: int, overtime: int) -> bool:
    """Say whether a member is at work on a less urgent case that can be put down, and would be free then."""
    who = world.members[member]
    other = who.case
    if other == NONE or world.cases[other].state != CaseState.AT_WORK:
        return False
    owes = who.owes_break or who.owes_interruption or who.shift_over
    here = who.step == world.cases[other].step and not owes and serves_in(world, member, overtime)
    return here and world.cases[other].priority < world.cases[case].priority


@rare
def victim_of(world: World, case: int, number: int, overtime: int) -> int:
    """Return the least urgent case, of those the one begun last, that holds a member of a condition's teams."""
    condition = world.plan.conditions[number]
    victim = NONE
    lowest, latest = NEVER, 0
    for place in range(condition.first_team, condition.first_team + condition.teams):
        team = world.plan.teams[world.plan.lists[place]]
        for member in range(team.first_member, team.first_member + team.members):
            if not can_be_taken_from(world, member, case, overtime):
                continue
            other = world.members[member].case
            priority, began = world.cases[other].priority, world.cases[other].begun
            if priority < lowest or (priority == lowest and began > latest):
                victim, lowest, latest = other, priority, began
    return victim


@part
def someone_may_be_next(world: World) -> bool:
    """Say whether a team that has changed at this instant may yet serve someone who waits for it, or leave."""
    team = world.clock[0].first_touched
    while team != NONE:
        here = world.teams[team]
        if here.first_ask != NONE or here.first_attending != NONE or here.staying > 0:
            return True
        team = here.next_touched
    return False


@part
def lacks_nobody(world: World, case: int, line: int) -> bool:
    """Say whether a case lacks nobody where it comes to a line: its own people, if any, meet all needs."""
    return not asks_someone(world, line) and first_person(world, case, world.plan.lines[line].step) == NONE


@part
def can_begin_at_once(world: World, case: int, line: int) -> bool:
    """Say whether a case that comes to a line need not wait: nobody is before it and all is there."""
    rules = world.plan.lines[line]
    if rules.pool == NONE:
        return True
    if rules.min_wait > 0.0 or world.lines[line].first != NONE:
        return False
    if busy_person(world, case, line) != NONE:
        return False
    if not lacks_nobody(world, case, line) and (world.rooms[rules.room].coming > 0 or someone_may_be_next(world)):
        return False
    world.cases[case].order = world.clock[0].turns + 1
    return can_begin_with_what_is_left(world, case, line)
