"""Appointments: sessions of slots, of which some are booked and kept."""

import math

import numpy as np

from flowcore.kernel.arrivals.streams import DAY, plan_no_more, schedule_occasion
from flowcore.kernel.clockwork.draws import chain, uniform
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, DrawFor, EventKind, Rank
from flowcore.kernel.records.world import World


@rare
def plan_day(world: World, stream: int) -> None:
    """Schedule the next day's appointments."""
    run = world.plan.run[0]
    here = world.sources[stream]
    if here.period == 0:
        plan_appointments(world, stream, -1)
        plan_appointments(world, stream, 0)
    here.period += 1
    plan_appointments(world, stream, here.period)
    at = here.period * DAY - run.start_minute
    if at < run.length:
        schedule(world, max(world.clock[0].now, at), Rank.ARRIVAL, EventKind.NEXT_PERIOD, stream, 0)
    else:
        plan_no_more(world, stream)


@part
def plan_appointments(world: World, stream: int, day: int) -> None:
    """Schedule the arrivals of all slots of one day of the run; the day before it may go on after midnight."""
    run = world.plan.run[0]
    key = chain(world.sources[stream].key, np.uint64(day + 1))
    source = world.plan.streams[stream]
    midnight = day * DAY - run.start_minute
    weekday = (run.first_weekday + day) % 7
    for number in range(source.sessions):
        session = world.plan.sessions[source.first_session + number]
        if session.day != weekday:
            continue
        slots = int(math.ceil((session.ends - session.begins) / session.every - 1e-9))
        for slot in range(slots):
            at = midnight + session.begins + slot * session.every
            slot_key = chain(chain(key, np.uint64(number)), np.uint64(slot))
            for place in range(session.places if at >= 0.0 else 0):
                keep_appointment(world, stream, at, chain(slot_key, np.uint64(place)))


@part
def keep_appointment(world: World, stream: int, at: float, luck: np.uint64) -> None:
    """Schedule one booked case, unless the place is not booked or the case does not come."""
    source = world.plan.streams[stream]
    clock = world.clock[0]
    key = chain(luck, np.uint64(DrawFor.PUNCTUALITY))
    if uniform(key, 1) >= source.filled or uniform(key, 2) < source.no_show:
        return
    if at > source.shuts_at or at < source.opens_at:
        return
    booking = clock.free_booking
    here = world.bookings[booking]
    clock.free_booking = here.next
    clock.bookings += 1
    here.luck = luck
    here.appointed_at = at
    if source.punctuality != NONE:
        at += sample(world.plan.numbers, world.plan.distributions[source.punctuality], key)
    schedule_occasion(world, stream, max(clock.now, at), booking)
