"""When the cases of a stream come: gaps, chances, weekly profiles and dates."""

import math

import numpy as np

from flowcore.kernel.arrivals.calendars import after_open_minutes
from flowcore.kernel.clockwork.draws import case_luck, chain, uniform
from flowcore.kernel.clockwork.events import schedule, schedule_with
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StreamKind
from flowcore.kernel.records.kinds import NEVER, NONE, DrawFor, EventKind, Rank
from flowcore.kernel.records.world import World

DAY = 1440.0
WEEK = 10080.0


@part
def open_streams(world: World) -> None:
    """Schedule the first case of every stream."""
    for stream in range(len(world.sources)):
        world.sources[stream].key = chain(world.clock[0].seed, world.plan.streams[stream].key)
        world.clock[0].coming += 1
        kind = world.plan.streams[stream].kind
        if kind == StreamKind.PROFILE:
            offset = week_minute(world, 0.0)
            world.sources[stream].cumulative_rate = cumulative_rate_at(world, stream, offset)
        if is_planned_ahead(kind):
            schedule(world, 0.0, Rank.ARRIVAL, EventKind.NEXT_PERIOD, stream, 0)
        else:
            schedule_arrival(world, stream)


@part
def is_planned_ahead(kind: int) -> bool:
    """Say whether a stream's occasions are planned for a day or an interval, not one after another."""
    return kind == StreamKind.EXACT_PROFILE or kind == StreamKind.APPOINTMENTS


@part
def week_minute(world: World, minute: float) -> float:
    """Return a time of the run as minutes after Monday's midnight."""
    run = world.plan.run[0]
    return (run.first_weekday * DAY + run.start_minute + minute) % WEEK


@part
def cumulative_rate_at(world: World, stream: int, minute: float) -> float:
    """Return the expected arrivals of a profile from Monday's midnight to a minute of the week."""
    source = world.plan.streams[stream]
    position = minute / source.interval
    whole = int(position)
    numbers = world.plan.numbers
    before = numbers[source.profile + whole]
    return before + (position - whole) * (numbers[source.profile + min(whole + 1, source.intervals)] - before)


@rare
def profile_arrival(world: World, stream: int, luck: np.uint64) -> float:
    """Return when the next case of a profile comes: the cumulative rate, inverted.

    Source: Çinlar, Introduction to Stochastic Processes (1975), chapter 4: unit gaps in expected
    arrivals make a Poisson process of that rate.
    """
    source = world.plan.streams[stream]
    numbers = world.plan.numbers
    here = world.sources[stream]
    week = numbers[source.profile + source.intervals]
    if week <= 0.0:
        return NEVER
    here.cumulative_rate -= math.log(uniform(chain(luck, np.uint64(DrawFor.GAP)), 0))
    weeks = math.floor(here.cumulative_rate / week)
    remainder = here.cumulative_rate - weeks * week
    below, above = 0, source.intervals - 1
    while below < above:
        middle = (below + above) // 2
        if numbers[source.profile + middle + 1] <= remainder:
            below = middle + 1
        else:
            above = middle
    before = numbers[source.profile + below]
    share = (remainder - before) / (numbers[source.profile + below + 1] - before)
    run = world.plan.run[0]
    begins = run.first_weekday * DAY + run.start_minute
    return weeks * WEEK + (below + share) * source.interval - begins


@part
def schedule_arrival(world: World, stream: int) -> None:
    """Schedule the next occasion of a stream on which one case, or a group, comes."""
    source = world.plan.streams[stream]
    here = world.sources[stream]
    now = world.clock[0].now
    occasion = here.drawn
    here.drawn += 1
    luck = case_luck(world, stream, occasion)
    time = NEVER
    if source.kind == StreamKind.DATES:
        if here.date < source.dates:
            time = world.plan.dates[source.first_date + here.date].at
            here.date += 1
    elif source.kind == StreamKind.PROFILE:
        time = profile_arrival(world, stream, luck)
    else:
        gap = 0.0
        if source.kind == StreamKind.CHANCE:
            tries = 1.0
            if source.chance < 1.0:
                tries += math.floor(
                    math.log(uniform(chain(luck, np.uint64(DrawFor.GAP)), 0)) / math.log(1.0 - source.chance)
                )
            gap = tries * source.every
        else:
            distribution = world.plan.distributions[source.gap]
            gap = max(0.0, sample(world.plan.numbers, distribution, chain(luck, np.uint64(DrawFor.GAP))))
        start = max(now, source.opens_at) if occasion == 0 else now
        time = start + gap
        if source.calendar != NONE:
            time = after_open_minutes(world.plan.numbers, world.plan.calendars[source.calendar], start, gap)
    if time < NEVER and time <= source.shuts_at:
        schedule_occasion(world, stream, time, occasion)
    else:
        plan_no_more(world, stream)


@part
def schedule_occasion(world: World, stream: int, time: float, occasion: int) -> None:
    """Schedule an occasion on which cases of a stream come: its number, or its booking."""
    world.sources[stream].pending += 1
    schedule_with(world, time, Rank.ARRIVAL, EventKind.ARRIVAL, stream, occasion)


@rare
def plan_no_more(world: World, stream: int) -> None:
    """Note that all of a stream's occasions are scheduled."""
    world.sources[stream].all_planned = 1
    close_if_over(world, stream)


@part
def close_if_over(world: World, stream: int) -> None:
    """Let a stream be over once its last case has come."""
    here = world.sources[stream]
    limit = world.plan.streams[stream].limit
    is_last = (here.all_planned and here.pending == 0) or (limit > 0 and here.created >= limit)
    if is_last and here.over == 0:
        here.over = 1
        world.clock[0].coming -= 1


@part
def plan_interval(world: World, stream: int) -> None:
    """Spread the exact count of an interval at random over it; a part of a case comes with that chance."""
    source = world.plan.streams[stream]
    clock = world.clock[0]
    here = world.sources[stream]
    minute = week_minute(world, clock.now)
    number = int(minute / source.interval + 1e-9) % source.intervals
    expected = world.plan.numbers[source.profile + number + 1] - world.plan.numbers[source.profile + number]
    begins = clock.now - (minute - number * source.interval)
    luck = chain(here.key, np.uint64(here.period))
    count = math.floor(expected + 1e-9)
    if uniform(luck, 0) < expected - count:
        count += 1
    for turn in range(int(count)):
        at = begins + uniform(luck, turn + 1) * source.interval
        if at >= clock.now:
            schedule_occasion(world, stream, at, here.drawn)
        here.drawn += 1
    here.period += 1
    if begins + source.interval < min(source.shuts_at, world.plan.run[0].length):
        schedule(world, begins + source.interval, Rank.ARRIVAL, EventKind.NEXT_PERIOD, stream, 0)
    else:
        plan_no_more(world, stream)
