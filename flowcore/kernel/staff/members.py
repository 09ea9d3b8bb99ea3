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
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.presence import is_absent, is_off
from flowcore.kernel.waiting.stands import attend


@part
def book_member(world: World, member: int) -> None:
    """Put the time since a member's last change on its account."""
    now = world.clock[0].now
    who = world.members[member]
    elapsed = now - who.since
    if elapsed > 0.0:
        world.member_time[member, who.state + MEMBER_STATES * who.in_overtime] += elapsed
        if who.state == MemberState.WORKING or who.state == MemberState.WALKING:
            who.used += elapsed
    who.since = now


@part
def join_idle(world: World, member: int) -> None:
    """Let a member stand among the idle of its team, in the order in which they are picked."""
    who = world.members[member]
    team = world.teams[who.team]
    picks = world.plan.teams[who.team].picks
    if picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED:
        who.rank = rounded(who.used) if picks == MemberPick.LEAST_USED else float(member)
        who.order = member
        put_in(world.members, team, member)
    else:
        append(world.members, team, member)
    team.idle += 1
    team.idle_in_overtime += who.in_overtime
    if who.first != NONE:
        attend(world, member)
    touch(world, who.team)


@part
def rounded(time: float) -> float:
    """Return a time in whole millionths of a minute, so that the same time added up in two ways is the same."""
    return math.floor(time * 1e6 + 0.5)


@part
def leave_idle(world: World, member: int) -> None:
    """Take a member from among the idle of its team."""
    team = world.teams[world.members[member].team]
    picks = world.plan.teams[world.members[member].team].picks
    if picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED:
        take_out(world.members, team, member)
    else:
        unchain(world.members, team, member)
    team.idle -= 1
    team.idle_in_overtime -= world.members[member].in_overtime
    if team.first_incidence != NONE or world.clock[0].stalled > 0:
        touch(world, world.members[member].team)


@part
def count_state(world: World, member: int, change: int) -> None:
    """Keep the numbers of a team's absent and working members, and of those of them in overtime."""
    who = world.members[member]
    here = world.teams[who.team]
    beyond = change * who.in_overtime
    if who.state == MemberState.ON_BREAK or who.state == MemberState.ON_UNPAID_BREAK:
        here.on_break += change
        here.on_break_in_overtime += beyond
    elif who.state == MemberState.INTERRUPTED:
        here.interrupted += change
        here.interrupted_in_overtime += beyond
    elif who.state == MemberState.WORKING:
        here.working += change
    elif who.state == MemberState.ABSENT:
        here.absent += change
    if not is_off(who.state):
        here.rostered += change
        here.rostered_in_overtime += beyond


@part
def set_state(world: World, member: int, state: int) -> None:
    """Let a member turn to something else, and book the time of what it did."""
    book_member(world, member)
    who = world.members[member]
    if who.state == MemberState.IDLE:
        leave_idle(world, member)
    elif who.state == MemberState.WALKING and is_absent(state):
        stop_walking(world, member)
    team = world.teams[who.team]
    at_work_before = team.working
    before = who.state
    if who.case != NONE and is_absent(state) != is_absent(before):
        pay(world, member)
    if before == MemberState.IDLE and state == MemberState.WORKING:
        team.working += 1
        who.state = state
    elif before == MemberState.WORKING and state == MemberState.IDLE:
        team.working -= 1
        who.state = state
    else:
        count_state(world, member, -1)
        who.state = state
        count_state(world, member, 1)
    if world.plan.teams[who.team].interruptions > 0 and (before == MemberState.WORKING) != (
        state == MemberState.WORKING
    ):
        change_working_clocks(world, member, at_work_before)
    if (is_absent(state) or is_absent(before)) and team.first_incidence != NONE:
        touch(world, who.team)
    if state == MemberState.IDLE:
        join_idle(world, member)


@part
def set_overtime(world: World, member: int, overtime: int) -> None:
    """Let what a member does from now on count as overtime, or no longer."""
    who = world.members[member]
    if who.in_overtime == overtime:
        return
    book_member(world, member)
    if who.case != NONE:
        pay(world, member)
    count_state(world, member, -1)
    if who.state == MemberState.IDLE:
        world.teams[who.team].idle_in_overtime += overtime - who.in_overtime
    who.in_overtime = overtime
    count_state(world, member, 1)
    touch(world, who.team)
    change_overtime(world, 1 if overtime else -1)


@part
def pay(world: World, member: int) -> None:
    """Charge the time that a case has held a member, who was there, to the case, and start counting anew."""
    who = world.members[member]
    if world.plan.teams[who.team].rate > 0.0 and not is_absent(who.state):
        rate = world.plan.teams[who.team].rate / 60.0
        if who.in_overtime:
            rate *= world.plan.teams[who.team].overtime
        world.cases[who.case].cost += (world.clock[0].now - who.charged_at) * rate
    who.charged_at = world.clock[0].now


@part
def pay_all(world: World, case: int) -> None:
    """Charge the time of all members whom a case holds."""
    member = world.cases[case].first_held
    while member != NONE:
        pay(world, member)
        member = world.members[member].next_held


@rare
def bring_people(world: World, case: int, place: int) -> None:
    """Let the members whom a case holds be where it comes to."""
    member = world.cases[case].first_held
    while member != NONE and place != NONE:
        world.members[member].place = place
        member = world.members[member].next_held


@part
def remember(world: World, case: int, slot: int, member: int) -> None:
    """Let a case, and all who travel with it, know by a name who serves it."""
    other = case
    while other != NONE:
        world.memory[other, slot] = member
        other = next_aboard(world, case, other)


@part
def walk_on(world: World, member: int) -> None:
    """Let a member who has a case walk what is left of its way to it, or be at work."""
    who = world.members[member]
    set_state(world, member, MemberState.WALKING if who.walk_left > 0.0 else MemberState.WORKING)
    if who.walk_left > 0.0:
        who.walk_stamp += 1
        who.walk_ends = world.clock[0].now + who.walk_left
        schedule(world, who.walk_ends, Rank.WORK, EventKind.MEMBER_ARRIVES, member, who.walk_stamp)


@rare
def stop_walking(world: World, member: int) -> None:
    """Let a member who is called away on its way to a case keep what is left of the way."""
    who = world.members[member]
    who.walk_left = who.walk_ends - world.clock[0].now
    who.walk_stamp += 1
    if who.walk_left <= 0.0:
        world.cases[who.case].walking -= 1


@part
def release(world: World, member: int) -> None:
    """Take a member out of its case's hands, before it turns to something else."""
    who = world.members[member]
    pay(world, member)
    here = world.cases[who.case]
    if here.first_held == member:
        here.first_held = who.next_held
    else:
        other = here.first_held
        while world.members[other].next_held != member:
            other = world.members[other].next_held
        world.members[other].next_held = who.next_held
    if is_absent(who.state):
        here.absent -= 1
    if who.walk_left > 0.0:
        here.walking -= 1
        who.walk_left = 0.0
        who.walk_stamp += 1
    who.last_type = here.type
    who.case = NONE
    who.keep_until = NONE
