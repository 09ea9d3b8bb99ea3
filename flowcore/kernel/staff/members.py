"""Team members: what each does and for how long, and whom a case holds."""

import math

from flowcore.kernel.accounts.minutes import next_aboard
from flowcore.kernel.accounts.overtime import change_overtime
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.queues import append, put_in, take_out, unchain
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import MemberPick
from flowcore.kernel.records.kinds import MEMBER_STATES, NONE, EventKind, MemberState, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.interruption_clocks import change_working_clocks
from flowcore.kernel.waiting.causes import touch, touch_where_awaited
from flowcore.kernel.waiting.presence import is_absent, is_off
from flowcore.kernel.waiting.stands import attend


@part
def book_member(world: World, member_id: int) -> None:
    """Put the time since a member's last change on its account."""
    now = world.clock[0].now
    member = world.members[member_id]
    elapsed = now - member.since
    if elapsed > 0.0:
        world.member_time[member_id, member.state + MEMBER_STATES * member.in_overtime] += elapsed
        if member.state == MemberState.WORKING or member.state == MemberState.WALKING:
            member.used += elapsed
    member.since = now


@part
def join_idle(world: World, member_id: int) -> None:
    """Let a member stand among the idle of its team, in the order in which they are picked."""
    member = world.members[member_id]
    team = world.teams[member.team]
    picks = world.plan.teams[member.team].picks
    if picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED:
        member.rank = rounded(member.used) if picks == MemberPick.LEAST_USED else float(member_id)
        member.order = member_id
        put_in(world.members, team, member_id)
    else:
        append(world.members, team, member_id)
    team.idle += 1
    team.idle_in_overtime += member.in_overtime
    if member.first != NONE:
        attend(world, member_id)
    touch_where_awaited(world, member.team)


@part
def rounded(time: float) -> float:
    """Return a time in whole millionths of a minute, so that the same time added up in two ways is the same."""
    return math.floor(time * 1e6 + 0.5)


@part
def leave_idle(world: World, member_id: int) -> None:
    """Take a member from among the idle of its team."""
    team = world.teams[world.members[member_id].team]
    picks = world.plan.teams[world.members[member_id].team].picks
    if picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED:
        take_out(world.members, team, member_id)
    else:
        unchain(world.members, team, member_id)
    team.idle -= 1
    team.idle_in_overtime -= world.members[member_id].in_overtime
    if team.first_incidence != NONE or world.clock[0].stalled > 0:
        touch(world, world.members[member_id].team)


@part
def count_state(world: World, member_id: int, change: int) -> None:
    """Keep the numbers of a team's absent and working members, and of those of them in overtime."""
    member = world.members[member_id]
    here = world.teams[member.team]
    beyond = change * member.in_overtime
    if member.state == MemberState.ON_BREAK or member.state == MemberState.ON_UNPAID_BREAK:
        here.on_break += change
        here.on_break_in_overtime += beyond
    elif member.state == MemberState.INTERRUPTED:
        here.interrupted += change
        here.interrupted_in_overtime += beyond
    elif member.state == MemberState.WORKING:
        here.working += change
    elif member.state == MemberState.ABSENT:
        here.absent += change
    if not is_off(member.state):
        here.rostered += change
        here.rostered_in_overtime += beyond


@part
def set_state(world: World, member_id: int, state: int) -> None:
    """Let a member turn to something else, and book the time of what it did."""
    before = world.members[member_id].state
    if before == MemberState.IDLE and state == MemberState.WORKING:
        turn_to_work(world, member_id)
    elif before == MemberState.WORKING and state == MemberState.IDLE:
        turn_idle(world, member_id)
    else:
        turn_otherwise(world, member_id, state)


@part
def turn_to_work(world: World, member_id: int) -> None:
    """Let a member who was idle be at work."""
    book_member(world, member_id)
    leave_idle(world, member_id)
    member = world.members[member_id]
    member.state = MemberState.WORKING
    world.teams[member.team].working += 1
    if world.plan.teams[member.team].interruptions > 0:
        change_working_clocks(world, member_id, world.teams[member.team].working - 1)


@part
def turn_idle(world: World, member_id: int) -> None:
    """Let a member who was at work be idle."""
    book_member(world, member_id)
    member = world.members[member_id]
    member.state = MemberState.IDLE
    world.teams[member.team].working -= 1
    if world.plan.teams[member.team].interruptions > 0:
        change_working_clocks(world, member_id, world.teams[member.team].working + 1)
    join_idle(world, member_id)


@rare
def turn_otherwise(world: World, member_id: int, state: int) -> None:
    """Let a member turn to something else, not only from idling to work or back."""
    book_member(world, member_id)
    member = world.members[member_id]
    before = member.state
    if before == MemberState.IDLE:
        leave_idle(world, member_id)
    elif before == MemberState.WALKING and is_absent(state):
        stop_walking(world, member_id)
    team = world.teams[member.team]
    at_work_before = team.working
    if member.case != NONE and is_absent(state) != is_absent(before):
        pay(world, member_id)
    count_state(world, member_id, -1)
    member.state = state
    count_state(world, member_id, 1)
    has_clocks = world.plan.teams[member.team].interruptions > 0
    if has_clocks and (before == MemberState.WORKING) != (state == MemberState.WORKING):
        change_working_clocks(world, member_id, at_work_before)
    if (is_absent(state) or is_absent(before)) and team.first_incidence != NONE:
        touch(world, member.team)
    if state == MemberState.IDLE:
        join_idle(world, member_id)


@part
def set_overtime(world: World, member_id: int, overtime: int) -> None:
    """Let what a member does from now on count as overtime, or no longer."""
    member = world.members[member_id]
    if member.in_overtime == overtime:
        return
    book_member(world, member_id)
    if member.case != NONE:
        pay(world, member_id)
    count_state(world, member_id, -1)
    if member.state == MemberState.IDLE:
        world.teams[member.team].idle_in_overtime += overtime - member.in_overtime
    member.in_overtime = overtime
    count_state(world, member_id, 1)
    touch(world, member.team)
    change_overtime(world, 1 if overtime else -1)


@part
def pay(world: World, member_id: int) -> None:
    """Charge the time that a case has held a member, who was there, to the case, and start counting anew."""
    member = world.members[member_id]
    if world.plan.teams[member.team].rate > 0.0 and not is_absent(member.state):
        rate = world.plan.teams[member.team].rate / 60.0
        if member.in_overtime:
            rate *= world.plan.teams[member.team].overtime
        world.cases[member.case].cost += (world.clock[0].now - member.charged_at) * rate
    member.charged_at = world.clock[0].now


@part
def pay_all(world: World, case_id: int) -> None:
    """Charge the time of all members whom a case holds."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        pay(world, member_id)
        member_id = world.members[member_id].next_held


@rare
def bring_people(world: World, case_id: int, place: int) -> None:
    """Let the members whom a case holds be where it comes to."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE and place != NONE:
        world.members[member_id].place = place
        member_id = world.members[member_id].next_held


@part
def remember(world: World, case_id: int, slot: int, member_id: int) -> None:
    """Let a case, and all who travel with it, remember in a slot who serves it."""
    other = case_id
    while other != NONE:
        world.memory[other, slot] = member_id
        other = next_aboard(world, case_id, other)


@part
def walk_on(world: World, member_id: int) -> None:
    """Let a member who has a case walk what is left of its way to it, or be at work."""
    member = world.members[member_id]
    set_state(world, member_id, MemberState.WALKING if member.walk_left > 0.0 else MemberState.WORKING)
    if member.walk_left > 0.0:
        member.walk_stamp += 1
        member.walk_ends = world.clock[0].now + member.walk_left
        schedule(world, member.walk_ends, Rank.WORK, EventKind.MEMBER_ARRIVES, member_id, member.walk_stamp)


@rare
def stop_walking(world: World, member_id: int) -> None:
    """Let a member who is called away on its way to a case keep what is left of the way."""
    member = world.members[member_id]
    member.walk_left = member.walk_ends - world.clock[0].now
    member.walk_stamp += 1
    if member.walk_left <= 0.0:
        world.cases[member.case].walking -= 1


@part
def release(world: World, member_id: int) -> None:
    """Take a member out of its case's hands, before it turns to something else."""
    member = world.members[member_id]
    pay(world, member_id)
    case = world.cases[member.case]
    if case.first_held == member_id:
        case.first_held = member.next_held
    else:
        other = case.first_held
        while world.members[other].next_held != member_id:
            other = world.members[other].next_held
        world.members[other].next_held = member.next_held
    if is_absent(member.state):
        case.absent -= 1
    if member.walk_left > 0.0:
        case.walking -= 1
        member.walk_left = 0.0
        member.walk_stamp += 1
    member.last_type = case.type
    member.case = NONE
    member.keep_until = NONE
