"""Shifts, breaks and interruptions as they come due, and how long teams stay when work is left."""

import math

import numpy as np

from flowcore.kernel.absence import (
    be_interrupted,
    become_free,
    begin_break,
    call_next_to_break,
    cause_of_absence,
    forget_what_is_owed,
    go_off,
    leave_for_break,
    owe_break,
)
from flowcore.kernel.accounts import turn_to
from flowcore.kernel.causes import settle_cause, touch, touch_teams_of
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.draws import chain, uniform
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import (
    NEVER,
    NONE,
    BreakTaken,
    CaseState,
    ClockBy,
    Closed,
    DrawFor,
    EventKind,
    HandOver,
    MemberState,
    Note,
    Rank,
    Stand,
    Stay,
    WhenDone,
    Whom,
)
from flowcore.kernel.lines import asks_for_one_of, asks_for_one_who_is_off, mark, stand_anew
from flowcore.kernel.members import is_absent, is_off, set_overtime, set_state, walk_on
from flowcore.kernel.notes import note
from flowcore.kernel.state import World
from flowcore.kernel.wear import length_of, owe_interruption, wind_up, wind_up_again
from flowcore.kernel.work import hand_back, pause_work, start_work


@part
def start_row(world: World, row: int, since: float, until: float) -> None:
    """Let the members of a roster row come to their shift, and plan their breaks."""
    plan = world.plan.rows[row]
    world.rows[row].on_shift = 1
    world.rows[row].until = until
    end_stay(world, row)
    for member in range(plan.first_member, plan.first_member + plan.members):
        if misses_shift(world, member, since):
            miss_shift(world, member)
        else:
            come_to_shift(world, member)
    for rest in range(plan.first_break, plan.first_break + plan.breaks):
        plan_break(world, rest, since, until)


@part
def misses_shift(world: World, member: int, since: float) -> bool:
    """Say whether a member misses the shift that began at a time; each does or does not on each day by itself."""
    team = world.plan.teams[world.members[member].team]
    if team.absence <= 0.0:
        return False
    row = world.members[member].row
    day = int(math.floor((world.plan.run[0].start_minute + since + 0.5) / 1440.0)) + 1
    key = chain(chain(world.clock[0].seed, team.key), np.uint64(row - team.first_row))
    key = chain(key, np.uint64(member - world.plan.rows[row].first_member))
    return uniform(chain(key, np.uint64(DrawFor.ABSENCE)), day) < team.absence


@part
def miss_shift(world: World, member: int) -> None:
    """Let a member be absent from a shift; who is still there from the one before leaves as at its end."""
    who = world.members[member]
    who.on_shift = 0
    who.misses = 1
    note(world, Note.MISSED_SHIFT, NONE, NONE, member)
    if is_off(who.state):
        be_off(world, member, MemberState.ABSENT)
    elif who.shift_over == 0:
        set_overtime(world, member, 1)
        leave_shift(world, member)


@part
def be_off(world: World, member: int, state: int) -> None:
    """Let a member who is not there be so because it misses its shift, or because it has none; its case knows."""
    who = world.members[member]
    set_state(world, member, state)
    if who.case != NONE and world.cases[who.case].in_work and world.cases[who.case].state == CaseState.WAITING:
        turn_to(world, who.case, CaseState.WAITING, cause_of_absence(world, who.case))


@part
def come_to_shift(world: World, member: int) -> None:
    """Let a member begin its shift, or go on from the one before."""
    who = world.members[member]
    who.on_shift = 1
    who.misses = 0
    if is_off(who.state):
        start_shift(world, member)
    else:
        who.shift_over = 0
        set_overtime(world, member, 0)


@part
def plan_break(world: World, rest: int, since: float, until: float) -> None:
    """Schedule a break of a row's shift: for all, for the first, or for each in a window.

    Where the run begins after it has begun, as if everyone had gone on time.
    """
    clock = world.clock[0]
    plan = world.plan.rests[rest]
    row = world.plan.rows[plan.row]
    begins = since + plan.after
    if plan.at >= 0.0:
        begins = since + (plan.at - (world.plan.run[0].start_minute + since)) % 1440.0
    if begins >= until or row.members == 0:
        return
    if plan.taken == BreakTaken.TOGETHER and begins >= clock.now:
        schedule(world, begins, Rank.ROSTER, EventKind.BREAK_DUE, rest, NONE)
        return
    apart = 0.0
    if plan.taken == BreakTaken.SPREAD:
        apart = max(0.0, plan.within - plan.length) / max(1, row.members - 1)
    elif plan.taken == BreakTaken.IN_TURN:
        apart = plan.length
    turn = 0
    for member in range(row.first_member, row.first_member + row.members):
        due = begins + turn * apart
        if world.members[member].misses:
            turn += int(plan.taken == BreakTaken.SPREAD)
            continue
        turn += 1
        if clock.now <= due < until:
            schedule(world, due, Rank.ROSTER, EventKind.BREAK_DUE, rest, member)
        elif due < clock.now < due + plan.length:
            have_the_rest(world, rest, member, due + plan.length)
        if plan.taken == BreakTaken.IN_TURN and due + plan.length > clock.now:
            return


@part
def have_the_rest(world: World, rest: int, member: int, ends: float) -> None:
    """Let a member have what is left of a break within which the run begins; of two the later end holds."""
    who = world.members[member]
    if who.state == MemberState.IDLE:
        who.rest = rest
        leave_for_break(world, member, ends)
    else:
        who.owes_break, who.break_follows, who.owed_rest = 1, 1, rest
        who.break_until = max(who.break_until, ends)


@part
def start_shift(world: World, member: int) -> None:
    """Let a member begin its shift, and go on with the case that it left paused."""
    who = world.members[member]
    forget_what_is_owed(world, member)
    note(world, Note.SHIFT_BEGAN, NONE, NONE, member)
    if who.case == NONE:
        who.place = world.plan.teams[who.team].place
        become_free(world, member)
    else:
        take_up_again(world, member)


@part
def take_up_again(world: World, member: int) -> None:
    """Let a member who was away go on with its case."""
    case = world.members[member].case
    walk_on(world, member)
    who = world.cases[case]
    who.absent -= 1
    if not who.in_work or who.state != CaseState.WAITING:
        return
    start_work(world, case)


@part
def end_row(world: World, row: int) -> None:
    """End the shift of a row: its members stay while their team's rule says so, else they leave."""
    plan = world.plan.rows[row]
    here = world.rows[row]
    team = world.plan.teams[plan.team]
    clock = world.clock[0]
    here.on_shift = 0
    for member in range(plan.first_member, plan.first_member + plan.members):
        who = world.members[member]
        who.on_shift = 0
        who.misses = 0
        if is_off(who.state):
            who.token += 1
            be_off(world, member, MemberState.OFF)
        else:
            set_overtime(world, member, 1)
    here.awaited = 0
    if team.stay == Stay.CLEARS_LINE:
        mark_awaited(world, row)
    stays = (team.stay == Stay.CLEARS_LINE and here.awaited > 0) or (team.stay == Stay.EMPTIES and clock.inside > 0)
    if stays and team.stay_at_most > 0.0:
        here.staying = 1
        world.teams[plan.team].staying += 1
        here.token += 1
        if team.stay_at_most < NEVER:
            schedule(world, clock.now + team.stay_at_most, Rank.ROSTER, EventKind.OVERTIME_OVER, row, here.token)
    else:
        leave_row(world, row)
    touch(world, plan.team)


@part
def mark_awaited(world: World, row: int) -> None:
    """Mark and count the cases that wait for a row's team as its shift ends, and would be served in overtime."""
    slot = world.plan.rows[row].slot
    for case in range(len(world.cases)):
        is_awaited = waits_for(world, case, row)
        mark(world, case, slot, is_awaited)
        world.rows[row].awaited += int(is_awaited)


@part
def waits_for(world: World, case: int, row: int) -> bool:
    """Say whether a case waits for a row's people in overtime too: in the line, for its minimum time, for one of them.

    Nobody stays for a case that also asks for a particular member who is not there: it could not be served.
    """
    who = world.cases[case]
    if who.stands == Stand.NOWHERE or who.stands == Stand.AT_SIGNAL:
        return False
    pool = world.plan.lines[who.line].pool
    if pool == NONE or world.plan.pools[pool].overtime == WhenDone.NOT_IN_OVERTIME:
        return False
    if asks_for_one_who_is_off(world, case, who.line):
        return False
    asks = world.plan.pools[pool]
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        if world.asks[ask].team == world.plan.rows[row].team:
            return True
    return asks_for_one_of(world, case, who.line, row)


@part
def leave_row(world: World, row: int) -> None:
    """Let all members of a row leave, each by the hand-over rule for the case in hand."""
    plan = world.plan.rows[row]
    for member in range(plan.first_member, plan.first_member + plan.members):
        if not is_off(world.members[member].state):
            leave_shift(world, member)


@part
def leave_shift(world: World, member: int) -> None:
    """Let a member leave at the end of its shift."""
    who = world.members[member]
    rule = world.plan.teams[who.team].at_shift_end
    who.shift_over = 1
    if who.case == NONE:
        go_off(world, member)
    elif rule == HandOver.PAUSE:
        was_away = is_absent(who.state)
        go_off(world, member)
        if not was_away:
            world.cases[who.case].absent += 1
        pause_work(world, who.case)
    elif rule == HandOver.HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)
        if who.case == NONE and not is_off(who.state):
            go_off(world, member)


@part
def end_stay(world: World, row: int) -> None:
    """Let a row's staying be over."""
    here = world.rows[row]
    if here.staying:
        here.staying = 0
        here.token += 1
        world.teams[world.plan.rows[row].team].staying -= 1


@rare
def look_at_stays(world: World, team: int) -> bool:
    """Let those rows of a team leave that stayed for cases of which none is left; say whether one did."""
    has_left = False
    plan = world.plan.teams[team]
    for row in range(plan.first_row, plan.first_row + plan.rows):
        here = world.rows[row]
        if here.staying == 0:
            continue
        done = here.awaited <= 0 if plan.stay == Stay.CLEARS_LINE else world.clock[0].inside == 0
        if done:
            stop_staying(world, row)
            has_left = True
    return has_left


@part
def stop_staying(world: World, row: int) -> None:
    """Let the members of a row leave who stayed after their shift."""
    end_stay(world, row)
    leave_row(world, row)


@part
def settle_pool(world: World, pool: int) -> None:
    """Find whether a pool is open: by its hours, and whether anyone is ever there who may serve it."""
    here = world.pools[pool]
    closed = Closed.OPEN
    if here.shut:
        closed = Closed.BY_HOURS
    elif world.plan.pools[pool].never:
        closed = Closed.BY_OVERTIME
    if closed != here.closed:
        here.closed = closed
        settle_cause(world, pool)
        touch_teams_of(world, pool)
        stand_anew(world, pool)


@part
def take_break(world: World, rest: int, member: int) -> None:
    """Let one member, or (NONE) the whole row, go on a break that is due."""
    row = world.plan.rows[world.plan.rests[rest].row]
    if member != NONE:
        go_on_break(world, rest, member)
        return
    for each in range(row.first_member, row.first_member + row.members):
        go_on_break(world, rest, each)


@part
def go_on_break(world: World, rest: int, member: int) -> None:
    """Let a member leave for its break now, or owe it: until it is free, or until it is back."""
    who = world.members[member]
    plan = world.plan.rests[rest]
    if who.on_shift == 0 or is_off(who.state):
        return
    rule = world.plan.teams[who.team].at_break
    if is_absent(who.state):
        owe_break(world, member, rest)
        who.break_follows = 1
    elif who.case == NONE or rule == HandOver.PAUSE:
        who.rest = rest
        leave_for_break(world, member, world.clock[0].now + plan.length)
        if who.case != NONE:
            world.cases[who.case].absent += 1
            pause_work(world, who.case)
    else:
        owe_break(world, member, rest)
        if rule == HandOver.HAND_OVER and who.step == world.cases[who.case].step:
            hand_back(world, who.case)


@part
def come_back(world: World, member: int) -> None:
    """Let a member come back from a break or an interruption; a break that came due meanwhile follows."""
    who = world.members[member]
    was_on_break = who.state != MemberState.INTERRUPTED
    note(world, Note.CAME_BACK, NONE, NONE, member)
    if was_on_break:
        call_next_to_break(world, member, who.rest)
    else:
        wind_up_again(world, member)
    follows = who.break_follows
    who.break_follows = 0
    if follows and begin_break(world, member):
        if who.case != NONE and world.cases[who.case].in_work and world.cases[who.case].state == CaseState.WAITING:
            turn_to(world, who.case, CaseState.WAITING, cause_of_absence(world, who.case))
        return
    if who.case != NONE:
        take_up_again(world, member)
    else:
        become_free(world, member)


@part
def strike(world: World, wear: int) -> None:
    """Let an interruption that is due strike its member, or all of its team for the same time.

    Whoever is away is not struck. A clock by the clock waits until the interruption is over; the others go on.
    """
    clock = world.wear[wear]
    interrupt = world.plan.interrupts[clock.interrupt]
    first, last = clock.member, clock.member
    if interrupt.strikes == Whom.WHOLE_TEAM:
        team = world.plan.teams[interrupt.team]
        first, last = team.first_member, team.first_member + team.members - 1
    elif is_absent(world.members[clock.member].state):
        wind_up(world, wear, 0.0)
        return
    length = length_of(world, wear)
    if interrupt.strikes == Whom.EACH and interrupt.measure == ClockBy.CLOCK:
        clock.waits = 1
    else:
        wind_up(world, wear, length)
    for member in range(first, last + 1):
        if not is_absent(world.members[member].state):
            answer_interruption(world, member, wear, length)


@part
def answer_interruption(world: World, member: int, wear: int, length: float) -> None:
    """Let a member follow an interruption: at once, or when its case is finished."""
    who = world.members[member]
    rule = world.plan.interrupts[world.wear[wear].interrupt].rule
    if who.case == NONE or rule == HandOver.PAUSE:
        be_interrupted(world, member, world.clock[0].now + length)
        if who.case != NONE:
            world.cases[who.case].absent += 1
            pause_work(world, who.case)
        return
    owe_interruption(world, member, wear, length)
    if rule == HandOver.HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)
