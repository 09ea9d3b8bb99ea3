"""Cases that travel as one: gather and scatter."""

from flowcore.kernel.accounts.minutes import book_minutes, turn_to
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import append, unchain
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import VALUE_CLASSES, SignalKind, StepKind
from flowcore.kernel.records.kinds import ACCOUNTS, NONE, Account, Agenda, CaseState, EventKind, Note, Rank, Stand
from flowcore.kernel.records.ledger import VALUES, VISIT_MINUTES
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import pay_all
from flowcore.kernel.waiting.lines import come_in_turn
from flowcore.kernel.way.forks import fork_that_ends_here
from flowcore.kernel.way.visits import end_visit


@rare
def wait_for_batch(world: World, case_id: int) -> None:
    """Let a case wait until so many are there, or its batch's time has passed."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    case.line = step.line
    line = world.lines[case.line]
    append(world.turns, line, case_id)
    line.count += 1
    case.stands = Stand.AT_SIGNAL
    come_in_turn(world, case_id)
    turn_to(world, case_id, CaseState.WAITING, Account.BATCH)
    here = world.steps[case.step]
    if line.count >= step.quorum:
        form_batch(world, case.step)
    elif line.count == 1 and step.every > 0.0:
        here.stamp += 1
        schedule(world, world.clock[0].now + step.every, Rank.SIGNAL, EventKind.BATCH_DUE, case.step, here.stamp)


@rare
def end_wait_for_batch(world: World, step: int) -> None:
    """Send those who wait at a step on once its time has passed for the first of them; others may have left."""
    here = world.steps[step]
    first = world.lines[world.plan.steps[step].line].first
    if first == NONE:
        return
    ends = world.cases[first].joined_at + world.plan.steps[step].every
    if ends > world.clock[0].now:
        schedule(world, ends, Rank.SIGNAL, EventKind.BATCH_DUE, step, here.stamp)
    else:
        form_batch(world, step)


@rare
def form_batch(world: World, step: int) -> None:
    """Send those who wait at a step on as one; each of them keeps its own times, and ends its own visit here."""
    line = world.lines[world.plan.steps[step].line]
    world.steps[step].stamp += 1
    leader = line.first
    if leader == NONE:
        return
    end_wait(world, leader)
    if line.first != NONE or world.cases[leader].batch != NONE:
        batch_id = new_batch(world)
        here = world.batches[batch_id]
        here.outer = world.cases[leader].batch
        here.before = world.cases[leader].last_aboard
        last = NONE
        here.cost = world.cases[leader].cost
        world.cases[leader].batch = batch_id
        while line.first != NONE:
            rider = line.first
            end_wait(world, rider)
            take_along(world, leader, rider, batch_id)
            if last == NONE:
                here.first = rider
            else:
                world.turns[last].next = rider
            world.turns[rider].next = NONE
            last = rider
    world.cases[leader].visit_over = 1
    push_back(world, Agenda.GO_ON, leader)


@part
def end_wait(world: World, case_id: int) -> None:
    """End the visit of a case, and of those who travel with it already, that has waited for a batch."""
    line = world.lines[world.cases[case_id].line]
    unchain(world.turns, line, case_id)
    line.count -= 1
    world.cases[case_id].stands = Stand.NOWHERE
    turn_to(world, case_id, CaseState.MOVING, NONE)
    note(world, Note.GATHERED, case_id, world.cases[case_id].step, NONE)
    end_visit(world, case_id)


@rare
def take_along(world: World, leader: int, rider: int, batch_id: int) -> None:
    """Let a rider, with all who travel with it, share the leader's minutes from now on."""
    case = world.cases[rider]
    head = world.cases[leader]
    share_minutes(world, leader, rider, -1.0)
    case.next_aboard = case.first_aboard
    if head.first_aboard == NONE:
        head.first_aboard = rider
    else:
        world.cases[head.last_aboard].next_aboard = rider
    head.last_aboard = case.last_aboard if case.first_aboard != NONE else rider
    case.leader = leader
    case.rides_in = batch_id
    head.together += case.together
    world.batches[batch_id].size = head.together
    world.clock[0].most_together = max(world.clock[0].most_together, head.together)


@part
def share_minutes(world: World, leader: int, rider: int, sign: float) -> None:
    """Take the leader's minutes off a rider's as it comes aboard, or put them on them as it leaves."""
    for account in range(ACCOUNTS):
        visited = world.minutes[leader, account] + world.minutes[leader, VISIT_MINUTES + account]
        world.minutes[rider, account] += sign * visited
    world.cases[rider].causes_before = -1
    for value in range(VALUES, VALUES + VALUE_CLASSES):
        world.minutes[rider, value] += sign * world.minutes[leader, value]


@rare
def comes_apart(world: World, case_id: int) -> bool:
    """Say whether a batch ends here: where it is scattered, at an exit, at the join of a fork that its cases passed.

    Also where each waits for a message of its own. A batch that went through the fork as one waits at the join as one.
    """
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.kind == StepKind.SIGNAL:
        return step.clears == SignalKind.MESSAGE
    if step.kind != StepKind.JOIN:
        return step.kind == StepKind.EXIT or step.kind == StepKind.SCATTER
    fork_id = fork_that_ends_here(world, case_id)
    forked = fork_id != NONE and world.forks[fork_id].owner == case_id
    return not (forked and world.forks[fork_id].serial > world.batches[case.batch].serial)


@rare
def unpack(world: World, leader: int) -> None:
    """Undo the last gathering of a case: all go on, in the order in which they had come."""
    book_minutes(world, leader)
    pay_all(world, leader)
    head = world.cases[leader]
    here = world.batches[head.batch]
    then = Agenda.GO_ON if world.plan.steps[head.step].kind == StepKind.SCATTER else Agenda.ENTER
    push_back(world, then, leader)
    rider = here.first
    while rider != NONE:
        following = world.turns[rider].next
        let_off(world, leader, rider)
        push_back(world, then, rider)
        rider = following
    if here.before == NONE:
        head.first_aboard = NONE
    else:
        world.cases[here.before].next_aboard = NONE
    head.last_aboard = here.before
    outer = here.outer
    free_batch(world, head.batch)
    head.batch = outer


@rare
def let_off(world: World, leader: int, rider: int) -> None:
    """Let a rider, with those who travel with it, be where its leader is, with its part of what the batch has cost."""
    head, case = world.cases[leader], world.cases[rider]
    share = (head.cost - world.batches[head.batch].cost) * case.together / head.together
    head.cost -= share
    case.cost += share
    share_minutes(world, leader, rider, 1.0)
    head.together -= case.together
    last = case.last_aboard if case.first_aboard != NONE else rider
    world.cases[last].next_aboard = NONE
    case.next_aboard = NONE
    case.leader = NONE
    case.rides_in = NONE
    case.since = world.clock[0].now
    case.step = head.step
    case.place = head.place
    case.loop = head.loop
    case.laps = head.laps


@rare
def new_batch(world: World) -> int:
    """Return a new batch."""
    clock = world.clock[0]
    batch_id = clock.free_batch
    batch = world.batches[batch_id]
    clock.free_batch = batch.next_free
    clock.batches += 1
    clock.groupings += 1
    batch.first = NONE
    batch.before = NONE
    batch.outer = NONE
    batch.size = 1
    batch.serial = clock.groupings
    batch.cost = 0.0
    return batch_id


@rare
def free_batch(world: World, batch_id: int) -> None:
    """Give a batch back."""
    world.batches[batch_id].next_free = world.clock[0].free_batch
    world.clock[0].free_batch = batch_id
    world.clock[0].batches -= 1
