"""Who is next: of all who wait for a team, the first whose needs can all be met."""

from flowcore.kernel.causes import available, needs_can_be_met, settle_cause
from flowcore.kernel.compiled import part
from flowcore.kernel.events import do_first
from flowcore.kernel.kinds import AT_WORK, IDLE, LET_IN_CASE, NEVER, NONE, OPEN, STUCK
from flowcore.kernel.lines import leave_line, leave_person, needs_person, wait_for_person
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
def next_for(world: World, team: int) -> int:
    """Return the case that a team's idle members should serve next, or NONE.

    Only the first cases of lines are looked at, and only of pools that wait for this team.
    """
    chosen = NONE
    ask = world.teams[team].first_ask
    while ask != NONE:
        pool = world.asks[ask].pool
        line = world.pools[pool].first
        if line != NONE:
            case = world.lines[line].first
            if is_before(world, case, chosen) and needs_can_be_met(world, pool):
                chosen = case
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
        ask = world.asks[ask].next
    if world.teams[team].first_attending != NONE:
        chosen = next_attended(world, team, chosen)
    return chosen


@part
def next_stalled(world: World, pool: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose person is free and whose pool's needs are met now.

    Those whose person has been taken meanwhile go to stand with that person again.
    """
    case = world.stalled[pool].first
    while case != NONE:
        after = world.cases[case].next
        person = busy_person(world, case, world.cases[case].step)
        if person != NONE:
            move_to_person(world, case, person)
        elif is_before(world, case, chosen) and needs_can_be_met(world, pool):
            chosen = case
        case = after
    return chosen


@part
def busy_person(world: World, case: int, at: int) -> int:
    """Return the first particular member whom a case asks for at a step and who is not idle, or NONE."""
    step = world.plan.steps[at]
    for number in range(step.first_need, step.first_need + step.needs):
        name = world.plan.needs[number].same_as
        if name == NONE:
            continue
        member = world.memory[case, name]
        if member != NONE and world.members[member].case != case and world.members[member].state != IDLE:
            return member
    return NONE


@part
def move_to_person(world: World, case: int, person: int) -> None:
    """Let a case that was stalled stand with a member again."""
    leave_person(world, case)
    world.cases[case].person = person
    wait_for_person(world, case)


@part
def next_attended(world: World, team: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one that waits for a member of the team who is free now."""
    here = world.teams[team]
    member = here.first_attending
    before = NONE
    while member != NONE:
        who = world.members[member]
        after = who.next_attending
        if who.state == IDLE:
            chosen = next_with(world, member, chosen)
        if who.state == IDLE and who.first != NONE:
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
        other = busy_person(world, case, world.cases[case].step)
        if other != NONE:
            move_to_person(world, case, other)
        elif pool != NONE and not needs_can_be_met(world, pool):
            move_to_person(world, case, NONE)
        elif is_before(world, case, chosen):
            chosen = case
        case = after
    return chosen


@part
def next_with_reserve(world: World, team: int) -> int:
    """Return the case to serve next where some steps hold members back for a case that needs several.

    Candidates are taken in order; one that may hold back and cannot be served keeps what is idle of
    its teams from those behind it.
    """
    chosen, last = NONE, NONE
    while True:
        chosen, pool = NONE, NONE
        ask = world.teams[team].first_ask
        while ask != NONE:
            candidate = world.asks[ask].pool
            line = world.pools[candidate].first
            if line != NONE and world.pools[candidate].closed == OPEN:
                case = world.lines[line].first
                later = last == NONE or is_before(world, last, case)
                if case != last and later and is_before(world, case, chosen):
                    chosen, pool = case, candidate
            ask = world.asks[ask].next
        if chosen == NONE or needs_can_be_met(world, pool):
            break
        last = chosen
        if world.plan.pools[pool].reserve:
            hold_back(world, pool)
    if world.teams[team].idle > 0:
        chosen = next_with_person(world, team, chosen)
    for each in range(len(world.teams)):
        world.teams[each].held_back = 0
    return chosen


@part
def next_with_person(world: World, team: int, chosen: int) -> int:
    """Return the case to serve, be it `chosen` or one whose particular person is free."""
    ask = world.teams[team].first_ask
    while ask != NONE:
        pool = world.asks[ask].pool
        if world.stalled[pool].first != NONE:
            chosen = next_stalled(world, pool, chosen)
        ask = world.asks[ask].next
    return next_attended(world, team, chosen)


@part
def hold_back(world: World, pool: int) -> None:
    """Keep the idle members whom a pool asks for from everyone else."""
    asks = world.plan.pools[pool]
    for entry in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[world.plan.lists[entry]]
        for place in range(need.first_team, need.first_team + need.teams):
            team = world.plan.lists[place]
            world.teams[team].held_back += min(need.count, available(world, team))


@part
def serve_touched(world: World) -> None:
    """Let the team that was touched last serve one case, or, if it cannot, note why its cases wait."""
    clock = world.clock[0]
    team = clock.first_touched
    here = world.teams[team]
    if here.staying > 0:
        look_at_stays(world, team)
    case = NONE
    if clock.reserving > 0:
        case = next_with_reserve(world, team)
    elif here.idle > 0:
        case = next_for(world, team)
    if case != NONE:
        serve_waiting(world, case)
        return
    if clock.first_touched != team:
        return
    here.touched = 0
    clock.first_touched = here.next_touched
    ask = here.first_ask
    while ask != NONE:
        settle_cause(world, world.asks[ask].pool)
        ask = world.asks[ask].next


@part
def serve_waiting(world: World, case: int) -> None:
    """Let a waiting case begin; one that was blocked before a line without places comes in first."""
    was_blocked = world.cases[case].state == STUCK
    leave_line(world, case)
    if was_blocked:
        do_first(world, LET_IN_CASE, case)
    else:
        begin(world, case)


@part
def pre_empt(world: World, case: int) -> bool:
    """Take members from work on less urgent cases until this one's needs are met; all or nothing."""
    pool = world.plan.lines[world.cases[case].line].pool
    if pool == NONE or world.pools[pool].closed != OPEN or not could_pre_empt(world, case, pool):
        return False
    while not needs_can_be_met(world, pool):
        victim = NONE
        asks = world.plan.pools[pool]
        for entry in range(asks.first_need, asks.first_need + asks.needs):
            if victim == NONE:
                victim = victim_of(world, case, world.plan.lists[entry])
        if victim == NONE:
            return False
        hand_back(world, victim)
    return True


@part
def could_pre_empt(world: World, case: int, pool: int) -> bool:
    """Say whether each need would be met if all less urgent work were put down."""
    asks = world.plan.pools[pool]
    for entry in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[world.plan.lists[entry]]
        there = 0
        for place in range(need.first_team, need.first_team + need.teams):
            team = world.plan.teams[world.plan.lists[place]]
            there += world.teams[world.plan.lists[place]].idle
            for member in range(team.first_member, team.first_member + team.members):
                there += can_be_taken_from(world, member, case)
        if there < need.count:
            return False
    return True


@part
def can_be_taken_from(world: World, member: int, case: int) -> bool:
    """Say whether a member is at work on a less urgent case that can be put down."""
    other = world.members[member].case
    if other == NONE or world.cases[other].state != AT_WORK:
        return False
    here = world.members[member].step == world.cases[other].step
    return here and world.cases[other].priority < world.cases[case].priority


@part
def victim_of(world: World, case: int, need: int) -> int:
    """Return the least urgent case, of those the one begun last, that holds a member of a lacking need."""
    asked = world.plan.needs[need]
    victim = NONE
    there = 0
    for place in range(asked.first_team, asked.first_team + asked.teams):
        there += world.teams[world.plan.lists[place]].idle
    if there >= asked.count:
        return NONE
    lowest, latest = NEVER, -NEVER
    for place in range(asked.first_team, asked.first_team + asked.teams):
        team = world.plan.teams[world.plan.lists[place]]
        for member in range(team.first_member, team.first_member + team.members):
            if not can_be_taken_from(world, member, case):
                continue
            other = world.members[member].case
            priority, began = world.cases[other].priority, world.members[member].taken_at
            if priority < lowest or (priority == lowest and began > latest):
                victim, lowest, latest = other, priority, began
    return victim


@part
def is_any_touched(world: World, pool: int) -> bool:
    """Say whether a team that a pool asks is to be looked at again at this instant."""
    asks = world.plan.pools[pool]
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        if world.teams[world.asks[ask].team].touched:
            return True
    return False


@part
def can_begin_at_once(world: World, case: int, line: int) -> bool:
    """Say whether a case that comes to a line need not wait: nobody is before it and all is there."""
    rules = world.plan.lines[line]
    if rules.min_wait > 0.0 or world.lines[line].first != NONE or world.clock[0].reserving > 0:
        return False
    if needs_person(world, case, rules.step) and busy_person(world, case, rules.step) != NONE:
        return False
    if rules.pool == NONE:
        return True
    return not is_any_touched(world, rules.pool) and needs_can_be_met(world, rules.pool)
