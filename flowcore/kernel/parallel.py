"""Cases that part and come together: fork and join, gather and scatter."""

import numpy as np

from flowcore.kernel.accounts import book_minutes, change_inside_step, turn_to
from flowcore.kernel.compiled import part
from flowcore.kernel.draws import chain, key_for
from flowcore.kernel.events import do_first, do_next, schedule
from flowcore.kernel.kinds import (
    ACCOUNTS,
    BATCH,
    BATCH_DUE,
    BRANCH,
    BRANCHES,
    ENTER,
    EXIT,
    FOR_WAY,
    GATHERED,
    GO_ON,
    IN_HOLD,
    JOIN,
    MOVING,
    NONE,
    NOWHERE,
    RANK_SIGNAL,
    SCATTER,
    UNPACK,
    VALUE_CLASSES,
    WAITING,
)
from flowcore.kernel.ledger import note, write_visit
from flowcore.kernel.members import pay_all
from flowcore.kernel.queues import append, unchain
from flowcore.kernel.routing import end_of_link, end_visit, is_taken, settle_way
from flowcore.kernel.state import VALUES, VISIT_MINUTES, World
from flowcore.kernel.tokens import companion_of, free_party, free_token, leave_party, new_party
from flowcore.kernel.work import let_go_of


@part
def fork(world: World, case: int) -> None:
    """Send a case along all the ways that it takes: itself on the first, a branch on each other.

    Where no way is taken the case goes on at the join.
    """
    who = world.cases[case]
    step = world.plan.steps[who.step]
    first = NONE
    party = NONE
    for link in range(step.first_link, step.first_link + step.links):
        if not is_taken(world, case, link):
            continue
        if first == NONE:
            first = link
            continue
        if party == NONE:
            party = new_party(world, case)
        key = key_for(world, case, world.plan.links[link].key, FOR_WAY)
        branch = companion_of(world, case, chain(key, np.uint64(BRANCH)), BRANCH)
        world.cases[branch].step = who.step
        world.cases[branch].party = party
        world.parties[party].outstanding += 1
        send(world, branch, link)
    if party == NONE and who.batch != NONE:
        party = new_party(world, case)
    if party != NONE:
        world.parties[party].join = step.join
        world.parties[party].outer = who.party
        who.party = party
    if first == NONE:
        who.step = step.join
        do_next(world, ENTER, case)
    else:
        send(world, case, first)


@part
def send(world: World, case: int, link: int) -> None:
    """Send a token along a way out of the step where it forked."""
    who = world.cases[case]
    if who.ways_taken < who.ways_chosen:
        settle_way(world, case)
    else:
        who.link = link
        who.to = end_of_link(world, case, link)
        who.goal = who.to
    do_next(world, GO_ON, case)


@part
def reach_join(world: World, case: int) -> None:
    """Let a branch end at its join, or a case wait there for the branches that are still out."""
    who = world.cases[case]
    party = who.party
    is_owner = party != NONE and world.parties[party].owner == case
    if who.token_kind == BRANCH and not is_owner and world.parties[party].join == who.step:
        turn_to(world, case, MOVING, NONE)
        end_branch(world, case)
    elif is_owner and world.parties[party].join == who.step and world.parties[party].outstanding > 0:
        turn_to(world, case, WAITING, BRANCHES)
    else:
        if is_owner and world.parties[party].join == who.step:
            end_party(world, case)
        do_next(world, GO_ON, case)


@part
def end_party(world: World, case: int) -> None:
    """Let a case whose branches are all back go on as one."""
    party = world.cases[case].party
    world.cases[case].cost += world.parties[party].cost
    world.cases[case].party = world.parties[party].outer
    free_party(world, party)


@part
def end_branch(world: World, case: int) -> None:
    """End a branch; the last one lets the case that waits for it go on."""
    who = world.cases[case]
    let_go_of(world, case, NONE, False)
    party = who.party
    here = world.parties[party]
    here.outstanding -= 1
    here.cost += who.cost
    if world.plan.steps[who.step].kind == JOIN:
        write_visit(world, case)
        change_inside_step(world, case, -1)
        world.steps[who.step].here -= 1
    leave_party(world, case)
    free_token(world, case)
    if here.owner == NONE:
        if here.outstanding == 0:
            free_party(world, party)
        return
    owner = world.cases[here.owner]
    if here.outstanding == 0 and owner.state == WAITING and owner.cause == BRANCHES:
        waiting = here.owner
        turn_to(world, waiting, MOVING, NONE)
        end_party(world, waiting)
        do_next(world, GO_ON, waiting)


@part
def wait_for_batch(world: World, case: int) -> None:
    """Let a case wait until so many are there, or its batch's time has passed."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    who.line = step.line
    line = world.lines[who.line]
    append(world.cases, line, case)
    line.count += 1
    who.stands = IN_HOLD
    turn_to(world, case, WAITING, BATCH)
    here = world.steps[who.step]
    if line.count >= step.many:
        form_batch(world, who.step)
    elif line.count == 1 and step.every > 0.0:
        here.token += 1
        schedule(world, world.clock[0].now + step.every, RANK_SIGNAL, BATCH_DUE, who.step, here.token)


@part
def form_batch(world: World, step: int) -> None:
    """Send those who wait at a step on as one; each of them keeps its own times, and ends its own visit here."""
    line = world.lines[world.plan.steps[step].line]
    world.steps[step].token += 1
    leader = line.first
    if leader == NONE:
        return
    end_wait(world, leader)
    if line.first != NONE or world.cases[leader].batch != NONE:
        party = new_party(world, leader)
        here = world.parties[party]
        here.outer = world.cases[leader].batch
        here.cost = world.cases[leader].cost
        world.cases[leader].batch = party
        while line.first != NONE:
            rider = line.first
            end_wait(world, rider)
            take_along(world, leader, rider, party)
    world.cases[leader].visit_over = 1
    do_next(world, GO_ON, leader)


@part
def end_wait(world: World, case: int) -> None:
    """End the visit of a case, and of those who travel with it already, that has waited for a batch."""
    line = world.lines[world.cases[case].line]
    unchain(world.cases, line, case)
    line.count -= 1
    world.cases[case].stands = NOWHERE
    turn_to(world, case, MOVING, NONE)
    note(world, GATHERED, case, world.cases[case].step, NONE)
    end_visit(world, case)


@part
def take_along(world: World, leader: int, rider: int, party: int) -> None:
    """Let a rider, with all who travel with it, share the leader's minutes from now on."""
    who = world.cases[rider]
    head = world.cases[leader]
    share_minutes(world, leader, rider, -1.0)
    who.next = world.parties[party].first
    world.parties[party].first = rider
    last = who.last_aboard if who.first_aboard != NONE else rider
    world.cases[last].next_aboard = head.first_aboard
    if last != rider:
        who.next_aboard = who.first_aboard
    if head.first_aboard == NONE:
        head.last_aboard = last
    head.first_aboard = rider
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
    for value in range(VALUES, VALUES + VALUE_CLASSES):
        world.minutes[rider, value] += sign * world.minutes[leader, value]


@part
def comes_apart(world: World, case: int) -> bool:
    """Say whether a batch ends here: where it is scattered, at an exit, at the join of a fork that its cases passed.

    A batch that went through the fork as one waits at the join as one.
    """
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.kind != JOIN:
        return step.kind == EXIT or step.kind == SCATTER
    party = who.party
    forked = party != NONE and world.parties[party].owner == case and world.parties[party].join == who.step
    return not (forked and world.parties[party].serial > world.parties[who.batch].serial)


@part
def unpack(world: World, leader: int) -> None:
    """Let one rider of a batch go its own way, and then the others; but at a scattering the leader goes last."""
    head = world.cases[leader]
    party = head.batch
    here = world.parties[party]
    scatters = world.plan.steps[head.step].kind == SCATTER
    rider = here.first
    if rider == NONE:
        head.batch = here.outer
        free_party(world, party)
        do_first(world, GO_ON if scatters else ENTER, leader)
        return
    book_minutes(world, leader)
    pay_all(world, leader)
    who = world.cases[rider]
    share = (head.cost - here.cost) * who.together / head.together
    here.first = who.next
    head.cost -= share
    who.cost += share
    share_minutes(world, leader, rider, 1.0)
    leave_leader(world, leader, rider)
    who.since = world.clock[0].now
    who.step = head.step
    who.place = head.place
    who.circle = head.circle
    who.laps = head.laps
    do_first(world, UNPACK, leader)
    do_first(world, GO_ON if scatters else ENTER, rider)


@part
def leave_leader(world: World, leader: int, rider: int) -> None:
    """Take the rider who came last, with those who travel with it, from those aboard."""
    head, who = world.cases[leader], world.cases[rider]
    last = who.last_aboard if who.first_aboard != NONE else rider
    head.first_aboard = world.cases[last].next_aboard
    world.cases[last].next_aboard = NONE
    who.next_aboard = NONE
    who.leader = NONE
    who.rides_in = NONE
    head.together -= who.together
