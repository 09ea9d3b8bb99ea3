"""The loop over events: it goes on until the time is up or Python is needed."""

import numpy as np

from flowcore.kernel.compiled import entry
from flowcore.kernel.draws import chain
from flowcore.kernel.events import drop_first
from flowcore.kernel.records import (
    ARRIVAL,
    END_OF_WORK,
    NEEDS_CASES,
    NEEDS_DEPARTURES,
    NEEDS_VISITS,
    OVER,
    PAUSED,
    World,
)
from flowcore.kernel.routing import arrive, enter_step, follow_link, schedule_arrival
from flowcore.kernel.work import end_work


@entry
def open_streams(world: World, seed: np.uint64, replication: np.uint64) -> None:
    """Give the replication its luck and schedule the first case of every stream."""
    world.clock[0].seed = chain(chain(np.uint64(0), seed), replication)
    for stream in range(len(world.sources)):
        schedule_arrival(world, stream)


@entry
def advance(world: World, budget: int) -> int:
    """Let up to `budget` events happen and say why it stopped: one of the codes in `records`.

    Called again after a pause, or with larger buffers, it goes on where it stopped.
    """
    clock = world.clock[0]
    for _ in range(budget):
        if clock.events == 0 or world.events[0].time > clock.until:
            clock.now = clock.until
            return OVER
        if clock.inside + clock.margin > len(world.cases):
            return NEEDS_CASES
        if clock.visits + clock.margin > len(world.visits):
            return NEEDS_VISITS
        if clock.departures + clock.margin > len(world.departures):
            return NEEDS_DEPARTURES
        clock.now = world.events[0].time
        kind = world.events[0].kind
        subject = world.events[0].subject
        drop_first(world)
        case = arrive(world, subject) if kind == ARRIVAL else subject
        if kind == END_OF_WORK:
            end_work(world, case)
            if follow_link(world, case):
                continue
        enter_step(world, case)
    return PAUSED
