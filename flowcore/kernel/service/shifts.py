"""A shift, from its beginning to its end."""

import math

import numpy as np

from flowcore.kernel.clockwork.draws import chain, uniform
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import HandOver, Stay
from flowcore.kernel.records.kinds import NEVER, NONE, DrawFor, EventKind, MemberState, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.service.absences import take_up_again
from flowcore.kernel.service.work import charge_for_absence, hand_back, pause_work
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
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        if misses_shift(world, member_id, since):
            miss_shift(world, member_id)
        else:
            come_to_shift(world, member_id)
    for break_id in range(plan.first_break, plan.first_break + plan.breaks):
        plan_break(world, break_id, since, until)


@part
def misses_shift(world: World, member_id: int, since: float) -> bool:
    """Say whether a member misses the shift that began at a time; each does or does not on each day by itself."""
    team = world.plan.teams[world.members[member_id].team]
    if team.absence <= 0.0:
        return False
    row = world.members[member_id].row
    day = int(math.floor((world.plan.run[0].start_minute + since + 0.5) / 1440.0)) + 1
    key = chain(chain(world.clock[0].seed, team.key), np.uint64(row - team.first_row))
    key = chain(key, np.uint64(member_id - world.plan.rows[row].first_member))
    return uniform(chain(key, np.uint64(DrawFor.ABSENCE)), day) < team.absence


@part
def miss_shift(world: World, member_id: int) -> None:
    """Let a member be absent from a shift; who is still there from the one before leaves as at its end."""
    member = world.members[member_id]
    member.on_shift = 0
    member.misses = 1
    note(world, Note.MISSED_SHIFT, NONE, NONE, member_id)
    if is_off(member.state):
        be_off(world, member_id, MemberState.ABSENT)
    elif member.shift_over == 0:
        set_overtime(world, member_id, 1)
        leave_shift(world, member_id)


@part
def be_off(world: World, member_id: int, state: int) -> None:
    """Let a member who is not there be so because it misses its shift, or because it has none; its case knows."""
    set_state(world, member_id, state)
    charge_for_absence(world, member_id)


@part
def come_to_shift(world: World, member_id: int) -> None:
    """Let a member begin its shift, or go on from the one before."""
    member = world.members[member_id]
    member.on_shift = 1
    member.misses = 0
    if is_off(member.state):
        start_shift(world, member_id)
    else:
        member.shift_over = 0
        set_overtime(world, member_id, 0)


@part
def start_shift(world: World, member_id: int) -> None:
    """Let a member begin its shift, and go on with the case that it left paused."""
    member = world.members[member_id]
    forget_what_is_owed(world, member_id)
    note(world, Note.SHIFT_BEGAN, NONE, NONE, member_id)
    if member.case == NONE:
        member.place = world.plan.teams[member.team].place
        become_free(world, member_id)
    else:
        take_up_again(world, member_id)


@part
def start_overtime(world: World, row: int) -> None:
    """Let what is left of the shift of a row's members be overtime, as it is planned."""
    plan = world.plan.rows[row]
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        if not is_off(world.members[member_id].state):
            set_overtime(world, member_id, 1)


@part
def end_row(world: World, row: int) -> None:
    """End the shift of a row: its members stay while their team's rule says so, else they leave."""
    plan = world.plan.rows[row]
    here = world.rows[row]
    team = world.plan.teams[plan.team]
    clock = world.clock[0]
    here.on_shift = 0
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        member = world.members[member_id]
        member.on_shift = 0
        member.misses = 0
        if is_off(member.state):
            member.stamp += 1
            be_off(world, member_id, MemberState.OFF)
        else:
            set_overtime(world, member_id, 1)
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
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        if not is_off(world.members[member_id].state):
            leave_shift(world, member_id)


@part
def leave_shift(world: World, member_id: int) -> None:
    """Let a member leave at the end of its shift."""
    member = world.members[member_id]
    rule = world.plan.teams[member.team].at_shift_end
    member.shift_over = 1
    if member.case == NONE:
        go_off(world, member_id)
    elif rule == HandOver.PAUSE:
        was_away = is_absent(member.state)
        go_off(world, member_id)
        if not was_away:
            world.cases[member.case].absent += 1
        pause_work(world, member.case)
    elif rule == HandOver.HAND_OVER and member.step == world.cases[member.case].step:
        hand_back(world, member.case)
        if member.case == NONE and not is_off(member.state):
            go_off(world, member_id)


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
