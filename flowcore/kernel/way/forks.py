"""Cases that part and come together: fork and join."""

import numpy as np

from flowcore.kernel.accounts.ledger import write_visit
from flowcore.kernel.accounts.levels import change_inside_step
from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.draws import chain, key_for
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind
from flowcore.kernel.records.kinds import NONE, Account, Agenda, CaseState, DrawFor, TokenKind
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import let_go_of
from flowcore.kernel.way.routes import choose_route, end_of_link, is_taken
from flowcore.kernel.way.tokens import companion_of, free_party, free_token, leave_party, new_party


@rare
def fork(world: World, case: int) -> None:
    """Send a case along all the ways that it takes: itself on the first, a branch on each other.

    Where no way is taken the case goes on at the join.
    """
    who = world.cases[case]
    step = world.plan.steps[who.step]
    taken = 0
    party = NONE
    for link in range(step.first_link, step.first_link + step.links):
        if not is_taken(world, case, link):
            continue
        taken += 1
        if taken == 1:
            choose_route(world, case)
            push_back(world, Agenda.GO_ON, case)
            continue
        if party == NONE:
            party = new_party(world, case)
        send_branch(world, case, party, link)
    if party == NONE and who.batch != NONE:
        party = new_party(world, case)
    if party != NONE:
        world.parties[party].join = step.join
        world.parties[party].outer = who.party
        who.party = party
    if taken == 0:
        who.step = step.join
        push_back(world, Agenda.ENTER, case)


@part
def send_branch(world: World, case: int, party: int, link: int) -> None:
    """Send a branch of a case along a way out of the step where it forks."""
    key = key_for(world, case, world.plan.links[link].key, DrawFor.WAY)
    branch = companion_of(world, case, chain(key, np.uint64(TokenKind.BRANCH)), TokenKind.BRANCH)
    world.cases[branch].step = world.cases[case].step
    world.cases[branch].party = party
    world.parties[party].outstanding += 1
    world.cases[branch].link = link
    world.cases[branch].to = end_of_link(world, branch, link)
    world.cases[branch].goal = world.cases[branch].to
    push_back(world, Agenda.GO_ON, branch)


@rare
def reach_join(world: World, case: int) -> None:
    """Let a branch end at its join, or a case go on there once all its branches are back."""
    while case != NONE:
        case = join_or_wait(world, case)


@part
def join_or_wait(world: World, case: int) -> int:
    """Let a case or a branch be at a join, and return whom its end may let go on, or NONE.

    Several forks may end at one join: those within first.
    """
    who = world.cases[case]
    if who.state != CaseState.MOVING:
        turn_to(world, case, CaseState.MOVING, NONE)
    while is_at_join_of(world, case, who.party) and world.parties[who.party].outstanding == 0:
        end_party(world, case)
    party = who.party
    if is_at_join_of(world, case, party):
        turn_to(world, case, CaseState.WAITING, Account.BRANCHES)
    elif party != NONE and world.parties[party].owner != case and world.parties[party].join == who.step:
        return end_branch(world, case)
    else:
        push_back(world, Agenda.GO_ON, case)
    return NONE


@part
def is_at_join_of(world: World, case: int, party: int) -> bool:
    """Say whether a case forked as this party and is now at the join of it."""
    if party == NONE:
        return False
    here = world.parties[party]
    return here.owner == case and here.join == world.cases[case].step


@part
def end_party(world: World, case: int) -> None:
    """Let a case whose branches are all back go on as one."""
    party = world.cases[case].party
    world.cases[case].cost += world.parties[party].cost
    world.cases[case].party = world.parties[party].outer
    free_party(world, party)


@rare
def end_branch(world: World, case: int) -> int:
    """End a branch, and return the case that waits for it where it was the last one, or NONE."""
    who = world.cases[case]
    let_go_of(world, case, NONE, False)
    party = who.party
    here = world.parties[party]
    here.outstanding -= 1
    here.cost += who.cost
    if world.plan.steps[who.step].kind == StepKind.JOIN:
        write_visit(world, case)
        change_inside_step(world, case, -1)
        world.steps[who.step].here -= 1
    leave_party(world, case)
    free_token(world, case)
    if here.outstanding > 0:
        return NONE
    if here.owner == NONE:
        free_party(world, party)
        return NONE
    owner = world.cases[here.owner]
    is_waiting = owner.party == party and owner.state == CaseState.WAITING and owner.cause == Account.BRANCHES
    return here.owner if is_waiting else NONE
