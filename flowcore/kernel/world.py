"""The making of a world, its growth, and the settling of its accounts."""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any, cast

import numpy as np

from flowcore.kernel import kinds as k
from flowcore.kernel import plan as p
from flowcore.kernel import state as s
from flowcore.kernel.loop import advance, close_books, open_up
from flowcore.kernel.records import R, Table, blank, layout, table

_FIRST_CASES = 256
_FIRST_ROWS = 4096
_FIRST_FEW = 16
MOST_SERIES_CELLS = 2_000_000
MOST_BYTES = 600_000_000
"""A world that has filled this does not grow any more: with its figures it would need more than a worker has."""
_MANY_BYTES = 50_000_000
_BYTES_OF_A_CASE = layout(s.Case).itemsize + 8 * s.MINUTE_COLUMNS


_LEDGER = ("visits", "departures", "spans", "notes")
_GROWING = ("cases", "minutes", "extras", "memory", "events", "agenda", "parties", "timers", "bookings", *_LEDGER)
_CACHE_LINE = 64


class Deadlock(Exception):
    """Raised where cases are inside and nothing will ever happen to them."""

    def __init__(self, world: s.World) -> None:
        super().__init__("The service stands still.")
        self.world = world


class NoRoom(Exception):
    """Raised where a replication would need more memory than there may be."""

    def __init__(self, world: s.World) -> None:
        super().__init__("The memory is full.")
        self.world = world


class EndlessInstant(Exception):
    """Raised where so much happens at one instant that the clock will never go on."""

    def __init__(self, world: s.World) -> None:
        super().__init__("Time stands still.")
        self.world = world


class Worlds:
    """The replications of a plan, one after another in the same memory; each is as if it were the first."""

    def __init__(self, plan: p.Plan) -> None:
        self._first = _together(_first_world(plan))
        self._states = [(state, state.copy()) for state in self._bytes_of_state()]

    def begin(self, seed: int, replication: int) -> s.World:
        """Return a replication at its first instant: nobody inside, everyone idle, streams open.

        `seed` and `replication` are whole numbers from zero; together they decide everything. The one before, and
        its ledger, are written over.
        """
        for state, first in self._states:
            state[:] = first
        with np.errstate(over="ignore"):
            open_up(self._first, np.uint64(seed), np.uint64(replication))
        return self._first

    def keep(self, world: s.World) -> None:
        """Have the next replications use the memory to which one has grown."""
        grown: dict[str, Any] = {}
        for name, value in _arrays_of(world):
            before = getattr(self._first, name)
            if _memory_of(value) is not _memory_of(before):
                grown[name] = value if name in _LEDGER else value[: len(before)]
        if grown:
            self._first = replace(self._first, **grown)
            first = [copy for _, copy in self._states]
            self._states = list(zip(self._bytes_of_state(), first, strict=True))

    def _bytes_of_state(self) -> list[np.ndarray]:
        """Return the memory of all of the world but its ledger, as bytes."""
        return [_as_bytes(value) for name, value in _arrays_of(self._first) if name not in _LEDGER and value.size]


def new_world(plan: p.Plan, seed: int, replication: int) -> s.World:
    """Return a replication in memory of its own: see `Worlds`."""
    return Worlds(plan).begin(seed, replication)


def series_columns(plan: p.Plan) -> int:
    """Return how many figures are collected by interval."""
    run = plan.run[0]
    return int(run.document_steps + run.types + k.MEMBER_STATES * len(plan.teams) + len(plan.streams) + 1)


def series_rows(plan: p.Plan) -> int:
    """Return how many intervals the whole run has, the first and the last perhaps in part."""
    run = plan.run[0]
    return int((run.start_minute % run.interval + run.length) // run.interval) + 1


def _first_world(plan: p.Plan) -> s.World:
    """Return a world in which nothing has happened yet, and in which the clocks are still to be started."""
    run = plan.run[0]
    steps, types, teams = int(run.document_steps), int(run.types), len(plan.teams)
    members = int(plan.teams.members.sum())
    levels = 2 * (steps + types) + int(run.rooms)
    columns = series_columns(plan)
    rows = 10080 // int(run.interval) if run.folds else series_rows(plan)
    rooms = int(plan.lines.room.max()) + 1 if len(plan.lines) else 0
    asks = int(plan.pools.asks.sum())
    wear = _wear(plan)
    most_needs = int(plan.pools.needs.max()) if len(plan.pools) else 0
    world = s.World(
        plan=plan,
        clock=blank(s.Clock, 1),
        cases=blank(s.Case, 0),
        minutes=np.zeros((0, s.MINUTE_COLUMNS)),
        extras=np.zeros((0, int(run.traits + s.SPAN_MARKS * run.spans))),
        memory=np.zeros((0, int(run.names + run.counters + run.awaiting + 2 * run.ways_ahead)), np.int64),
        events=blank(s.Event, _FIRST_ROWS + len(wear) + len(plan.streams) + len(plan.steps)),
        agenda=blank(s.AgendaItem, 64),
        lines=blank(s.LineState, len(plan.lines)),
        rooms=blank(s.WaitingRoom, rooms),
        pools=blank(s.PoolState, len(plan.pools)),
        stalled=blank(s.Queue, len(plan.pools)),
        pool_minutes=np.zeros((len(plan.pools), k.POOL_CAUSES)),
        asks=blank(s.PoolOfTeam, asks),
        teams=blank(s.TeamState, teams),
        still=np.zeros(max(1, most_needs), np.int64),
        rows=blank(s.RowState, len(plan.rows)),
        members=blank(s.Member, members),
        member_time=np.zeros((members, 2 * k.MEMBER_STATES)),
        wear=wear,
        steps=blank(s.StepState, len(plan.steps)),
        links=blank(s.LinkState, len(plan.links)),
        sources=blank(s.StreamState, len(plan.streams)),
        parties=blank(s.Party, 0),
        timers=blank(s.Timer, 0),
        bookings=blank(s.Booking, 0),
        deadlines=blank(s.DeadlineState, len(plan.deadlines)),
        measured=blank(s.Measured, len(plan.measures)),
        levels=blank(s.Level, levels),
        level_minutes=np.zeros((levels, s.LEVEL_BINS)),
        step_tally=blank(s.Tally, steps),
        type_tally=blank(s.Tally, types),
        stream_tally=blank(s.Tally, len(plan.streams)),
        cause_minutes=np.zeros((steps + types + max(1, teams), k.ACCOUNTS)),
        hour_minutes=np.zeros((steps + types, k.ACCOUNTS)),
        steps_in_overtime=blank(s.Tally, steps),
        types_in_overtime=blank(s.Tally, types),
        streams_in_overtime=blank(s.Tally, len(plan.streams)),
        causes_in_overtime=np.zeros((steps + types + max(1, teams), k.ACCOUNTS)),
        value_minutes=np.zeros((types, k.VALUE_CLASSES)),
        marks=np.zeros(columns),
        series=np.zeros((rows, columns)),
        visits=blank(s.Visit, _FIRST_ROWS),
        departures=blank(s.Departure, _FIRST_ROWS),
        spans=blank(s.SpanRow, 0),
        notes=blank(s.NoteRow, 0),
    )
    _set_up(world)
    for more in (_with_more_cases, _with_more_parties, _with_more_timers, _with_more_bookings, _with_more_doings):
        world = more(world)
    return world


def _set_up(world: s.World) -> None:
    """Let all heads be empty, all members off, and everything open that no timeline opens."""
    plan = world.plan
    clock = world.clock[0]
    for name in ("free_case", "free_party", "free_timer", "free_booking", "first_touched", "first_reserving"):
        setattr(clock, name, k.NONE)
    clock.doors_open = 1
    clock.most_together = 1
    clock.trace_until = np.inf
    for records in (world.lines, world.rooms, world.teams, world.stalled, world.members):
        records.first[:] = k.NONE
        records.last[:] = k.NONE
    np.maximum.at(world.rooms.most, plan.lines.room, plan.lines.most)
    world.pools.first[:] = k.NONE
    world.pools.team[:] = k.NONE
    world.pools.cause[:] = k.Account.BUSY
    world.teams.first_ask[:] = k.NONE
    world.teams.first_attending[:] = k.NONE
    world.members.team[:] = np.repeat(np.arange(len(plan.teams)), plan.teams.members)
    for name in ("row", "case", "keep_until", "name", "last_type", "place", "step", "rest", "covers"):
        world.members[name][:] = k.NONE
    for number, row in enumerate(plan.rows):
        world.members.row[row.first_member : row.first_member + row.members] = number
    for team in plan.teams:
        world.members.place[team.first_member : team.first_member + team.members] = team.place
    for number, pool in enumerate(plan.pools):
        world.asks.pool[pool.first_ask : pool.first_ask + pool.asks] = number
        for ask in range(pool.first_ask, pool.first_ask + pool.asks):
            world.asks.team[ask] = plan.lists[pool.first_team + ask - pool.first_ask]
    for entry in plan.timeline[plan.timeline.at < 0.0]:
        _set_before_start(world, entry)
    clock.next_entry = int((plan.timeline.at < 0.0).sum())


def _set_before_start(world: s.World, entry: p.TimelineEntry) -> None:
    """Set what the timeline says was open or shut when the run starts."""
    if entry.kind in (k.TimelineKind.POOL_OPENS, k.TimelineKind.POOL_SHUTS):
        world.pools.shut[entry.subject] = entry.kind == k.TimelineKind.POOL_SHUTS
    elif entry.kind in (k.TimelineKind.SIGNAL_OPENS, k.TimelineKind.SIGNAL_SHUTS):
        world.steps.shut[entry.subject] = entry.kind == k.TimelineKind.SIGNAL_SHUTS
    elif entry.kind in (k.TimelineKind.DOORS_OPEN, k.TimelineKind.DOORS_SHUT):
        world.clock[0].doors_open = entry.kind == k.TimelineKind.DOORS_OPEN


def _wear(plan: p.Plan) -> Table[s.InterruptionClock]:
    """Return the clocks of all interruptions: one for each member, or one for the team."""
    rows = []
    for number, interrupt in enumerate(plan.interrupts):
        team = plan.teams[interrupt.team]
        members = range(team.first_member, team.first_member + team.members)
        for member in members if interrupt.strikes == k.Whom.EACH else [k.NONE]:
            rows.append((0.0, 0.0, 0, 0, 0, number, member))
    return table(s.InterruptionClock, rows)


def go_until(world: s.World, until: float) -> tuple[s.World, bool]:
    """Go on up to a time, or until somebody sets the clock's `pause`; return the world and whether it got there.

    The world returned is the one given, or a roomier copy of it, with the same clock. A run that its stop rule has
    ended stays at the time of its end. Raises StandStill, EndlessInstant and NoRoom.
    """
    world.clock[0].until = until
    with np.errstate(over="ignore"):
        code = advance(world)
    while code in _ROOM:
        if _bytes_of(world) > MOST_BYTES + _margin(world) * _BYTES_OF_A_CASE:
            raise NoRoom(world)
        world = _ROOM[code](world)
        with np.errstate(over="ignore"):
            code = advance(world)
    if code == k.Code.DEADLOCK:
        raise Deadlock(world)
    if code == k.Code.GOES_ROUND:
        raise EndlessInstant(world)
    return world, code == k.Code.ENDED


def settle(world: s.World) -> None:
    """Book everything up to now, so that nothing is lost at the edge."""
    close_books(world)


def start_afresh(world: s.World) -> None:
    """Forget what was counted so far: the warm-up is over."""
    settle(world)
    world.levels["area"] = 0.0
    world.levels["overtime"] = 0.0
    world.levels["highest"] = world.levels.now
    caused = (world.cause_minutes, world.causes_in_overtime, world.hour_minutes)
    minutes = (*caused, world.member_time, world.value_minutes)
    for numbers in (world.level_minutes, world.marks, *minutes):
        numbers[:] = 0.0
    world.marks[-1] = world.clock[0].completed
    regular = (world.step_tally, world.type_tally, world.stream_tally)
    in_overtime = (world.steps_in_overtime, world.types_in_overtime, world.streams_in_overtime)
    for records in (*regular, *in_overtime, world.links, world.deadlines, world.measured):
        records[:] = np.zeros((), records.dtype)
    for timer in world.timers[world.timers.case != k.NONE]:
        world.deadlines.started[timer.deadline] += timer.missed == 0
    world.teams.uses[:] = world.teams.uses_in_overtime[:] = 0
    clock = world.clock[0]
    clock.overtime_minutes = 0.0
    clock.visits = clock.departures = clock.span_rows = 0


def _memory_of(array: np.ndarray) -> np.ndarray:
    """Return the array that owns the memory in which an array lies."""
    while isinstance(array.base, np.ndarray):
        array = array.base
    return array


def _grown(array: Any, rows: int) -> Any:
    """Return an array of so many rows, the first as they are, the others blank; where it can, in the same memory."""
    shape = (rows, *array.shape[1:])
    whole = _memory_of(array)
    if whole.nbytes < math.prod(shape) * array.itemsize:
        grown = np.zeros(shape, array.dtype).view(type(array))
        _as_bytes(grown)[: array.nbytes] = _as_bytes(array)
        return grown
    grown = np.ndarray(shape, array.dtype, whole).view(type(array))
    _as_bytes(grown)[array.nbytes :] = 0
    return grown


def _together(world: s.World) -> s.World:
    """Return a world whose arrays that do not grow lie in one piece of memory, which no other thread touches."""
    fixed = [(name, array) for name, array in _arrays_of(world) if name not in _GROWING and array.size]
    lines = [1 + array.nbytes // _CACHE_LINE for _, array in fixed]
    memory = np.zeros((sum(lines) + 1) * _CACHE_LINE, np.uint8)
    place = -memory.ctypes.data % _CACHE_LINE
    moved: dict[str, Any] = {}
    for (name, array), many in zip(fixed, lines, strict=True):
        moved[name] = np.ndarray(array.shape, array.dtype, memory, place).view(type(array))
        _as_bytes(moved[name])[:] = _as_bytes(array)
        place += many * _CACHE_LINE
    return replace(world, **moved)


def _as_bytes(array: np.ndarray) -> np.ndarray:
    """Return the memory of an array as bytes, which are copied at once, not field by field."""
    return array.reshape(-1).view(np.ndarray).view(np.uint8)


def _arrays_of(world: s.World) -> list[tuple[str, Any]]:
    return [(name, value) for name, value in vars(world).items() if isinstance(value, np.ndarray) and name != "block"]


def _bytes_of(world: s.World) -> int:
    """Return how much memory the records of a world take."""
    return sum(value.nbytes for _, value in _arrays_of(world))


def _margin(world: s.World) -> int:
    """Return how many records there must be room for at each look: `lacks_room` of the loop."""
    return int(world.plan.run[0].margin * world.clock[0].most_together)


def _more(known: int, size: int) -> int:
    """Return how many records there should be after so many of a size: twice, or half as many again of very many."""
    return 2 * known if known * size < _MANY_BYTES else known + known // 2


def _larger(world: s.World, records: Table[R]) -> Table[R]:
    return _grown(records, _more(len(records), records.itemsize) + _margin(world))


def _with_more_cases(world: s.World) -> s.World:
    """Make more room for cases and chain the new records up as free."""
    clock = world.clock[0]
    known = len(world.cases)
    size = max(_more(known, _BYTES_OF_A_CASE), _FIRST_CASES) + _margin(world)
    cases = _grown(world.cases, size)
    cases.next[known:] = np.arange(known + 1, size + 1)
    cases.next[-1] = clock.free_case
    clock.free_case = known
    return replace(
        world,
        cases=cases,
        minutes=_grown(world.minutes, size),
        extras=_grown(world.extras, size),
        memory=_grown(world.memory, size),
    )


def _with_more(world: s.World, records: Table[R], link: str, free: str) -> Table[R]:
    """Return more records, the new ones chained up by `link` as free; `free` is the clock's first of them."""
    known = len(records)
    size = max(_more(known, records.itemsize), _FIRST_FEW) + _margin(world)
    grown: Table[R] = _grown(records, size)
    clock = world.clock[0]
    grown[link][known:] = np.arange(known + 1, size + 1)
    grown[link][-1] = getattr(clock, free)
    setattr(clock, free, known)
    return grown


def _with_more_parties(world: s.World) -> s.World:
    return replace(world, parties=_with_more(world, world.parties, "next_free", "free_party"))


def _with_more_timers(world: s.World) -> s.World:
    known = len(world.timers)
    timers = _with_more(world, world.timers, "next", "free_timer")
    timers.case[known:] = k.NONE
    return replace(world, timers=timers)


def _with_more_bookings(world: s.World) -> s.World:
    return replace(world, bookings=_with_more(world, world.bookings, "next", "free_booking"))


def _with_more_doings(world: s.World) -> s.World:
    """Make a larger agenda, a power of two long, with what is on it from its start."""
    clock = world.clock[0]
    size = len(world.agenda)
    while size < clock.doings + _margin(world):
        size *= 2
    agenda = _grown(np.roll(cast(Any, world.agenda), -int(clock.first_doing)).view(np.recarray), 2 * size)
    clock.first_doing = 0
    return replace(world, agenda=agenda)


_ROOM: dict[int, Callable[[s.World], s.World]] = {
    k.Code.NEEDS_CASES: _with_more_cases,
    k.Code.NEEDS_EVENTS: lambda world: replace(world, events=_larger(world, world.events)),
    k.Code.NEEDS_VISITS: lambda world: replace(world, visits=_larger(world, world.visits)),
    k.Code.NEEDS_DEPARTURES: lambda world: replace(world, departures=_larger(world, world.departures)),
    k.Code.NEEDS_SPANS: lambda world: replace(world, spans=_larger(world, world.spans)),
    k.Code.NEEDS_NOTES: lambda world: replace(world, notes=_larger(world, world.notes)),
    k.Code.NEEDS_AGENDA: _with_more_doings,
    k.Code.NEEDS_PARTIES: _with_more_parties,
    k.Code.NEEDS_TIMERS: _with_more_timers,
    k.Code.NEEDS_BOOKINGS: _with_more_bookings,
}
