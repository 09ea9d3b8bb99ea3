"""Tokens: cases, their branches and their companions come into being and cease."""

import numpy as np

from flowcore.kernel.accounts.deadlines import stop_all_timers
from flowcore.kernel.accounts.ledger import write_departure
from flowcore.kernel.accounts.levels import change_inside
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NEVER, NONE, CaseState, Note, Stand
from flowcore.kernel.records.ledger import MINUTE_COLUMNS
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import let_go_of
from flowcore.kernel.waiting.causes import touch


@part
def new_token(world: World) -> int:
    """Return a blank token that is nowhere yet."""
    clock = world.clock[0]
    case = clock.free_case
    who = world.cases[case]
    clock.free_case = who.next
    clock.tokens += 1
    who.arrived_at = clock.now
    who.joined_at = clock.now
    who.since = clock.now
    who.due = NEVER
    who.work_left = -1.0
    who.cost = 0.0
    who.visit_cost = 0.0
    who.visit_travel = 0.0
    who.last_wait = 0.0
    who.state = CaseState.MOVING
    who.ways_chosen = 0
    who.ways_taken = 0
    who.laps = 0
    who.absent = 0
    who.walking = 0
    who.causes = 0
    who.causes_before = 0
    who.in_work = 0
    who.expected = 0
    who.turned_away = 0
    who.stands = Stand.NOWHERE
    who.is_outside = 0
    who.visit_over = 0
    who.together = 1
    who.cause = NONE
    who.place = NONE
    who.link = NONE
    who.to = NONE
    who.goal = NONE
    who.line = NONE
    who.loop = NONE
    who.first_held = NONE
    who.person = NONE
    who.party = NONE
    who.batch = NONE
    who.timers = NONE
    who.leader = NONE
    who.rides_in = NONE
    who.first_aboard = NONE
    who.last_aboard = NONE
    who.next_aboard = NONE
    who.stamp += 1
    for column in range(MINUTE_COLUMNS):
        world.minutes[case, column] = 0.0
    for column in range(world.traits_and_marks.shape[1]):
        world.traits_and_marks[case, column] = 0.0
    run = world.plan.run[0]
    for column in range(run.remembered):
        world.memory[case, column] = NONE
    for column in range(run.remembered, world.memory.shape[1]):
        world.memory[case, column] = 0
    return case


@part
def free_token(world: World, case: int) -> None:
    """Give a token back."""
    clock = world.clock[0]
    who = world.cases[case]
    who.stamp += 1
    who.state = CaseState.MOVING
    who.weight = 0
    who.next = clock.free_case
    clock.free_case = case
    clock.tokens -= 1


@rare
def companion_of(world: World, case: int, luck: np.uint64, kind: int) -> int:
    """Return a branch or a companion of a case: of its type and traits, with luck of its own."""
    child = new_token(world)
    one, other = world.cases[child], world.cases[case]
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
    one.weight = 0
    run = world.plan.run[0]
    for trait in range(run.traits):
        world.traits_and_marks[child, trait] = world.traits_and_marks[case, trait]
    for column in range(run.remembered + run.counters):
        world.memory[child, column] = world.memory[case, column]
    return child


@part
def depart(world: World, case: int) -> None:
    """Let a case leave the service at its exit."""
    clock = world.clock[0]
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if who.first_held != NONE:
        let_go_of(world, case, NONE, False)
    note(world, Note.DEPARTED, case, who.step, NONE)
    write_departure(world, case)
    change_inside(world, case, -1)
    tallies = (world.step_tally[step.document], world.type_tally[who.type], world.stream_tally[who.stream])
    for tally in tallies:
        if who.turned_away:
            tally.turned_away += 1
        elif step.abandoned:
            tally.abandoned += 1
        else:
            tally.completed += 1
    clock.completed += int(who.turned_away == 0 and step.abandoned == 0)
    world.step_tally[step.document].cost += step.penalty
    clock.inside -= 1
    if clock.inside == 0:
        touch_staying(world)
    if who.timers != NONE:
        stop_all_timers(world, case)
    if who.party != NONE:
        leave_party(world, case)
    free_token(world, case)


@rare
def touch_staying(world: World) -> None:
    """Look again at the teams that stay until nobody is inside."""
    for team in range(len(world.teams)):
        if world.teams[team].staying > 0:
            touch(world, team)


@rare
def leave_party(world: World, case: int) -> None:
    """Let the branches of a case that has left go on without it."""
    party = world.cases[case].party
    while party != NONE and world.parties[party].owner == case:
        world.parties[party].owner = NONE
        outer = world.parties[party].outer
        if world.parties[party].outstanding == 0:
            free_party(world, party)
        party = outer


@rare
def new_party(world: World, owner: int) -> int:
    """Return a new party of a case."""
    clock = world.clock[0]
    party = clock.free_party
    here = world.parties[party]
    clock.free_party = here.next_free
    clock.parties += 1
    here.owner = owner
    here.join = NONE
    here.outstanding = 0
    here.first = NONE
    here.before = NONE
    here.size = 1
    clock.party_serial += 1
    here.serial = clock.party_serial
    here.cost = 0.0
    return party


@rare
def free_party(world: World, party: int) -> None:
    """Give a party back."""
    world.parties[party].next_free = world.clock[0].free_party
    world.clock[0].free_party = party
    world.clock[0].parties -= 1
