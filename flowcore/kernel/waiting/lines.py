"""Waiting lines by their disciplines, and the rooms in which those in them wait."""

from flowcore.kernel.accounts.levels import change_level, room_level
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.draws import key_for, uniform
from flowcore.kernel.clockwork.queues import (
    insert_after,
    prepend,
    put_in,
    put_in_grade,
    take_from_grade,
    take_out,
    unchain,
)
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import Discipline, Kept
from flowcore.kernel.records.kinds import NEVER, NONE, Agenda, CaseState, DrawFor, Stand
from flowcore.kernel.records.state import LineState
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.pools import join_pool, leave_pool, reposition_line


@part
def rank_of(world: World, case_id: int) -> float:
    """Return a case's rank in its line by the line's discipline; the lower is served first."""
    case = world.cases[case_id]
    discipline = world.plan.lines[case.line].discipline
    if discipline == Discipline.PRIORITY:
        return -case.priority
    if discipline == Discipline.DUE:
        return case.due
    if discipline == Discipline.SHORTEST_WORK:
        return world.plan.distributions[work_distribution(world, case_id)].expected
    if discipline == Discipline.RANDOM:
        return uniform(key_for(world, case_id, world.plan.steps[case.step].key, DrawFor.RANK), 0)
    return 0.0


@part
def work_distribution(world: World, case_id: int) -> int:
    """Return which distribution a case's work at its step has: by trait, else by type."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    for number in range(step.trait_times):
        entry = step.first_trait_time + 3 * number
        trait = world.plan.lists[entry]
        if int(world.traits_and_marks[case_id, trait]) == world.plan.lists[entry + 1]:
            return world.plan.lists[entry + 2]
    return world.plan.lists[step.times + case.type]


@part
def stand_in_line(world: World, case_id: int) -> None:
    """Let a case stand among those who wait at its step, where its rank puts it."""
    case = world.cases[case_id]
    line = world.lines[case.line]
    before = line.first
    discipline = world.plan.lines[case.line].discipline
    if world.plan.lines[case.line].kept != Kept.CHAIN:
        stand_by_rank(world, case_id)
    elif world.turns[case_id].order < 0:
        prepend(world.turns, line, case_id)
    elif discipline == Discipline.LAST_COME and case.state != CaseState.BLOCKED:
        insert_after(world.turns, line, last_come_after(world, line, world.turns[case_id].order), case_id)
    else:
        insert_after(world.turns, line, last_come_before(world, line, world.turns[case_id].order), case_id)
    case.stands = Stand.IN_LINE
    reposition_line(world, case.line, before)
    join_pool(world, world.plan.lines[case.line].pool)


@part
def last_come_before(world: World, line: LineState, order: int) -> int:
    """Return the last in a line whose turn came before another, or NONE; who came later may stand there before."""
    case_id = line.last
    while case_id != NONE and world.turns[case_id].order > order:
        case_id = world.turns[case_id].prev
    return case_id


@rare
def last_come_after(world: World, line: LineState, order: int) -> int:
    """Return the last who goes before a case where the last is first: put there with its work begun, or come later."""
    last = NONE
    case_id = line.first
    while (
        case_id != NONE
        and world.cases[case_id].state != CaseState.BLOCKED
        and not 0 <= world.turns[case_id].order < order
    ):
        last, case_id = case_id, world.turns[case_id].next
    return last


@rare
def stand_by_rank(world: World, case_id: int) -> None:
    """Let a case stand in a line that is not kept in the order of coming."""
    line = world.cases[case_id].line
    if world.plan.lines[line].kept == Kept.GRADED_CHAIN:
        grade = world.plan.types[world.cases[case_id].type].grade
        put_in_grade(world.turns, world.lines[line], world.lasts, line, grade, case_id)
    else:
        put_in(world.turns, world.lines[line], case_id)


@rare
def leave_by_rank(world: World, case_id: int) -> None:
    """Take a case out of a line that is not kept in the order of coming."""
    line = world.cases[case_id].line
    if world.plan.lines[line].kept == Kept.GRADED_CHAIN:
        grade = world.plan.types[world.cases[case_id].type].grade
        take_from_grade(world.turns, world.lines[line], world.lasts, line, grade, case_id)
    else:
        take_out(world.turns, world.lines[line], case_id)


@part
def step_out_of_line(world: World, case_id: int) -> None:
    """Take a case out of those who wait at its step, from wherever it stands."""
    case = world.cases[case_id]
    line = world.lines[case.line]
    before = line.first
    if world.plan.lines[case.line].kept == Kept.CHAIN:
        unchain(world.turns, line, case_id)
    else:
        leave_by_rank(world, case_id)
    reposition_line(world, case.line, before)
    leave_pool(world, world.plan.lines[case.line].pool)


@part
def enter_room(world: World, case_id: int, change: int) -> None:
    """A case comes into its step's waiting room or leaves it; a place that is free lets others in."""
    index = world.plan.lines[world.cases[case_id].line].room
    room = world.rooms[index]
    room.length += change
    world.steps[world.cases[case_id].step].waiting += change
    if index < world.plan.run[0].rooms:
        change_level(world, room_level(world, index), change)
    if change < 0 and room.first != NONE:
        push_back(world, Agenda.LET_IN, index)


@part
def give_order(world: World, case_id: int, at_front: bool) -> None:
    """Give a case its turn: behind all who came, or before them; by priority, before those of its own."""
    clock = world.clock[0]
    if at_front:
        clock.front_order -= 1
        world.turns[case_id].order = clock.front_order
        by_priority = world.plan.lines[world.cases[case_id].line].discipline == Discipline.PRIORITY
        world.turns[case_id].rank = rank_of(world, case_id) if by_priority else -NEVER
    else:
        come_in_turn(world, case_id)
        world.turns[case_id].rank = rank_of(world, case_id)


@part
def come_in_turn(world: World, case_id: int) -> None:
    """Give a case its turn behind all who came before."""
    world.clock[0].orders += 1
    world.turns[case_id].order = world.clock[0].orders
