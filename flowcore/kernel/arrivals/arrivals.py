"""A case arrives."""

import numpy as np

from flowcore.kernel.accounts.deadlines import start_checkpoints
from flowcore.kernel.accounts.levels import change_inside
from flowcore.kernel.arrivals.appointments import plan_day
from flowcore.kernel.arrivals.calendars import is_open_at
from flowcore.kernel.arrivals.streams import DAY, close_if_over, is_planned_ahead, plan_interval, schedule_arrival
from flowcore.kernel.clockwork.agenda import is_next, push_back
from flowcore.kernel.clockwork.draws import case_luck, chain, uniform
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StreamKind
from flowcore.kernel.records.kinds import NEVER, NONE, Agenda, DrawFor, Note, TokenKind
from flowcore.kernel.records.world import World
from flowcore.kernel.way.routes import at_one_place, first_share_above, set_traits
from flowcore.kernel.way.tokens import new_token


@rare
def plan_period(world: World, stream: int) -> None:
    """Schedule what a stream brings next: an interval's exact count, or a day's appointments."""
    if world.plan.streams[stream].kind == StreamKind.EXACT_PROFILE:
        plan_interval(world, stream)
    else:
        plan_day(world, stream)


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
def occasion_comes(world: World, stream: int, occasion: int) -> int:
    """Let a case or a group arrive on an occasion, unless doors or calendar are shut; schedule the next.

    Returns who is to `enter` next, or NONE.
    """
    source = world.plan.streams[stream]
    here = world.sources[stream]
    clock = world.clock[0]
    call_up(world, stream, occasion)
    in_time = source.kind == StreamKind.APPOINTMENTS or source.opens_at <= clock.now <= source.shuts_at
    welcome = clock.doors_open == 1 and in_time
    if source.calendar != NONE and source.kind != StreamKind.RANDOM and source.kind != StreamKind.CHANCE:
        welcome = welcome and is_open_at(world.plan.numbers, world.plan.calendars[source.calendar], clock.now)
    count = 1
    if source.group != NONE:
        key = chain(here.luck, np.uint64(DrawFor.GROUP))
        count = int(max(0.0, round(sample(world.plan.numbers, world.plan.distributions[source.group], key))))
    if source.limit > 0:
        count = min(count, source.limit - here.created)
    comes = welcome and count > 0
    at_once = comes and is_next(world)
    if comes:
        here.group = count
        here.created += count
    if comes and not at_once:
        push_back(world, Agenda.ARRIVE, stream)
    close_if_over(world, stream)
    if not is_planned_ahead(source.kind) and here.over == 0:
        schedule_arrival(world, stream)
    return arrive(world, stream) if at_once else NONE


@rare
def next_arrives(world: World, stream: int) -> int:
    """Let the next case of a stream's present group arrive; return who is to `enter` next, or NONE."""
    return arrive(world, stream)


@part
def arrive(world: World, stream: int) -> int:
    """Let one case of the stream's present group arrive; return it where it is to `enter` next, or NONE."""
    here = world.sources[stream]
    here.group -= 1
    if here.group > 0:
        push_back(world, Agenda.ARRIVE, stream)
    clock = world.clock[0]
    clock.last_moved = clock.now
    case_id = new_token(world)
    case = world.cases[case_id]
    clock.cases += 1
    clock.inside += 1
    case.number = clock.cases
    case.stream = stream
    case.token_kind = TokenKind.CASE
    case.weight = 1
    case.luck = here.luck
    if here.group > 0:
        case.luck = chain(case.luck, np.uint64(here.group))
    give_type(world, case_id)
    if world.plan.run[0].first_checkpoint < world.plan.run[0].spans:
        start_checkpoints(world, case_id)
    world.stream_tally[stream].arrived += 1
    world.type_tally[case.type].arrived += 1
    note(world, Note.ARRIVED, case_id, NONE, NONE)
    change_inside(world, case_id, 1)
    case.step = at_one_place(world, case_id, world.plan.streams[stream].to)
    if is_next(world):
        return case_id
    push_back(world, Agenda.ENTER, case_id)
    return NONE


@part
def give_type(world: World, case_id: int) -> None:
    """Give a new case its type, its priority, its due time and its traits."""
    case = world.cases[case_id]
    clock = world.clock[0]
    source = world.plan.streams[case.stream]
    here = world.sources[case.stream]
    case.type = NONE
    date = source.first_date + here.occasion
    if source.kind == StreamKind.DATES:
        case.type = world.plan.dates[date].type
    if case.type == NONE and world.plan.run[0].types == 1:
        case.type = 0
    elif case.type == NONE:
        draw = uniform(chain(case.luck, np.uint64(DrawFor.TYPE)), 0)
        case.type = first_share_above(world.plan.numbers, mix_at(world, case.stream), world.plan.run[0].types, draw)
    kind = world.plan.types[case.type]
    case.priority = kind.priority
    case.due = clock.now + kind.due
    if source.kind == StreamKind.APPOINTMENTS:
        case.due = here.appointed_at + (kind.due if kind.due < NEVER else 0.0)
    if kind.starts > 0:
        set_traits(world, case_id, kind.first_start, kind.starts)
    if source.starts > 0:
        set_traits(world, case_id, source.first_start, source.starts)
    if source.kind == StreamKind.DATES:
        set_traits(world, case_id, world.plan.dates[date].first_start, world.plan.dates[date].starts)


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
