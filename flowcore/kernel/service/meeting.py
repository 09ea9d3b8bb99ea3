"""Whether a case's needs can be met now."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NEVER, NONE, CaseState, Closed
from flowcore.kernel.records.world import World
from flowcore.kernel.service.order import hold_back_for_those_before, hold_nothing_back
from flowcore.kernel.service.work import begin, hand_back
from flowcore.kernel.waiting.causes import condition_holds, is_awaited, needs_can_be_met
from flowcore.kernel.waiting.own_people import busy_person, first_person, person_for
from flowcore.kernel.waiting.pools import asks_someone
from flowcore.kernel.waiting.presence import available, serves_in


@part
def can_be_served(world: World, case_id: int, pool: int) -> bool:
    """Say whether a case's needs are met by what nobody before it holds back, or would be by displacing others."""
    if world.plan.pools[pool].preempts:
        return can_be_served_or_displace(world, case_id, pool)
    return can_begin_with_what_is_left(world, case_id, world.cases[case_id].line)


@rare
def can_be_served_or_displace(world: World, case_id: int, pool: int) -> bool:
    """Say whether a case's needs are met by what nobody before it holds back, or would be by displacing others."""
    line = world.cases[case_id].line
    hold_back_for_those_before(world, case_id)
    met = all_is_there(world, case_id, line)
    if not met:
        is_free = keep_persons(world, case_id, line, 1)
        met = is_free and could_pre_empt(world, case_id, pool)
        keep_persons(world, case_id, line, -1)
    hold_nothing_back(world)
    return met


@part
def all_is_there(world: World, case_id: int, line: int) -> bool:
    """Say whether a case's needs are met by what nobody holds back, when its particular people come from that."""
    pool = world.plan.lines[line].pool
    if world.plan.steps[world.plan.lines[line].step].coverable == 0:
        return needs_can_be_met(world, pool)
    return all_is_there_beside_persons(world, case_id, line)


@rare
def all_is_there_beside_persons(world: World, case_id: int, line: int) -> bool:
    """Say whether a case's needs are met when its particular people are held back for it."""
    pool = world.plan.lines[line].pool
    met = keep_persons(world, case_id, line, 1) and needs_can_be_met(world, pool)
    keep_persons(world, case_id, line, -1)
    return met


@rare
def keep_persons(world: World, case_id: int, line: int, change: int) -> bool:
    """Count a case's particular people among those held back, or no longer; say whether nobody else holds them back."""
    step = world.plan.steps[world.plan.lines[line].step]
    are_there = True
    for need in range(step.first_need, step.first_need + step.needs if step.coverable else step.first_need):
        person = person_for(world, case_id, need)
        if person != NONE:
            team = world.teams[world.members[person].team]
            team.held_back += change
            are_there = are_there and team.idle >= team.held_back
    return are_there


@part
def begin_with_what_is_left(world: World, case_id: int) -> None:
    """Let a case begin with members whom nobody before it holds back."""
    if world.clock[0].first_reserving == NONE:
        begin(world, case_id)
        return
    hold_back_for_those_before(world, case_id)
    begin(world, case_id)
    hold_nothing_back(world)


@part
def can_begin_with_what_is_left(world: World, case_id: int, line: int) -> bool:
    """Say whether a case's needs are met by whom nobody before it holds back."""
    if world.clock[0].first_reserving == NONE:
        return all_is_there(world, case_id, line)
    return can_begin_beside_those_before(world, case_id, line)


@rare
def can_begin_beside_those_before(world: World, case_id: int, line: int) -> bool:
    """Say whether a case's needs are met by what those before it do not hold back."""
    hold_back_for_those_before(world, case_id)
    is_there = all_is_there(world, case_id, line)
    hold_nothing_back(world)
    return is_there


@part
def someone_may_be_next(world: World) -> bool:
    """Say whether a team that has changed at this instant may yet serve someone who waits for it, or leave."""
    team = world.clock[0].first_touched
    while team != NONE:
        if is_awaited(world, team):
            return True
        team = world.teams[team].next_touched
    return False


@part
def lacks_nobody(world: World, case_id: int, line: int) -> bool:
    """Say whether a case lacks nobody where it comes to a line: its own people, if any, meet all needs."""
    return not asks_someone(world, line) and first_person(world, case_id, world.plan.lines[line].step) == NONE


@part
def can_begin_at_once(world: World, case_id: int, line: int) -> bool:
    """Say whether a case that comes to a line need not wait: nobody is before it and all is there."""
    rules = world.plan.lines[line]
    if rules.pool == NONE:
        return True
    if rules.min_wait > 0.0 or world.lines[line].first != NONE:
        return False
    if busy_person(world, case_id, line) != NONE:
        return False
    if not lacks_nobody(world, case_id, line) and (world.rooms[rules.room].coming > 0 or someone_may_be_next(world)):
        return False
    world.turns[case_id].order = world.clock[0].orders + 1
    return can_begin_with_what_is_left(world, case_id, line)


@rare
def pre_empt(world: World, case_id: int, pool: int) -> None:
    """Take members from work on less urgent cases until this one's needs are met; see `could_pre_empt`."""
    pool_plan = world.plan.pools[pool]
    keep_persons(world, case_id, world.cases[case_id].line, 1)
    if not needs_can_be_met(world, pool):
        for number in range(pool_plan.first_condition, pool_plan.first_condition + pool_plan.conditions):
            while not condition_holds(world, number, pool_plan.overtime):
                hand_back(world, victim_of(world, case_id, number, pool_plan.overtime))
    keep_persons(world, case_id, world.cases[case_id].line, -1)


@rare
def could_pre_empt(world: World, case_id: int, pool: int) -> bool:
    """Say whether all needs would be met if less urgent work were put down."""
    if world.pools[pool].closed != Closed.OPEN:
        return False
    pool_plan = world.plan.pools[pool]
    for number in range(pool_plan.first_condition, pool_plan.first_condition + pool_plan.conditions):
        condition = world.plan.conditions[number]
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            team = world.plan.teams[world.plan.lists[place]]
            there += available(world, world.plan.lists[place], pool_plan.overtime)
            for member_id in range(team.first_member, team.first_member + team.members):
                there += can_be_taken_from(world, member_id, case_id, pool_plan.overtime)
        if there < condition.count:
            return False
    return True


@part
def can_be_taken_from(world: World, member_id: int, case_id: int, overtime: int) -> bool:
    """Say whether a member is at work on a less urgent case that can be put down, and would be free then."""
    member = world.members[member_id]
    other = member.case
    if other == NONE or world.cases[other].state != CaseState.AT_WORK:
        return False
    owes = member.owes_break or member.owes_interruption or member.shift_over
    here = member.step == world.cases[other].step and not owes and serves_in(world, member_id, overtime)
    return here and world.cases[other].priority < world.cases[case_id].priority


@rare
def victim_of(world: World, case_id: int, number: int, overtime: int) -> int:
    """Return the least urgent case, of those the one begun last, that holds a member of a condition's teams."""
    condition = world.plan.conditions[number]
    victim = NONE
    lowest, latest = NEVER, 0
    for place in range(condition.first_team, condition.first_team + condition.teams):
        team = world.plan.teams[world.plan.lists[place]]
        for member_id in range(team.first_member, team.first_member + team.members):
            if not can_be_taken_from(world, member_id, case_id, overtime):
                continue
            other = world.members[member_id].case
            priority, began = world.cases[other].priority, world.cases[other].begun
            if priority < lowest or (priority == lowest and began > latest):
                victim, lowest, latest = other, priority, began
    return victim
