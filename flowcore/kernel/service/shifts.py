"""A shift, from its beginning to its end."""

import math

import numpy as np

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.draws import chain, uniform
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import HandOver, Stay
from flowcore.kernel.records.kinds import NEVER, NONE, CaseState, DrawFor, EventKind, MemberState, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.service.absences import take_up_again
from flowcore.kernel.service.work import cause_of_absence, hand_back, pause_work
from flowcore.kernel.staff.breaks import plan_break
from flowcore.kernel.staff.freeing import become_free, forget_what_is_owed, go_off
from flowcore.kernel.staff.members import set_overtime, set_state
from flowcore.kernel.waiting.awaited import mark_awaited
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.presence import is_absent, is_off


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
    for break_id in range(plan.first_break, plan.first_break + plan.breaks):
        plan_break(world, break_id, since, until)


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
            who.stamp += 1
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
        here.stamp += 1
        if team.stay_at_most < NEVER:
            schedule(world, clock.now + team.stay_at_most, Rank.ROSTER, EventKind.OVERTIME_OVER, row, here.stamp)
    else:
        leave_row(world, row)
    touch(world, plan.team)


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
        here.stamp += 1
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
