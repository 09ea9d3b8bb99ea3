"""Where cases come from: gaps, chances, weekly profiles, appointments and dates."""

import math

import numpy as np

from flowcore.kernel.accounts import change_inside
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.deadlines import start_checkpoints
from flowcore.kernel.draws import case_luck, chain, uniform
from flowcore.kernel.events import do_next, schedule
from flowcore.kernel.kinds import NEVER, NONE, Agenda, DrawFor, EventKind, Note, Rank, StreamKind, TokenKind
from flowcore.kernel.notes import note
from flowcore.kernel.plan import Calendar
from flowcore.kernel.routing import at_one_place, first_share_above, set_traits
from flowcore.kernel.samples import sample
from flowcore.kernel.state import World
from flowcore.kernel.tokens import new_token

DAY = 1440.0
WEEK = 10080.0


@part
def period_before(numbers: np.ndarray, calendar: Calendar, minute: float) -> int:
    """Return the last open period of a calendar that has begun by a time, or -1."""
    below, above = -1, calendar.periods - 1
    while below < above:
        middle = (below + above + 1) // 2
        if numbers[calendar.first + 3 * middle] <= minute:
            below = middle
        else:
            above = middle - 1
    return below


@part
def is_open(numbers: np.ndarray, calendar: Calendar, minute: float) -> bool:
    """Say whether a calendar is open at a time; at its closing it is not."""
    period = period_before(numbers, calendar, minute)
    return period >= 0 and minute < numbers[calendar.first + 3 * period + 1]


@rare
def after_open_minutes(numbers: np.ndarray, calendar: Calendar, minute: float, gap: float) -> float:
    """Return the time when a calendar has been open for `gap` minutes more; NEVER beyond its last period."""
    period = period_before(numbers, calendar, minute)
    done = 0.0
    if period >= 0:
        start, end = numbers[calendar.first + 3 * period], numbers[calendar.first + 3 * period + 1]
        done = numbers[calendar.first + 3 * period + 2] + min(minute, end) - start
    wanted = done + gap
    below, above = 0, calendar.periods
    while below < above:
        middle = (below + above) // 2
        place = calendar.first + 3 * middle
        if numbers[place + 2] + numbers[place + 1] - numbers[place] < wanted:
            below = middle + 1
        else:
            above = middle
    if below >= calendar.periods:
        return NEVER
    return numbers[calendar.first + 3 * below] + wanted - numbers[calendar.first + 3 * below + 2]


@part
def open_streams(world: World) -> None:
    """Schedule the first case of every stream."""
    for stream in range(len(world.sources)):
        world.sources[stream].key = chain(world.clock[0].seed, world.plan.streams[stream].key)
        world.clock[0].coming += 1
        kind = world.plan.streams[stream].kind
        if kind == StreamKind.PROFILE:
            offset = week_minute(world, 0.0)
            world.sources[stream].mass = mass_before(world, stream, offset)
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
def mass_before(world: World, stream: int, minute: float) -> float:
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
    here.mass -= math.log(uniform(chain(luck, np.uint64(DrawFor.GAP)), 0))
    weeks = math.floor(here.mass / week)
    rest = here.mass - weeks * week
    below, above = 0, source.intervals - 1
    while below < above:
        middle = (below + above) // 2
        if numbers[source.profile + middle + 1] <= rest:
            below = middle + 1
        else:
            above = middle
    before = numbers[source.profile + below]
    share = (rest - before) / (numbers[source.profile + below + 1] - before)
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
    schedule(world, time, Rank.ARRIVAL, EventKind.ARRIVAL, stream, occasion)


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


@rare
def plan_day(world: World, stream: int) -> None:
    """Schedule what a stream brings next: an interval's exact count, or a day's appointments."""
    if world.plan.streams[stream].kind == StreamKind.EXACT_PROFILE:
        plan_interval(world, stream)
        return
    run = world.plan.run[0]
    here = world.sources[stream]
    if here.day == 0:
        plan_appointments(world, stream, -1)
        plan_appointments(world, stream, 0)
    here.day += 1
    plan_appointments(world, stream, here.day)
    at = here.day * DAY - run.start_minute
    if at < run.length:
        schedule(world, max(world.clock[0].now, at), Rank.ARRIVAL, EventKind.NEXT_PERIOD, stream, 0)
    else:
        plan_no_more(world, stream)


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
    luck = chain(here.key, np.uint64(here.day))
    count = math.floor(expected + 1e-9)
    if uniform(luck, 0) < expected - count:
        count += 1
    for turn in range(int(count)):
        at = begins + uniform(luck, turn + 1) * source.interval
        if at >= clock.now:
            schedule_occasion(world, stream, at, here.drawn)
        here.drawn += 1
    here.day += 1
    if begins + source.interval < min(source.shuts_at, world.plan.run[0].length):
        schedule(world, begins + source.interval, Rank.ARRIVAL, EventKind.NEXT_PERIOD, stream, 0)
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


@part
def call_up(world: World, stream: int, occasion: int) -> None:
    """Let a stream's next cases have the luck of an occasion, and the appointment of a booking."""
    here = world.sources[stream]
    here.pending -= 1
    here.occasion = occasion
    if world.plan.streams[stream].kind != StreamKind.APPOINTMENTS:
        here.luck = case_luck(world, stream, occasion)
        return
    booking = world.bookings[occasion]
    here.luck = booking.luck
    here.appointed_at = booking.appointed_at
    booking.next = world.clock[0].free_booking
    world.clock[0].free_booking = occasion
    world.clock[0].bookings -= 1


@part
def occasion_comes(world: World, stream: int, occasion: int) -> None:
    """Let a case or a group arrive on an occasion, unless doors or calendar are shut; schedule the next."""
    source = world.plan.streams[stream]
    here = world.sources[stream]
    clock = world.clock[0]
    call_up(world, stream, occasion)
    in_time = source.kind == StreamKind.APPOINTMENTS or source.opens_at <= clock.now <= source.shuts_at
    welcome = clock.doors_open == 1 and in_time
    if source.calendar != NONE and source.kind != StreamKind.RANDOM and source.kind != StreamKind.CHANCE:
        welcome = welcome and is_open(world.plan.numbers, world.plan.calendars[source.calendar], clock.now)
    count = 1
    if source.group != NONE:
        key = chain(here.luck, np.uint64(DrawFor.GROUP))
        count = int(max(0.0, round(sample(world.plan.numbers, world.plan.distributions[source.group], key))))
    if source.limit > 0:
        count = min(count, source.limit - here.created)
    if welcome and count > 0:
        here.group = count
        here.created += count
        do_next(world, Agenda.ARRIVE, stream)
    close_if_over(world, stream)
    if not is_planned_ahead(source.kind) and here.over == 0:
        schedule_arrival(world, stream)


@part
def arrive(world: World, stream: int) -> None:
    """Let one case of the stream's present group arrive."""
    here = world.sources[stream]
    here.group -= 1
    if here.group > 0:
        do_next(world, Agenda.ARRIVE, stream)
    clock = world.clock[0]
    case = new_token(world)
    who = world.cases[case]
    clock.cases += 1
    clock.inside += 1
    who.number = clock.cases
    who.stream = stream
    who.token_kind = TokenKind.CASE
    who.weight = 1
    who.luck = here.luck
    if here.group > 0:
        who.luck = chain(who.luck, np.uint64(here.group))
    give_type(world, case)
    if world.plan.run[0].first_checkpoint < world.plan.run[0].spans:
        start_checkpoints(world, case)
    world.stream_tally[stream].arrived += 1
    world.type_tally[who.type].arrived += 1
    note(world, Note.ARRIVED, case, NONE, NONE)
    change_inside(world, case, 1)
    who.step = at_one_place(world, case, world.plan.streams[stream].to)
    do_next(world, Agenda.ENTER, case)


@part
def give_type(world: World, case: int) -> None:
    """Give a new case its type, its priority, its due time and its traits."""
    who = world.cases[case]
    clock = world.clock[0]
    source = world.plan.streams[who.stream]
    here = world.sources[who.stream]
    who.type = NONE
    date = source.first_date + here.occasion
    if source.kind == StreamKind.DATES:
        who.type = world.plan.dates[date].type
    if who.type == NONE:
        draw = uniform(chain(who.luck, np.uint64(DrawFor.TYPE)), 0)
        who.type = first_share_above(world.plan.numbers, mix_at(world, who.stream), world.plan.run[0].types, draw)
    kind = world.plan.types[who.type]
    who.priority = kind.priority
    who.due = clock.now + kind.due
    if source.kind == StreamKind.APPOINTMENTS:
        who.due = here.appointed_at + (kind.due if kind.due < NEVER else 0.0)
    if kind.starts > 0:
        set_traits(world, case, kind.first_start, kind.starts)
    if source.starts > 0:
        set_traits(world, case, source.first_start, source.starts)
    if source.kind == StreamKind.DATES:
        set_traits(world, case, world.plan.dates[date].first_start, world.plan.dates[date].starts)


@part
def mix_at(world: World, stream: int) -> int:
    """Return where the mix of a stream at this time of day begins."""
    source = world.plan.streams[stream]
    minute = (world.plan.run[0].start_minute + world.clock[0].now) % DAY
    for number in range(source.hour_mixes):
        entry = source.hours + 3 * number
        if world.plan.lists[entry] <= minute < world.plan.lists[entry + 1]:
            return world.plan.lists[entry + 2]
    return source.mix
