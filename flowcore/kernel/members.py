"""Team members: who is idle, who is taken by a case, and for how long each does what."""

import math

from flowcore.kernel.accounts import next_aboard
from flowcore.kernel.causes import available, idle_for, touch
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.draws import key_for, uniform
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import MEMBER_STATES, NONE, DrawFor, EventKind, MemberPick, MemberState, Rank, WhenDone
from flowcore.kernel.overtime import change_overtime
from flowcore.kernel.queues import append, put_in, take_out, unchain
from flowcore.kernel.state import World
from flowcore.kernel.wear import change_working_clocks


@part
def is_off(state: int) -> bool:
    """Say whether a member in this state is not there: it has no shift, or misses it."""
    return state == MemberState.OFF or state == MemberState.ABSENT


@part
def is_absent(state: int) -> bool:
    """Say whether a member in this state cannot work now."""
    return (
        is_off(state)
        or state == MemberState.ON_BREAK
        or state == MemberState.ON_UNPAID_BREAK
        or state == MemberState.INTERRUPTED
    )


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


@rare
def attend(world: World, member: int) -> None:
    """Let those who wait for this very member be looked at when its team looks whom it can serve."""
    who = world.members[member]
    if who.attending == 0:
        who.attending = 1
        who.next_attending = world.teams[who.team].first_attending
        world.teams[who.team].first_attending = member


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
    if team.first_ask != NONE or world.clock[0].stalled > 0:
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
    if (is_absent(state) or is_absent(before)) and team.first_ask != NONE:
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
def take_member(world: World, case: int, member: int, need: int) -> None:
    """Give a member to a case; one that has to walk comes to the case first."""
    who = world.members[member]
    asked = world.plan.needs[need]
    here = world.cases[case]
    team = world.plan.teams[who.team]
    step = world.plan.steps[here.step]
    place = here.place if step.is_travel > 0 else step.place
    walk = 0.0
    if team.walks and place != NONE and who.place != NONE and who.place != place:
        run = world.plan.run[0]
        walk = world.plan.numbers[run.walks + who.place * run.places + place]
    who.walk_left = walk
    here.walking += int(walk > 0.0)
    walk_on(world, member)
    if place != NONE:
        who.place = place
    who.case = case
    who.step = here.step
    who.charged_at = world.clock[0].now
    who.keep_until = asked.keep_until
    who.name = asked.name
    who.next_held = here.first_held
    here.first_held = member
    if asked.name != NONE:
        remember(world, case, asked.name, member)
    world.teams[who.team].uses += 1


@part
def remember(world: World, case: int, name: int, member: int) -> None:
    """Let a case, and all who travel with it, know by a name who serves it."""
    other = case
    while other != NONE:
        world.memory[other, name] = member
        other = next_aboard(world, case, other)


@part
def walk_on(world: World, member: int) -> None:
    """Let a member who has a case walk what is left of its way to it, or be at work."""
    who = world.members[member]
    set_state(world, member, MemberState.WALKING if who.walk_left > 0.0 else MemberState.WORKING)
    if who.walk_left > 0.0:
        who.walk_token += 1
        who.walk_ends = world.clock[0].now + who.walk_left
        schedule(world, who.walk_ends, Rank.WORK, EventKind.MEMBER_ARRIVES, member, who.walk_token)


@rare
def stop_walking(world: World, member: int) -> None:
    """Let a member who is called away on its way to a case keep what is left of the way."""
    who = world.members[member]
    who.walk_left = who.walk_ends - world.clock[0].now
    who.walk_token += 1
    if who.walk_left <= 0.0:
        world.cases[who.case].walking -= 1


@part
def serves_in(world: World, member: int, overtime: int) -> bool:
    """Say whether a member may do what is done always, or not in overtime, or only there.

    Those of teams without shifts are never in overtime, and may do it all.
    """
    who = world.members[member]
    if overtime == WhenDone.ALWAYS or world.plan.teams[who.team].rows == 0:
        return True
    return (who.in_overtime == 0) == (overtime == WhenDone.NOT_IN_OVERTIME)


@part
def first_idle(world: World, case: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next of those who may do what is asked."""
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if all_may and world.plan.teams[team].picks != MemberPick.RANDOM:
        return world.teams[team].first
    return first_who_may(world, case, team, overtime)


@rare
def first_who_may(world: World, case: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next where some may not, or one is picked at random."""
    picks = world.plan.teams[team].picks
    skip = 0
    if picks == MemberPick.RANDOM:
        key = key_for(world, case, world.plan.steps[world.cases[case].step].key, DrawFor.MEMBER)
        skip = int(uniform(key, team) * idle_for(world, team, overtime))
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if not all_may and (picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED):
        return first_of_team(world, team, overtime)
    member = world.teams[team].first
    while skip > 0 or not serves_in(world, member, overtime):
        skip -= int(serves_in(world, member, overtime))
        member = world.members[member].next
    return member


@rare
def first_of_team(world: World, team: int, overtime: int) -> int:
    """Return the first by rank of a team's idle members who may do what is asked, looking at all."""
    plan = world.plan.teams[team]
    chosen = NONE
    for member in range(plan.first_member, plan.first_member + plan.members):
        who = world.members[member]
        may = who.state == MemberState.IDLE and serves_in(world, member, overtime)
        if may and (chosen == NONE or who.rank < world.members[chosen].rank):
            chosen = member
    return chosen


@part
def choose_team(world: World, pool: int, position: int) -> int:
    """Return the preferred team for one more member of a pool's need that leaves enough for the others."""
    asks = world.plan.pools[pool]
    if asks.only_team != NONE:
        return int(asks.only_team)
    asked = world.plan.needs[world.plan.lists[asks.first_need + position]]
    for place in range(asked.first_team, asked.first_team + asked.teams):
        team = world.plan.lists[place]
        if available(world, team, asks.overtime) > 0 and (
            asks.mixed == 0 or leaves_enough(world, pool, position, team)
        ):
            return team
    return NONE


@rare
def leaves_enough(world: World, pool: int, position: int, team: int) -> bool:
    """Say whether what is still to be taken can be had once a team has given one for a need.

    `World.still` has how many each need of the pool still lacks.
    """
    asks = world.plan.pools[pool]
    for number in range(asks.first_condition, asks.first_condition + asks.conditions):
        condition = world.plan.conditions[number]
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            other = world.plan.lists[place]
            there += available(world, other, asks.overtime) - int(other == team)
        lacking = 0
        for other_need in range(asks.needs):
            if (condition.mask >> other_need) & 1:
                lacking += world.still[other_need] - int(other_need == position)
        if there < lacking:
            return False
    return True


@part
def take_pool(world: World, case: int, pool: int) -> None:
    """Give a case all that its pool asks for."""
    asks = world.plan.pools[pool]
    if asks.mixed:
        for position in range(asks.needs):
            world.still[position] = world.plan.needs[world.plan.lists[asks.first_need + position]].count
    for position in range(asks.needs):
        need = world.plan.lists[asks.first_need + position]
        for _ in range(world.plan.needs[need].count):
            team = choose_team(world, pool, position)
            take_member(world, case, first_idle(world, case, team, asks.overtime), need)
            if asks.mixed:
                world.still[position] -= 1


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
        who.walk_token += 1
    who.last_type = here.type
    who.case = NONE
    who.keep_until = NONE


@part
def is_kept(world: World, member: int, document_step: int) -> bool:
    """Say whether a case keeps a member when it leaves a step."""
    keep_until = world.members[member].keep_until
    return keep_until != NONE and keep_until != document_step
