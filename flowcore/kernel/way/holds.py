"""A hold: cases wait at a signal until it clears."""

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.agenda import push_back, push_front
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import append
from flowcore.kernel.compiling.compiled import rare
from flowcore.kernel.records.choices import SignalKind
from flowcore.kernel.records.kinds import NONE, Account, Agenda, CaseState, Note, Stand
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.lines import come_in_turn
from flowcore.kernel.waiting.stands import leave_line
from flowcore.kernel.way.messages import listen, takes_message


@rare
def wait_for_signal(world: World, case_id: int) -> None:
    """Let a case wait until a signal clears, or go on at once through one that is open, or whose message has come."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    is_open = step.clears == SignalKind.OPENING and not world.steps[case.step].shut
    if is_open or (step.clears == SignalKind.MESSAGE and takes_message(world, case_id, case.step)):
        push_back(world, Agenda.GO_ON, case_id)
        return
    case.line = step.line
    line = world.lines[case.line]
    append(world.turns, line, case_id)
    line.count += 1
    case.stands = Stand.AT_SIGNAL
    come_in_turn(world, case_id)
    note(world, Note.WAS_HELD, case_id, case.step, NONE)
    turn_to(world, case_id, CaseState.WAITING, Account.SIGNAL)
    if step.clears == SignalKind.SO_MANY and line.count >= step.quorum:
        clear_signal(world, case.step)
    elif step.clears == SignalKind.MESSAGE:
        listen(world, case_id, step.message)


@rare
def clear_signal(world: World, step: int) -> None:
    """Let the cases at a signal go, all or as many as it lets go, before anything else happens."""
    if set_quota(world, step) > 0:
        push_front(world, Agenda.LET_GO, step)


@rare
def set_quota(world: World, step: int) -> int:
    """Say how many of those at a signal go now: this one, and those just before it."""
    here = world.steps[step]
    if here.shut:
        return 0
    lets_go = world.plan.steps[step].lets_go
    waiting = world.lines[world.plan.steps[step].line].count
    here.quota = min(waiting, here.quota + lets_go) if lets_go > 0 else waiting
    return int(here.quota)


@rare
def let_go(world: World, step: int) -> None:
    """Let the first of those at a signal go, and the next ones as far as it clears."""
    line = world.lines[world.plan.steps[step].line]
    here = world.steps[step]
    if here.quota <= 0 or line.first == NONE:
        here.quota = 0
        return
    here.quota -= 1
    case_id = line.first
    leave_line(world, case_id)
    push_back(world, Agenda.GO_ON, case_id)
    if here.quota > 0:
        push_front(world, Agenda.LET_GO, step)
