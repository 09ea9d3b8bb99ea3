"""The event list, by time, then by rank, then first scheduled first.

The next few events stand in their order, the next one last, so that it is off the list at once and a new one finds its
place in few steps; all that come after these are in a binary heap. While there are any events, one is among the next.
"""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, EventKind, Rank
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import MOST_SOON, Event, World

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
    if clock.soon == MOST_SOON:
        put_half_off(world)
    if clock.later > 0 and comes_before(world.soon[0], time, order):
        event = world.later[place_among_later(world, time, order)]
    else:
        event = world.soon[place_among_soon(world, time, order)]
    event.time = time
    event.order = order
    event.subject = subject
    event.stamp = stamp
    event.argument = argument


@part
def comes_before(event: Event, time: float, order: int) -> bool:
    """Say whether an event comes before one of this time and order."""
    return event.time < time or (event.time == time and event.order < order)


@part
def place_among_soon(world: World, time: float, order: int) -> int:
    """Make room for an event among the next, all that come before it one place on; return its place."""
    clock, soon = world.clock[0], world.soon
    place = clock.soon
    clock.soon += 1
    while place > 0 and comes_before(soon[place - 1], time, order):
        soon[place] = soon[place - 1]
        place -= 1
    return place


@rare
def place_among_later(world: World, time: float, order: int) -> int:
    """Make room for an event on the heap of those that come later; return its place."""
    clock, later = world.clock[0], world.later
    place = clock.later
    clock.later += 1
    while place > 0:
        above = (place - 1) >> 1
        if comes_before(later[above], time, order):
            break
        later[place] = later[above]
        place = above
    return place


@rare
def put_half_off(world: World) -> None:
    """Let the later half of the next events, of which there is room for no more, come later."""
    clock, soon = world.clock[0], world.soon
    half = MOST_SOON // 2
    for place in range(half):
        world.later[place_among_later(world, soon[place].time, soon[place].order)] = soon[place]
        soon[place] = soon[place + half]
    clock.soon = half


@part
def roster_goes_on(world: World) -> bool:
    """Say whether more comes or goes at this very instant by a roster, a calendar or an interruption."""
    clock = world.clock[0]
    if clock.soon == 0:
        return False
    first = next_event(world)
    return first.time <= clock.now and first.order >> _RANK_SHIFT <= Rank.ROSTER


@part
def next_event(world: World) -> Event:
    """Return the earliest event, where there is any."""
    return world.soon[world.clock[0].soon - 1]


@part
def listed_event(world: World, number: int) -> Event:
    """Return one of the events on the list; they are numbered in no order."""
    soon = world.clock[0].soon
    return world.soon[number] if number < soon else world.later[number - soon]


@part
def drop_first(world: World) -> None:
    """Take the earliest event off the list."""
    clock = world.clock[0]
    clock.soon -= 1
    if clock.soon == 0 and clock.later > 0:
        refill(world)


@rare
def refill(world: World) -> None:
    """Let the first of those that come later be the next."""
    clock = world.clock[0]
    clock.soon = min(MOST_SOON // 2, clock.later)
    for place in range(clock.soon - 1, -1, -1):
        world.soon[place] = world.later[0]
        clock.later -= 1
        drop_top(world.later, clock.later)


@part
def drop_top(heap: Table[Event], count: int) -> None:
    """Take the earliest event off a heap on which `count` stay, the last of which lies behind them."""
    last = heap[count]
    place = 0
    below = 1
    while below < count:
        if below + 1 < count and comes_before(heap[below + 1], heap[below].time, heap[below].order):
            below += 1
        if comes_before(last, heap[below].time, heap[below].order):
            break
        heap[place] = heap[below]
        place = below
        below = 2 * place + 1
    heap[place] = last
