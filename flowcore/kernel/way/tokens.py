"""Tokens: cases, their branches and their companions come into being and cease."""

import numpy as np

from flowcore.kernel.accounts.deadlines import stop_all_timers
from flowcore.kernel.accounts.ledger import write_departure
from flowcore.kernel.accounts.levels import change_inside
from flowcore.kernel.accounts.minutes import clear_minutes
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NEVER, NONE, CaseState, Note, Stand
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import let_go_of
from flowcore.kernel.waiting.causes import touch


@part
def new_token(world: World) -> int:
    """Return a blank token that is nowhere yet."""
    clock = world.clock[0]
    case_id = clock.free_case
    case = world.cases[case_id]
    clock.free_case = world.turns[case_id].next
    clock.tokens += 1
    case.arrived_at = clock.now
    case.joined_at = clock.now
    case.since = clock.now
    case.due = NEVER
    case.work_left = -1.0
    case.cost = 0.0
    case.visit_cost = 0.0
    case.visit_travel = 0.0
    case.last_wait = 0.0
    case.state = CaseState.MOVING
    case.ways_chosen = 0
    case.ways_taken = 0
    case.laps = 0
    case.absent = 0
    case.walking = 0
    case.causes = 0
    case.causes_before = 0
    case.in_work = 0
    case.expected = 0
    case.turned_away = 0
    case.stands = Stand.NOWHERE
    case.is_outside = 0
    case.visit_over = 0
    case.together = 1
    case.cause = NONE
    case.place = NONE
    case.link = NONE
    case.to = NONE
    case.goal = NONE
    case.line = NONE
    case.loop = NONE
    case.first_held = NONE
    case.person = NONE
    case.fork = NONE
    case.batch = NONE
    case.timers = NONE
    case.leader = NONE
    case.rides_in = NONE
    case.first_aboard = NONE
    case.last_aboard = NONE
    case.next_aboard = NONE
    case.stamp += 1
    for column in range(world.traits_and_marks.shape[1]):
        world.traits_and_marks[case_id, column] = 0.0
    run = world.plan.run[0]
    for column in range(run.remembered):
        world.memory[case_id, column] = NONE
    for column in range(run.remembered, world.memory.shape[1]):
        world.memory[case_id, column] = 0
    return case_id


@part
def free_token(world: World, case_id: int) -> None:
    """Give a token back."""
    clock = world.clock[0]
    case = world.cases[case_id]
    clear_minutes(world, case_id)
    case.stamp += 1
    case.state = CaseState.MOVING
    case.weight = 0
    world.turns[case_id].next = clock.free_case
    clock.free_case = case_id
    clock.tokens -= 1


@rare
def companion_of(world: World, case_id: int, luck: np.uint64, kind: int) -> int:
    """Return a branch or a companion of a case: of its type and traits, with luck of its own."""
    child = new_token(world)
    one, other = world.cases[child], world.cases[case_id]
    one.luck = luck
    one.number = other.number
    one.type = other.type
    one.stream = other.stream
    one.priority = other.priority
    one.due = other.due
    one.arrived_at = other.arrived_at
    one.place = other.place
    one.laps = other.laps
    one.loop = other.loop
    one.token_kind = kind
    one.sender = case_id
    one.weight = 0
    run = world.plan.run[0]
    for trait in range(run.traits):
        world.traits_and_marks[child, trait] = world.traits_and_marks[case_id, trait]
    for column in range(run.remembered + run.counters):
        world.memory[child, column] = world.memory[case_id, column]
    return child


@part
def depart(world: World, case_id: int) -> None:
    """Let a case leave the service at its exit."""
    clock = world.clock[0]
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if case.first_held != NONE:
        let_go_of(world, case_id, NONE, False)
    note(world, Note.DEPARTED, case_id, case.step, NONE)
    write_departure(world, case_id)
    change_inside(world, case_id, -1)
    tallies = (world.step_tally[step.document], world.type_tally[case.type], world.stream_tally[case.stream])
    for tally in tallies:
        if case.turned_away:
            tally.turned_away += 1
        elif step.abandoned:
            tally.abandoned += 1
        else:
            tally.completed += 1
    clock.completed += int(case.turned_away == 0 and step.abandoned == 0)
    world.step_tally[step.document].cost += step.penalty
    clock.inside -= 1
    if clock.inside == 0:
        touch_staying(world)
    if case.timers != NONE:
        stop_all_timers(world, case_id)
    if case.fork != NONE:
        leave_fork(world, case_id)
    free_token(world, case_id)


@rare
def touch_staying(world: World) -> None:
    """Look again at the teams that stay until nobody is inside."""
    for team in range(len(world.teams)):
        if world.teams[team].staying > 0:
            touch(world, team)


@rare
def leave_fork(world: World, case_id: int) -> None:
    """Let the branches of a case that has left go on without it."""
    fork_id = world.cases[case_id].fork
    while fork_id != NONE and world.forks[fork_id].owner == case_id:
        world.forks[fork_id].owner = NONE
        outer = world.forks[fork_id].outer
        if world.forks[fork_id].outstanding == 0:
            free_fork(world, fork_id)
        fork_id = outer


@rare
def new_fork(world: World, owner: int) -> int:
    """Return a new fork of a case."""
    clock = world.clock[0]
    fork_id = clock.free_fork
    fork = world.forks[fork_id]
    clock.free_fork = fork.next_free
    clock.forks += 1
    clock.groupings += 1
    fork.owner = owner
    fork.join = NONE
    fork.outstanding = 0
    fork.outer = NONE
    fork.serial = clock.groupings
    fork.cost = 0.0
    return fork_id


@rare
def free_fork(world: World, fork_id: int) -> None:
    """Give a fork back."""
    world.forks[fork_id].next_free = world.clock[0].free_fork
    world.clock[0].free_fork = fork_id
    world.clock[0].forks -= 1
