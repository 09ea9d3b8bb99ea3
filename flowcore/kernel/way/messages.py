"""Messages: a case waits at a signal until one comes that concerns this very case.

A case's own row of the memory has MESSAGE_COLUMNS for each message that a signal waits for: how many have come that
nobody has taken, and (of a signal's first message) the first of those of this case who wait at it; a token's own row
has who waits after it, and in its last column the teller (from 1 on) of the message that it has heard last.
"""

from flowcore.kernel.accounts.deadlines import party_of
from flowcore.kernel.accounts.minutes import next_aboard
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import MESSAGE_COLUMNS, NONE, Agenda, TokenKind
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.stands import leave_line

KEPT, FIRST, AFTER = 0, 1, 2


@part
def column_of(world: World, message: int) -> int:
    """Return where in the memory a message's columns begin."""
    run = world.plan.run[0]
    return run.remembered + run.counters + run.awaiting + 2 * run.ways_ahead + MESSAGE_COLUMNS * message


@part
def concerned(world: World, token: int) -> int:
    """Return the case that a token's messages concern: its own, or who has sent it; NONE where that has left."""
    token = party_of(world, token)
    if token == NONE or world.cases[token].token_kind == TokenKind.CASE:
        return token
    sender = world.cases[token].sender
    case = world.cases[sender]
    is_inside = case.weight == 1 and case.token_kind == TokenKind.CASE
    return sender if is_inside and case.number == world.cases[token].number else NONE


@rare
def takes_message(world: World, token: int, signal: int) -> bool:
    """Let a token that comes to a signal take a message that has come before; say whether there was one.

    Of those from several steps it takes the one that the signal names first.
    """
    case_id = concerned(world, token)
    if case_id == NONE:
        return False
    step = world.plan.steps[signal]
    for number in range(step.messages):
        column = column_of(world, step.message + number)
        if world.memory[case_id, column + KEPT] > 0:
            world.memory[case_id, column + KEPT] -= 1
            world.memory[token, world.memory.shape[1] - 1] = world.plan.lists[step.tellers + number]
            return True
    return False


@rare
def listen(world: World, token: int, message: int) -> None:
    """Let a token be the last of those of its case who wait for a message."""
    case_id = concerned(world, token)
    if case_id == NONE:
        return
    column = column_of(world, message)
    world.memory[token, column + AFTER] = 0
    if world.memory[case_id, column + FIRST] == 0:
        world.memory[case_id, column + FIRST] = token + 1
        return
    last = world.memory[case_id, column + FIRST] - 1
    while world.memory[last, column + AFTER] != 0:
        last = world.memory[last, column + AFTER] - 1
    world.memory[last, column + AFTER] = token + 1


@rare
def stop_listening(world: World, token: int, message: int) -> None:
    """Take a token from among those who wait for a message."""
    case_id = concerned(world, token)
    if case_id == NONE:
        return
    column = column_of(world, message)
    following = world.memory[token, column + AFTER]
    if world.memory[case_id, column + FIRST] == token + 1:
        world.memory[case_id, column + FIRST] = following
        return
    before = world.memory[case_id, column + FIRST] - 1
    while world.memory[before, column + AFTER] != token + 1:
        before = world.memory[before, column + AFTER] - 1
    world.memory[before, column + AFTER] = following


@rare
def tell(world: World, leader: int) -> None:
    """Tell what a token's coming to a step tells, for it and for all who travel with it."""
    step = world.plan.steps[world.cases[leader].step]
    token = leader
    while token != NONE:
        case_id = concerned(world, token)
        for entry in range(step.first_told, step.first_told + 2 * step.told, 2):
            if case_id != NONE:
                hear(world, case_id, world.plan.lists[entry], world.plan.lists[entry + 1], step.teller)
        token = next_aboard(world, leader, token)


@part
def hear(world: World, case_id: int, message: int, first: int, teller: int) -> None:
    """Let the first go on of those who wait for a message about a case, or keep it for the next one who comes.

    They wait at the signal whose first message is given.
    """
    column = column_of(world, first)
    token = world.memory[case_id, column + FIRST] - 1
    if token == NONE:
        world.memory[case_id, column_of(world, message) + KEPT] += 1
        return
    world.memory[token, world.memory.shape[1] - 1] = teller
    world.memory[case_id, column + FIRST] = world.memory[token, column + AFTER]
    leave_line(world, token)
    push_back(world, Agenda.GO_ON, token)
