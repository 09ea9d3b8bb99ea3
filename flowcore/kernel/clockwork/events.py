"""The event list: a binary heap by time, then by rank, then first scheduled first."""

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.kinds import NONE, EventKind, Rank
from flowcore.kernel.records.world import World

_RANK_SHIFT = 56
_KIND_BITS = 8
_OF_KIND = (1 << _KIND_BITS) - 1


@part
def moves_cases(kind: int) -> bool:
    """Say whether an event of this kind is a sign that the cases inside still move."""
    return (
        kind == EventKind.END_OF_WORK
        or kind == EventKind.END_OF_TRAVEL
        or kind == EventKind.MEMBER_ARRIVES
        or kind == EventKind.PATIENCE_OVER
        or kind == EventKind.MINIMUM_OVER
        or kind == EventKind.DEADLINE_DUE
    )


@part
def kind_of(order: int) -> int:
    """Return the kind of an event of this order."""
    return order & _OF_KIND


@part
def schedule(world: World, time: float, rank: int, kind: int, subject: int, stamp: int) -> None:
    """Put an event on the list; it falls away if its subject has another stamp by then."""
    put_on_list(world, time, rank, kind, subject, stamp, NONE)


@part
def schedule_with(world: World, time: float, rank: int, kind: int, subject: int, argument: int) -> None:
    """Put an event on the list that surely happens, with what else it is about."""
    put_on_list(world, time, rank, kind, subject, 0, argument)


@part
def put_on_list(world: World, time: float, rank: int, kind: int, subject: int, stamp: int, argument: int) -> None:
    """Put an event on the list."""
    clock = world.clock[0]
    clock.scheduled += 1
    clock.live += moves_cases(kind)
    order = (rank << _RANK_SHIFT) | (clock.scheduled << _KIND_BITS) | kind
    events = world.events
    place = clock.events
    clock.events += 1
    while place > 0:
        above = (place - 1) >> 1
        if events[above].time < time or (events[above].time == time and events[above].order < order):
            break
        events[place] = events[above]
        place = above
    event = events[place]
    event.time = time
    event.order = order
    event.subject = subject
    event.stamp = stamp
    event.argument = argument


@part
def roster_goes_on(world: World) -> bool:
    """Say whether more comes or goes at this very instant by a roster, a calendar or an interruption."""
    clock = world.clock[0]
    if clock.events == 0:
        return False
    first = world.events[0]
    return first.time <= clock.now and first.order >> _RANK_SHIFT <= Rank.ROSTER


@part
def drop_first(world: World) -> None:
    """Take the earliest event off the list."""
    clock = world.clock[0]
    events = world.events
    clock.events -= 1
    count = clock.events
    time, order = events[count].time, events[count].order
    place = 0
    below = 1
    while below < count:
        earliest = events[below].time
        if below + 1 < count:
            beside = events[below + 1].time
            if beside < earliest or (beside == earliest and events[below + 1].order < events[below].order):
                below += 1
                earliest = beside
        if time < earliest or (time == earliest and order < events[below].order):
            break
        events[place] = events[below]
        place = below
        below = 2 * place + 1
    events[place] = events[count]
