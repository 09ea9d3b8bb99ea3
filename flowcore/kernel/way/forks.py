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
from flowcore.kernel.way.tokens import companion_of, free_fork, free_token, leave_fork, new_fork


@rare
def fork_case(world: World, case_id: int) -> None:
    """Send a case along all the ways that it takes: itself on the first, a branch on each other.

    Where no way is taken the case goes on at the join.
    """
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    taken = 0
    fork_id = NONE
    for link in range(step.first_link, step.first_link + step.links):
        if not is_taken(world, case_id, link):
            continue
        taken += 1
        if taken == 1:
            choose_route(world, case_id)
            push_back(world, Agenda.GO_ON, case_id)
            continue
        if fork_id == NONE:
            fork_id = new_fork(world, case_id)
        send_branch(world, case_id, fork_id, link)
    if fork_id == NONE and case.batch != NONE:
        fork_id = new_fork(world, case_id)
    if fork_id != NONE:
        world.forks[fork_id].join = step.join
        world.forks[fork_id].outer = case.fork
        case.fork = fork_id
    if taken == 0:
        case.step = step.join
        push_back(world, Agenda.ENTER, case_id)


@part
def send_branch(world: World, case_id: int, fork_id: int, link: int) -> None:
    """Send a branch of a case along a way out of the step where it forks."""
    key = key_for(world, case_id, world.plan.links[link].key, DrawFor.WAY)
    branch = companion_of(world, case_id, chain(key, np.uint64(TokenKind.BRANCH)), TokenKind.BRANCH)
    world.cases[branch].step = world.cases[case_id].step
    world.cases[branch].fork = fork_id
    world.forks[fork_id].outstanding += 1
    world.cases[branch].link = link
    world.cases[branch].to = end_of_link(world, branch, link)
    world.cases[branch].goal = world.cases[branch].to
    push_back(world, Agenda.GO_ON, branch)


@rare
def reach_join(world: World, case_id: int) -> None:
    """Let a branch end at its join, or a case go on there once all its branches are back."""
    while case_id != NONE:
        case_id = join_or_wait(world, case_id)


@part
def join_or_wait(world: World, case_id: int) -> int:
    """Let a case or a branch be at a join, and return whom its end may let go on, or NONE.

    Several forks may end at one join: those within first.
    """
    case = world.cases[case_id]
    if case.state != CaseState.MOVING:
        turn_to(world, case_id, CaseState.MOVING, NONE)
    fork_id = fork_that_ends_here(world, case_id)
    while fork_id != NONE and world.forks[fork_id].owner == case_id and world.forks[fork_id].outstanding == 0:
        end_fork(world, case_id, fork_id)
        fork_id = fork_that_ends_here(world, case_id)
    if fork_id == NONE:
        push_back(world, Agenda.GO_ON, case_id)
    elif world.forks[fork_id].owner == case_id:
        turn_to(world, case_id, CaseState.WAITING, Account.BRANCHES)
    else:
        return end_branch(world, case_id)
    return NONE


@part
def fork_that_ends_here(world: World, case_id: int) -> int:
    """Return the fork whose join a token is at: of its own the innermost, or the one whose branch it is; or NONE.

    A fork that it has left in another way, as when it was diverted, is passed over: its branches go on.
    """
    step = world.cases[case_id].step
    fork_id = world.cases[case_id].fork
    while fork_id != NONE and world.forks[fork_id].owner == case_id and world.forks[fork_id].join != step:
        fork_id = world.forks[fork_id].outer
    return fork_id if fork_id != NONE and world.forks[fork_id].join == step else NONE


@part
def end_fork(world: World, case_id: int, fork_id: int) -> None:
    """Let a case whose branches of a fork are all back go on as one."""
    here = world.forks[fork_id]
    world.cases[case_id].cost += here.cost
    inner = world.cases[case_id].fork
    if inner == fork_id:
        world.cases[case_id].fork = here.outer
    else:
        while world.forks[inner].outer != fork_id:
            inner = world.forks[inner].outer
        world.forks[inner].outer = here.outer
    free_fork(world, fork_id)


@rare
def end_branch(world: World, case_id: int) -> int:
    """End a branch, and return the case that waits for it where it was the last one, or NONE."""
    case = world.cases[case_id]
    let_go_of(world, case_id, NONE, False)
    fork_id = case.fork
    while world.forks[fork_id].owner == case_id:
        fork_id = world.forks[fork_id].outer
    here = world.forks[fork_id]
    here.outstanding -= 1
    here.cost += case.cost
    if world.plan.steps[case.step].kind == StepKind.JOIN:
        write_visit(world, case_id)
        change_inside_step(world, case_id, -1)
        world.steps[case.step].here -= 1
    leave_fork(world, case_id)
    free_token(world, case_id)
    if here.outstanding > 0:
        return NONE
    if here.owner == NONE:
        free_fork(world, fork_id)
        return NONE
    owner = world.cases[here.owner]
    is_waiting = owner.state == CaseState.WAITING and owner.cause == Account.BRANCHES and owner.step == here.join
    return here.owner if is_waiting else NONE
