"""The loop: it does what is to be done at this instant, then lets the next event happen."""

import numpy as np

from flowcore.kernel.accounts.levels import book_all_levels
from flowcore.kernel.accounts.measures import measure_time
from flowcore.kernel.accounts.minutes import book_pool
from flowcore.kernel.arrivals.streams import open_streams
from flowcore.kernel.clockwork.draws import chain
from flowcore.kernel.clockwork.events import roster_goes_on, schedule
from flowcore.kernel.compiling.compiled import entry
from flowcore.kernel.records.choices import SignalKind, StepKind
from flowcore.kernel.records.kinds import NONE, Code, EventKind, MemberState, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.run.dispatch import dispatch_event, run_agenda_item, schedule_entry
from flowcore.kernel.run.endings import buffer_to_grow, code_at_end, goes_round
from flowcore.kernel.run.intervals import collect_interval, schedule_interval
from flowcore.kernel.run.steps import enter
from flowcore.kernel.run.watching import is_instant_over, watch
from flowcore.kernel.service.serving import serve_ready, serve_touched
from flowcore.kernel.staff.interruption_clocks import start_all_clocks
from flowcore.kernel.staff.members import book_member, set_state
from flowcore.kernel.waiting.stands import update_gate


@entry
def open_up(world: World, seed: np.uint64, replication: np.uint64) -> None:
    """Give the replication its luck, let everyone without a roster be there, and start all clocks.

    `seed` and `replication` are whole numbers of 64 bits from which the seed of all draws is mixed.
    """
    clock = world.clock[0]
    clock.seed = chain(chain(np.uint64(0), seed), replication)
    for member_id in range(len(world.members)):
        if world.members[member_id].row == NONE:
            world.members[member_id].on_shift = 1
            set_state(world, member_id, MemberState.IDLE)
    for pool in range(len(world.pools)):
        update_gate(world, pool)
    for step in range(len(world.steps)):
        plan = world.plan.steps[step]
        if plan.kind == StepKind.SIGNAL and plan.clears == SignalKind.PERIODIC:
            schedule(world, plan.clears_first, Rank.SIGNAL, EventKind.SIGNAL_DUE, step, 0)
    open_streams(world)
    start_all_clocks(world)
    schedule_interval(world)
    schedule_entry(world)


@entry
def close_books(world: World) -> None:
    """Book everything up to now: the interval, all levels, all members' time."""
    collect_interval(world)
    book_all_levels(world)
    for member_id in range(len(world.members)):
        book_member(world, member_id)
    for pool in range(len(world.pools)):
        book_pool(world, pool)
    clock = world.clock[0]
    measure_time(world, clock.now)
    if clock.is_overtime:
        clock.overtime_minutes += clock.now - clock.overtime_since
        clock.overtime_since = clock.now


@entry
def advance(world: World) -> int:
    """Do one thing after another up to `clock.until` (minutes since the start), or until something stops it.

    Returns the Code of what did: the end, a pause, a buffer that is full, a deadlock. Called again after a pause, or
    with a larger buffer, it goes on where it stopped, with the same bits.
    """
    clock = world.clock[0]
    sure, most_together = 0, clock.most_together
    while clock.pause == 0:
        if sure == 0 or clock.most_together > most_together:
            most_together = clock.most_together
            code = buffer_to_grow(world)
            if code != Code.ENDED:
                return code
            sure = world.plan.run[0].checks_every
            if goes_round(world, sure):
                return Code.GOES_ROUND
        sure -= 1
        entering = NONE
        if clock.ready != NONE:
            serve_ready(world)
        elif clock.agenda_length > 0 and (clock.serve_first == 0 or clock.first_touched == NONE):
            clock.serve_first = 0
            entering = run_agenda_item(world)
        elif clock.first_touched != NONE and not roster_goes_on(world):
            serve_touched(world)
        else:
            if clock.watching and is_instant_over(world) and not watch(world):
                return Code.PAUSED
            if clock.first_touched == NONE and not roster_goes_on(world):
                code = code_at_end(world)
                if code != Code.PAUSED:
                    return code
            entering = dispatch_event(world)
        if entering != NONE:
            enter(world, entering)
    return Code.PAUSED
