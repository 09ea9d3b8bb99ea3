"""The memory of a world: how much it takes, and how it grows where a buffer is full."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any, cast

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import state as s
from flowcore.kernel.records.ledger import MINUTE_COLUMNS
from flowcore.kernel.records.record import R, Table, layout
from flowcore.kernel.records.world import World

LEDGER = ("visits", "visit_extras", "departures", "spans", "notes", "seen_cases", "seen_members", "changes")
ROWS_OF_CASES = ("cases", "turns", "minutes", "traits_and_marks", "memory")
FOUND_AS_IT_WAS = (*ROWS_OF_CASES, "forks", "batches", "timers", "bookings")
"""What grows and is read before it is written."""
_GROWING = (*FOUND_AS_IT_WAS, "later", "agenda", *LEDGER)
_CACHE_LINE = 64

MOST_BYTES = 600_000_000
"""A world that has filled this does not grow any more: with its figures it would need more than a worker has."""
_MANY_BYTES = 50_000_000
_RESERVE = 4
"""New memory of fewer than _MANY_BYTES has room for so many times the rows that are needed."""
_FIRST_CASES = 256
_FIRST_FEW = 16
_BYTES_OF_A_CASE = layout(s.Case).itemsize + layout(s.Turn).itemsize + 8 * MINUTE_COLUMNS


class NoRoom(Exception):
    """Raised where a replication would need more memory than there may be."""

    def __init__(self, world: World) -> None:
        super().__init__("The memory is full.")
        self.world = world


def memory_of(array: np.ndarray) -> np.ndarray:
    """Return the array that owns the memory in which an array lies."""
    while isinstance(array.base, np.ndarray):
        array = array.base
    return array


def _grown(array: Any, rows: int) -> Any:
    """Return an array of so many rows, the first as they are, the others blank; where it can, in the same memory."""
    grown = _longer(array, rows)
    if memory_of(grown) is memory_of(array):
        as_bytes(grown)[array.nbytes :] = 0
    return grown


def _longer(array: Any, rows: int) -> Any:
    """Return an array of so many rows, the first as they are; new memory is reserved for more, if they are not many.

    What is reserved is blank, and none is taken before it is written to.
    """
    shape = (rows, *array.shape[1:])
    whole = memory_of(array)
    if whole.nbytes >= math.prod(shape) * array.itemsize:
        return np.ndarray(shape, array.dtype, whole).view(type(array))
    reserved = _RESERVE * rows if math.prod(shape) * array.itemsize < _MANY_BYTES else rows
    longer = np.zeros((reserved, *shape[1:]), array.dtype)[:rows].view(type(array))
    as_bytes(longer)[: array.nbytes] = as_bytes(array)
    return longer


def together(world: World) -> tuple[World, np.ndarray]:
    """Return a world whose arrays that do not grow lie in one piece of memory, and that piece, as bytes.

    No other thread touches it.
    """
    fixed = [(name, array) for name, array in arrays_of(world) if name not in _GROWING and array.size]
    lines = [1 + array.nbytes // _CACHE_LINE for _, array in fixed]
    memory = np.zeros((sum(lines) + 1) * _CACHE_LINE, np.uint8)
    place = -memory.ctypes.data % _CACHE_LINE
    moved: dict[str, Any] = {}
    for (name, array), many in zip(fixed, lines, strict=True):
        moved[name] = np.ndarray(array.shape, array.dtype, memory, place).view(type(array))
        as_bytes(moved[name])[:] = as_bytes(array)
        place += many * _CACHE_LINE
    return replace(world, **moved), memory


def as_bytes(array: np.ndarray) -> np.ndarray:
    """Return the memory of an array as bytes, which are copied at once, not field by field."""
    return array.reshape(-1).view(np.ndarray).view(np.uint8)


def arrays_of(world: World) -> list[tuple[str, Any]]:
    """Return the arrays of a world, each with its name."""
    return [(name, value) for name, value in vars(world).items() if isinstance(value, np.ndarray) and name != "block"]


def _bytes_of(world: World) -> int:
    """Return how much memory the records of a world take."""
    return sum(value.nbytes for _, value in arrays_of(world))


def _margin(world: World) -> int:
    """Return how many records there must be room for at each look: `buffer_to_grow`."""
    return int(world.plan.run[0].margin * world.clock[0].most_together)


def _more(known: int, size: int) -> int:
    """Return how many records there should be after so many of a size: twice, or half as many again of very many."""
    return 2 * known if known * size < _MANY_BYTES else known + known // 2


def _larger(world: World, records: Table[R]) -> Table[R]:
    """Return room for more of what is written before it is read."""
    return _longer(records, _more(len(records), records.itemsize) + _margin(world))


def _with_more_visits(world: World) -> World:
    visits = _larger(world, world.visits)
    return replace(world, visits=visits, visit_extras=_longer(world.visit_extras, len(visits)))


def _with_more_cases(world: World) -> World:
    """Make more room for cases and chain the new records up behind those that are free, so that low ones are used."""
    clock = world.clock[0]
    known = len(world.cases)
    size = max(_more(known, _BYTES_OF_A_CASE), _FIRST_CASES) + _margin(world)
    turns = _grown(world.turns, size)
    turns.next[known:] = np.arange(known + 1, size + 1)
    turns.next[-1] = k.NONE
    last = _last_free(world)
    if last == k.NONE:
        clock.free_case = known
    else:
        turns.next[last] = known
    return replace(
        world,
        cases=_grown(world.cases, size),
        turns=turns,
        minutes=_grown(world.minutes, size),
        traits_and_marks=_grown(world.traits_and_marks, size),
        memory=_grown(world.memory, size),
        seen_cases=_grown(world.seen_cases, size if world.clock[0].watching else 0),
    )


def _last_free(world: World) -> int:
    """Return the last of the free records of cases, or NONE: mostly the last of all, which was never used."""
    if len(world.cases) and world.cases.stamp[-1] == 0:
        return len(world.cases) - 1
    following, free = world.turns.next, int(world.clock[0].free_case)
    while free != k.NONE and following[free] != k.NONE:
        free = int(following[free])
    return free


def _with_more(world: World, records: Table[R], link: str, free: str) -> Table[R]:
    """Return more records, the new ones chained up by `link` as free; `free` is the clock's first of them."""
    known = len(records)
    size = max(_more(known, records.itemsize), _FIRST_FEW) + _margin(world)
    grown: Table[R] = _grown(records, size)
    clock = world.clock[0]
    grown[link][known:] = np.arange(known + 1, size + 1)
    grown[link][-1] = getattr(clock, free)
    setattr(clock, free, known)
    return grown


def _with_more_forks(world: World) -> World:
    return replace(world, forks=_with_more(world, world.forks, "next_free", "free_fork"))


def _with_more_batches(world: World) -> World:
    return replace(world, batches=_with_more(world, world.batches, "next_free", "free_batch"))


def _with_more_timers(world: World) -> World:
    known = len(world.timers)
    timers = _with_more(world, world.timers, "next", "free_timer")
    timers.case[known:] = k.NONE
    return replace(world, timers=timers)


def _with_more_bookings(world: World) -> World:
    return replace(world, bookings=_with_more(world, world.bookings, "next", "free_booking"))


def _with_more_agenda(world: World) -> World:
    """Make a larger agenda, a power of two long, with what is on it from its start."""
    clock = world.clock[0]
    size = len(world.agenda)
    while size < clock.agenda_length + _margin(world):
        size *= 2
    agenda = _grown(np.roll(cast(Any, world.agenda), -int(clock.agenda_start)).view(np.recarray), 2 * size)
    clock.agenda_start = 0
    return replace(world, agenda=agenda)


_GROW: dict[int, Callable[[World], World]] = {
    k.Code.NEEDS_CASES: _with_more_cases,
    k.Code.NEEDS_EVENTS: lambda world: replace(world, later=_larger(world, world.later)),
    k.Code.NEEDS_VISITS: _with_more_visits,
    k.Code.NEEDS_DEPARTURES: lambda world: replace(world, departures=_larger(world, world.departures)),
    k.Code.NEEDS_SPANS: lambda world: replace(world, spans=_larger(world, world.spans)),
    k.Code.NEEDS_NOTES: lambda world: replace(world, notes=_larger(world, world.notes)),
    k.Code.NEEDS_AGENDA: _with_more_agenda,
    k.Code.NEEDS_FORKS: _with_more_forks,
    k.Code.NEEDS_BATCHES: _with_more_batches,
    k.Code.NEEDS_TIMERS: _with_more_timers,
    k.Code.NEEDS_BOOKINGS: _with_more_bookings,
}
_FIRST_ROOM = (
    k.Code.NEEDS_CASES,
    k.Code.NEEDS_FORKS,
    k.Code.NEEDS_BATCHES,
    k.Code.NEEDS_TIMERS,
    k.Code.NEEDS_BOOKINGS,
    k.Code.NEEDS_AGENDA,
)


def with_more_changes(world: World) -> World:
    """Return a world with room for what all cases and members may come to be at an instant, and for as much again."""
    size = world.clock[0].changes + len(world.cases) + len(world.members) + _FIRST_CASES
    return replace(world, changes=_grown(world.changes, _more(int(size), world.changes.itemsize)))


def grow(world: World, code: int) -> World:
    """Return a world with more room where the kernel has said, by one of the codes from NEEDS_CASES on, that it lacks.

    The records are the same; the world given is to be used no more. Raises NoRoom.
    """
    if _bytes_of(world) > MOST_BYTES + _margin(world) * _BYTES_OF_A_CASE:
        raise NoRoom(world)
    return _GROW[code](world)


def with_first_room(world: World) -> World:
    """Return a world with room for the first cases, and for what hangs on them."""
    for code in _FIRST_ROOM:
        world = _GROW[code](world)
    return world


def lacks_room(code: int) -> bool:
    """Say whether a code of the kernel says that a buffer is full."""
    return code in _GROW
