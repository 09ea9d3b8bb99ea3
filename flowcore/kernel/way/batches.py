"""Cases that travel as one: gather and scatter."""

from flowcore.kernel.accounts.minutes import book_minutes, turn_to
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import append, unchain
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import VALUE_CLASSES, StepKind
from flowcore.kernel.records.kinds import ACCOUNTS, NONE, Account, Agenda, CaseState, EventKind, Note, Rank, Stand
from flowcore.kernel.records.ledger import VALUES, VISIT_MINUTES
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import pay_all
from flowcore.kernel.way.tokens import free_party, new_party
from flowcore.kernel.way.visits import end_visit


@rare
def wait_for_batch(world: World, case: int) -> None:
    """Let a case wait until so many are there, or its batch's time has passed."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    who.line = step.line
    line = world.lines[who.line]
    append(world.cases, line, case)
    line.count += 1
    who.stands = Stand.AT_SIGNAL
    turn_to(world, case, CaseState.WAITING, Account.BATCH)
    here = world.steps[who.step]
    if line.count >= step.quorum:
        form_batch(world, who.step)
    elif line.count == 1 and step.every > 0.0:
        here.stamp += 1
        schedule(world, world.clock[0].now + step.every, Rank.SIGNAL, EventKind.BATCH_DUE, who.step, here.stamp)


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
        party = new_party(world, leader)
        here = world.parties[party]
        here.outer = world.cases[leader].batch
        here.before = world.cases[leader].last_aboard
        last = NONE
        here.cost = world.cases[leader].cost
        world.cases[leader].batch = party
        while line.first != NONE:
            rider = line.first
            end_wait(world, rider)
            take_along(world, leader, rider, party)
            if last == NONE:
                here.first = rider
            else:
                world.cases[last].next = rider
            world.cases[rider].next = NONE
            last = rider
    world.cases[leader].visit_over = 1
    push_back(world, Agenda.GO_ON, leader)


@part
def end_wait(world: World, case: int) -> None:
    """End the visit of a case, and of those who travel with it already, that has waited for a batch."""
    line = world.lines[world.cases[case].line]
    unchain(world.cases, line, case)
    line.count -= 1
    world.cases[case].stands = Stand.NOWHERE
    turn_to(world, case, CaseState.MOVING, NONE)
    note(world, Note.GATHERED, case, world.cases[case].step, NONE)
    end_visit(world, case)


@rare
def take_along(world: World, leader: int, rider: int, party: int) -> None:
    """Let a rider, with all who travel with it, share the leader's minutes from now on."""
    who = world.cases[rider]
    head = world.cases[leader]
    share_minutes(world, leader, rider, -1.0)
    who.next_aboard = who.first_aboard
    if head.first_aboard == NONE:
        head.first_aboard = rider
    else:
        world.cases[head.last_aboard].next_aboard = rider
    head.last_aboard = who.last_aboard if who.first_aboard != NONE else rider
    who.leader = leader
    who.rides_in = party
    head.together += who.together
    world.parties[party].size = head.together
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
def comes_apart(world: World, case: int) -> bool:
    """Say whether a batch ends here: where it is scattered, at an exit, at the join of a fork that its cases passed.

    A batch that went through the fork as one waits at the join as one.
    """
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.kind != StepKind.JOIN:
        return step.kind == StepKind.EXIT or step.kind == StepKind.SCATTER
    party = who.party
    forked = party != NONE and world.parties[party].owner == case and world.parties[party].join == who.step
    return not (forked and world.parties[party].serial > world.parties[who.batch].serial)


@rare
def unpack(world: World, leader: int) -> None:
    """Undo the last gathering of a case: all go on, in the order in which they had come."""
    book_minutes(world, leader)
    pay_all(world, leader)
    head = world.cases[leader]
    here = world.parties[head.batch]
    then = Agenda.GO_ON if world.plan.steps[head.step].kind == StepKind.SCATTER else Agenda.ENTER
    push_back(world, then, leader)
    rider = here.first
    while rider != NONE:
        following = world.cases[rider].next
        let_off(world, leader, rider)
        push_back(world, then, rider)
        rider = following
    if here.before == NONE:
        head.first_aboard = NONE
    else:
        world.cases[here.before].next_aboard = NONE
    head.last_aboard = here.before
    outer = here.outer
    free_party(world, head.batch)
    head.batch = outer


@rare
def let_off(world: World, leader: int, rider: int) -> None:
    """Let a rider, with those who travel with it, be where its leader is, with its part of what the batch has cost."""
    head, who = world.cases[leader], world.cases[rider]
    share = (head.cost - world.parties[head.batch].cost) * who.together / head.together
    head.cost -= share
    who.cost += share
    share_minutes(world, leader, rider, 1.0)
    head.together -= who.together
    last = who.last_aboard if who.first_aboard != NONE else rider
    world.cases[last].next_aboard = NONE
    who.next_aboard = NONE
    who.leader = NONE
    who.rides_in = NONE
    who.since = world.clock[0].now
    who.step = head.step
    who.place = head.place
    who.loop = head.loop
    who.laps = head.laps
