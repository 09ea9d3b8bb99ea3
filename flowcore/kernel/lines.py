"""Waiting lines, the rooms they stand in, and the pools of lines that ask for the same."""

from flowcore.kernel.accounts import change_level, room_level, turn_to
from flowcore.kernel.causes import touch, touch_teams_of
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.draws import key_for, uniform
from flowcore.kernel.events import do_next, schedule
from flowcore.kernel.kinds import (
    NEVER,
    NONE,
    Account,
    Agenda,
    CaseState,
    Closed,
    Discipline,
    DrawFor,
    EventKind,
    MemberState,
    Note,
    Rank,
    Stand,
    StepKind,
)
from flowcore.kernel.members import attend, is_kept, is_off, serves_in
from flowcore.kernel.notes import note
from flowcore.kernel.queues import append, insert_after, prepend, put_in, take_out, unchain
from flowcore.kernel.samples import sample
from flowcore.kernel.state import LineState, World


@part
def rank_of(world: World, case: int) -> float:
    """Return a case's rank in its line by the line's discipline; the lower is served first."""
    who = world.cases[case]
    discipline = world.plan.lines[who.line].discipline
    if discipline == Discipline.PRIORITY:
        return -who.priority
    if discipline == Discipline.DUE:
        return who.due
    if discipline == Discipline.SHORTEST_WORK:
        return world.plan.distributions[work_distribution(world, case)].expected
    if discipline == Discipline.RANDOM:
        return uniform(key_for(world, case, world.plan.steps[who.step].key, DrawFor.RANK), 0)
    return 0.0


@part
def work_distribution(world: World, case: int) -> int:
    """Return which distribution a case's work at its step has: by trait, else by type."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    for number in range(step.trait_times):
        entry = step.first_trait_time + 3 * number
        trait = world.plan.lists[entry]
        if int(world.extras[case, trait]) == world.plan.lists[entry + 1]:
            return world.plan.lists[entry + 2]
    return world.plan.lists[step.times + who.type]


@part
def keeps_order(discipline: int) -> bool:
    """Say whether a line is a chain, in the order of coming or against it."""
    return discipline == Discipline.FIRST_COME or discipline == Discipline.LAST_COME


@part
def settle_line(world: World, line: int, before: int) -> None:
    """Move a line, whose first case was `before`, to where it now belongs among those of its pool."""
    here = world.lines[line]
    if here.first == before:
        return
    pool = world.pools[world.plan.lines[line].pool]
    if world.plan.lines[line].is_only:
        pool.first = line if here.first != NONE else NONE
        return
    if before != NONE:
        take_out(world.lines, pool, line)
    if here.first != NONE:
        here.rank = -world.cases[here.first].priority
        here.order = world.cases[here.first].order
        put_in(world.lines, pool, line)


@part
def stand_in_line(world: World, case: int) -> None:
    """Let a case stand among those who wait at its step, where its rank puts it."""
    who = world.cases[case]
    line = world.lines[who.line]
    before = line.first
    discipline = world.plan.lines[who.line].discipline
    if not keeps_order(discipline):
        put_in(world.cases, line, case)
    elif who.order < 0:
        prepend(world.cases, line, case)
    elif discipline == Discipline.LAST_COME and who.state != CaseState.BLOCKED:
        insert_after(world.cases, line, last_come_after(world, line, who.order), case)
    else:
        insert_after(world.cases, line, last_come_before(world, line, who.order), case)
    who.stands = Stand.IN_LINE
    settle_line(world, who.line, before)
    ask_pool(world, world.plan.lines[who.line].pool)


@part
def last_come_before(world: World, line: LineState, order: int) -> int:
    """Return the last in a line whose turn came before another, or NONE; who came later may stand there before."""
    case = line.last
    while case != NONE and world.cases[case].order > order:
        case = world.cases[case].prev
    return case


@rare
def last_come_after(world: World, line: LineState, order: int) -> int:
    """Return the last who goes before a case where the last is first: put there with its work begun, or come later."""
    last = NONE
    case = line.first
    while case != NONE and world.cases[case].state != CaseState.BLOCKED and not 0 <= world.cases[case].order < order:
        last, case = case, world.cases[case].next
    return last


@part
def step_out_of_line(world: World, case: int) -> None:
    """Take a case out of those who wait at its step, from wherever it stands."""
    who = world.cases[case]
    line = world.lines[who.line]
    before = line.first
    if keeps_order(world.plan.lines[who.line].discipline):
        unchain(world.cases, line, case)
    else:
        take_out(world.cases, line, case)
    settle_line(world, who.line, before)
    ask_pool_no_more(world, world.plan.lines[who.line].pool)


@part
def ask_pool(world: World, pool: int) -> None:
    """One more case asks for what a pool asks for; with the first, the pool asks its teams."""
    here = world.pools[pool]
    here.waiting += 1
    if here.waiting > 1:
        return
    asks = world.plan.pools[pool]
    if asks.reserve or asks.preempts:
        here.prev_reserving = NONE
        here.next_reserving = world.clock[0].first_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = pool
        world.clock[0].first_reserving = pool
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        node = world.asks[ask]
        team = world.teams[node.team]
        node.prev = NONE
        node.next = team.first_ask
        if team.first_ask != NONE:
            world.asks[team.first_ask].prev = ask
        team.first_ask = ask


@part
def ask_pool_no_more(world: World, pool: int) -> None:
    """One case fewer asks; with the last, the pool asks its teams no more."""
    here = world.pools[pool]
    here.waiting -= 1
    if here.waiting > 0:
        return
    asks = world.plan.pools[pool]
    if asks.reserve or asks.preempts:
        if here.prev_reserving == NONE:
            world.clock[0].first_reserving = here.next_reserving
        else:
            world.pools[here.prev_reserving].next_reserving = here.next_reserving
        if here.next_reserving != NONE:
            world.pools[here.next_reserving].prev_reserving = here.prev_reserving
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        node = world.asks[ask]
        if node.prev == NONE:
            world.teams[node.team].first_ask = node.next
        else:
            world.asks[node.prev].next = node.next
        if node.next != NONE:
            world.asks[node.next].prev = node.prev


@rare
def wait_for_person(world: World, case: int, person: int) -> None:
    """Let a case stand with the one member it waits for, or, if it lacks only others (NONE), among the stalled."""
    who = world.cases[case]
    who.person = person
    if who.person != NONE:
        append(world.cases, world.members[who.person], case)
        who.stands = Stand.WITH_PERSON
        wait_for(world, case, CaseState.WAITING)
        if world.members[person].state == MemberState.IDLE:
            attend(world, person)
            touch(world, world.members[person].team)
        return
    pool = world.plan.lines[who.line].pool
    append(world.cases, world.stalled[pool], case)
    who.stands = Stand.AMONG_STALLED
    world.clock[0].stalled += 1
    ask_pool(world, pool)
    wait_for(world, case, CaseState.IN_LINE)
    touch_teams_of(world, pool)


@part
def wait_for(world: World, case: int, state: int) -> None:
    """Let a case be charged as one that waits in a line, or for its person; who is blocked before it stays so."""
    if world.cases[case].state != CaseState.BLOCKED:
        turn_to(world, case, state, Account.PERSON if state == CaseState.WAITING else NONE)


@rare
def leave_person(world: World, case: int) -> None:
    """Take a case from the member it waits for, or from among the stalled."""
    who = world.cases[case]
    if who.stands == Stand.WITH_PERSON:
        unchain(world.cases, world.members[who.person], case)
    else:
        pool = world.plan.lines[who.line].pool
        unchain(world.cases, world.stalled[pool], case)
        world.clock[0].stalled -= 1
        ask_pool_no_more(world, pool)
    who.stands = Stand.NOWHERE


@part
def enter_room(world: World, case: int, change: int) -> None:
    """A case comes into its step's waiting room or leaves it; a place that is free lets others in."""
    index = world.plan.lines[world.cases[case].line].room
    room = world.rooms[index]
    room.length += change
    world.steps[world.cases[case].step].waiting += change
    if index < world.plan.run[0].rooms:
        change_level(world, room_level(world, index), change)
    if change < 0 and room.first != NONE:
        do_next(world, Agenda.LET_IN, index)


@part
def waiting_at(world: World, step: int) -> int:
    """Return how many wait at a step of the document, at all of its places."""
    here = world.plan.steps[step]
    total = 0
    for number in range(here.first_place, here.first_place + here.places):
        line = world.plan.steps[world.plan.lists[number]].line
        if line == NONE:
            continue
        room = world.plan.lines[line].room
        if here.kind != StepKind.SERVE:
            total += world.lines[line].count
        elif room < world.plan.run[0].rooms:
            return world.rooms[room].length
        else:
            total += world.rooms[room].length
    return total


@part
def waiting_at_place(world: World, step: int) -> int:
    """Return how many wait at one place of a step."""
    here = world.plan.steps[step]
    if here.kind == StepKind.SERVE:
        return world.steps[step].waiting
    return 0 if here.line == NONE else world.lines[here.line].count


@part
def next_turn(world: World, case: int, at_front: bool) -> None:
    """Give a case its turn: behind all who came, or before them; by priority, before those of its own."""
    clock = world.clock[0]
    if at_front:
        clock.front_turns -= 1
        world.cases[case].order = clock.front_turns
        by_priority = world.plan.lines[world.cases[case].line].discipline == Discipline.PRIORITY
        world.cases[case].rank = rank_of(world, case) if by_priority else -NEVER
    else:
        clock.turns += 1
        world.cases[case].order = clock.turns
        world.cases[case].rank = rank_of(world, case)


@part
def join_line(world: World, case: int, at_front: bool) -> None:
    """Let a case wait at its step: in the line, with its person, or until its minimum time is over."""
    who = world.cases[case]
    rules = world.plan.lines[who.line]
    who.token += 1
    next_turn(world, case, at_front)
    enter_room(world, case, 1)
    note(world, Note.JOINED_LINE, case, who.step, NONE)
    now = world.clock[0].now
    if rules.patience != NONE and not at_front:
        key = key_for(world, case, world.plan.steps[who.step].key, DrawFor.PATIENCE)
        patience = sample(world.plan.numbers, world.plan.distributions[rules.patience], key)
        schedule(world, now + patience, Rank.SIGNAL, EventKind.PATIENCE_OVER, case, who.token)
    if rules.min_wait > 0.0 and not at_front:
        who.stands = Stand.IN_MINIMUM_WAIT
        turn_to(world, case, CaseState.WAITING, Account.MINIMUM)
        schedule(world, now + rules.min_wait, Rank.SIGNAL, EventKind.MINIMUM_OVER, case, who.token)
    else:
        take_a_stand(world, case)


@part
def take_a_stand(world: World, case: int) -> None:
    """Let a case stand where it can be called from."""
    who = world.cases[case]
    rules = world.plan.lines[who.line]
    first = first_person(world, case, rules.step)
    if first == NONE or not is_open(world, who.line):
        stand_in_line(world, case)
        wait_for(world, case, CaseState.IN_LINE)
        touch_teams_of(world, rules.pool)
        return
    person = busy_person(world, case, who.line)
    if person == NONE and not asks_someone(world, who.line):
        person = first
    wait_for_person(world, case, person)


@rare
def stand_anew(world: World, pool: int) -> None:
    """Let those who ask for particular people stand where they belong now that a pool has opened or shut."""
    for case in range(len(world.cases) if world.plan.run[0].names > 0 else 0):
        who = world.cases[case]
        stands = who.stands == Stand.IN_LINE or who.stands == Stand.WITH_PERSON or who.stands == Stand.AMONG_STALLED
        if not stands or world.plan.lines[who.line].pool != pool:
            continue
        if first_person(world, case, world.plan.lines[who.line].step) != NONE:
            leave_stand(world, case)
            take_a_stand(world, case)


@part
def leave_stand(world: World, case: int) -> None:
    """Take a case from where it can be called from."""
    if world.cases[case].stands == Stand.IN_LINE:
        step_out_of_line(world, case)
    else:
        leave_person(world, case)


@part
def line_for(world: World, case: int, at: int) -> int:
    """Return the line of a case at a step, by how much of each need its own people meet."""
    step = world.plan.steps[at]
    return step.line if step.coverable == 0 else line_beside_own_people(world, case, at)


@rare
def line_beside_own_people(world: World, case: int, at: int) -> int:
    """Return the line of a case at a step whose needs its own people may meet."""
    step = world.plan.steps[at]
    line = step.line
    let_nobody_cover(world, case)
    stride = 1
    for number in range(step.needs):
        if (step.coverable >> number) & 1:
            need = step.first_need + number
            line += stride * (cover_by_person(world, case, need) + cover_by_kept(world, case, at, need))
            stride *= world.plan.needs[need].most_covered + 1
    return line


@rare
def let_nobody_cover(world: World, case: int) -> None:
    """Let none of a case's people meet any need yet; those that are asked for by name are left for that."""
    member = world.cases[case].first_held
    while member != NONE:
        world.members[member].covers = NONE
        member = world.members[member].next_held


@part
def cover_by_person(world: World, case: int, need: int) -> int:
    """Let the particular person of a need meet one of it, and say how many that are."""
    name = world.plan.needs[need].same_as
    if name == NONE or world.memory[case, name] == NONE:
        return 0
    member = world.memory[case, name]
    if is_still_held(world, case, member):
        world.members[member].covers = need
    return 1


@part
def cover_by_kept(world: World, case: int, at: int, need: int) -> int:
    """Let those of a case's people who are of a need's teams, and meet none yet, meet it; say how many they are."""
    asked = world.plan.needs[need]
    wanted = min(asked.count, asked.most_covered)
    if asked.same_as != NONE and world.memory[case, asked.same_as] != NONE:
        wanted -= 1
    count = 0
    member = world.cases[case].first_held
    while member != NONE and count < wanted:
        free = world.members[member].covers == NONE and is_still_held(world, case, member)
        if free and is_of_teams(world, member, need) and not is_named(world, case, at, member):
            world.members[member].covers = need
            count += 1
        member = world.members[member].next_held
    return count


@part
def is_still_held(world: World, case: int, member: int) -> bool:
    """Say whether a case has a member, and keeps it if it is about to leave its step: its way on is chosen then."""
    who = world.members[member]
    if who.case != case:
        return False
    here = world.cases[case]
    return here.link == NONE or is_kept(world, member, world.plan.steps[here.step].document)


@part
def is_of_teams(world: World, member: int, need: int) -> bool:
    """Say whether a member is of one of a need's teams."""
    asked = world.plan.needs[need]
    for place in range(asked.first_team, asked.first_team + asked.teams):
        if world.plan.lists[place] == world.members[member].team:
            return True
    return False


@part
def is_named(world: World, case: int, at: int, member: int) -> bool:
    """Say whether a need of a step asks for this very member."""
    step = world.plan.steps[at]
    for need in range(step.first_need, step.first_need + step.needs):
        name = world.plan.needs[need].same_as
        if name != NONE and world.memory[case, name] == member:
            return True
    return False


@part
def person_for(world: World, case: int, need: int) -> int:
    """Return the particular member whom a case asks for by a need and does not hold yet, or NONE."""
    name = world.plan.needs[need].same_as
    if name == NONE:
        return NONE
    member = world.memory[case, name]
    return NONE if member == NONE or world.members[member].case == case else member


@part
def first_person(world: World, case: int, at: int) -> int:
    """Return the first particular person for whom a case asks at a step, or NONE."""
    return first_person_asked_for(world, case, at) if world.plan.steps[at].coverable else NONE


@rare
def first_person_asked_for(world: World, case: int, at: int) -> int:
    """Return the first particular person for whom a case asks at a step whose needs it may meet by its own, or NONE."""
    step = world.plan.steps[at]
    for need in range(step.first_need, step.first_need + step.needs):
        person = person_for(world, case, need)
        if person != NONE:
            return person
    return NONE


@part
def asks_someone(world: World, line: int) -> bool:
    """Say whether those who wait in a line ask for anyone but particular people."""
    pool = world.plan.lines[line].pool
    return pool != NONE and world.plan.pools[pool].asks > 0


@part
def is_open(world: World, line: int) -> bool:
    """Say whether a line's step is served now as far as its hours go."""
    pool = world.plan.lines[line].pool
    return pool == NONE or world.pools[pool].closed == Closed.OPEN


@part
def busy_person(world: World, case: int, line: int) -> int:
    """Return the first particular member whom a case asks for and who is not free to serve there, or NONE."""
    coverable = world.plan.steps[world.plan.lines[line].step].coverable
    return first_busy_person(world, case, line) if coverable else NONE


@rare
def first_busy_person(world: World, case: int, line: int) -> int:
    """Return the first particular member whom a case asks for at such a step and who is not free to serve there."""
    step = world.plan.steps[world.plan.lines[line].step]
    pool = world.plan.lines[line].pool
    for need in range(step.first_need, step.first_need + step.needs):
        member = person_for(world, case, need)
        if member == NONE:
            continue
        may_serve = pool == NONE or serves_in(world, member, world.plan.pools[pool].overtime)
        if world.members[member].state != MemberState.IDLE or not may_serve:
            return member
    return NONE


@rare
def asks_for_one_of(world: World, case: int, line: int, row: int) -> bool:
    """Say whether a case that waits in a line asks for a particular member of a row."""
    step = world.plan.steps[world.plan.lines[line].step]
    for need in range(step.first_need, step.first_need + step.needs):
        member = person_for(world, case, need)
        if member != NONE and world.members[member].row == row:
            return True
    return False


@rare
def asks_for_one_who_is_off(world: World, case: int, line: int) -> bool:
    """Say whether a case that waits in a line asks for a particular member who is not there."""
    step = world.plan.steps[world.plan.lines[line].step]
    for need in range(step.first_need, step.first_need + step.needs):
        member = person_for(world, case, need)
        if member != NONE and is_off(world.members[member].state):
            return True
    return False


@rare
def mark(world: World, case: int, slot: int, is_awaited: bool) -> None:
    """Note whether a row stays for a case: one bit of the case's memory for each row that may."""
    run = world.plan.run[0]
    column = run.names + run.counters + (slot >> 5)
    bit = 1 << (slot & 31)
    marks = world.memory[case, column]
    world.memory[case, column] = (marks | bit) if is_awaited else (marks & ~bit)


@rare
def be_awaited_no_more(world: World, case: int) -> None:
    """Let the rows that stay for a case know that it is done, or gone."""
    run = world.plan.run[0]
    for column in range(run.awaiting):
        place = run.names + run.counters + column
        if world.memory[case, place] == 0:
            continue
        for row in range(len(world.rows)):
            slot = world.plan.rows[row].slot
            if slot != NONE and slot >> 5 == column and (world.memory[case, place] >> (slot & 31)) & 1:
                world.rows[row].awaited -= 1
                touch(world, world.plan.rows[row].team)
        world.memory[case, place] = 0


@part
def leave_line(world: World, case: int) -> None:
    """Take a waiting case from wherever it stands."""
    who = world.cases[case]
    if who.stands == Stand.IN_LINE or who.stands == Stand.WITH_PERSON or who.stands == Stand.AMONG_STALLED:
        if world.clock[0].first_reserving != NONE:
            touch_teams_of(world, world.plan.lines[who.line].pool)
        leave_stand(world, case)
    elif who.stands == Stand.AT_SIGNAL:
        unchain(world.cases, world.lines[who.line], case)
        world.lines[who.line].count -= 1
    stood_in_room = who.stands != Stand.AT_SIGNAL and who.state != CaseState.BLOCKED
    if stood_in_room:
        enter_room(world, case, -1)
    who.stands = Stand.NOWHERE
    who.token += 1
    turn_to(world, case, CaseState.MOVING, NONE)


@rare
def stand_blocked(world: World, case: int, line: int) -> None:
    """Let a case wait where it is until there is room in the line that it goes to."""
    who = world.cases[case]
    turn_to(world, case, CaseState.BLOCKED, Account.NEXT_LINE)
    rules = world.plan.lines[line]
    if rules.most == 0 and rules.pool != NONE:
        who.line = line
        who.token += 1
        world.clock[0].turns += 1
        who.order = world.clock[0].turns
        who.rank = 0.0
        take_a_stand(world, case)
    else:
        append(world.cases, world.rooms[rules.room], case)
