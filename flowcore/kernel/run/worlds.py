"""The making of a world, its going on, and the settling of its accounts."""

from dataclasses import replace
from typing import Any, cast

import numpy as np

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records import state as s
from flowcore.kernel.records.ledger import (
    LEVEL_BINS,
    MINUTE_COLUMNS,
    SPAN_MARKS,
    DeadlineState,
    Departure,
    Level,
    Measured,
    NoteRow,
    Seen,
    SpanRow,
    Tally,
    Visit,
    VisitExtra,
)
from flowcore.kernel.records.record import Table, blank, table
from flowcore.kernel.records.world import MOST_SOON, AgendaItem, Clock, Event, Plan, World
from flowcore.kernel.run.growth import (
    FOUND_AS_IT_WAS,
    LEDGER,
    ROWS_OF_CASES,
    arrays_of,
    as_bytes,
    grow,
    lacks_room,
    memory_of,
    together,
    with_first_room,
    with_more_changes,
)
from flowcore.kernel.run.loop import advance, close_books, open_up

_FIRST_ROWS = 4096
MOST_SERIES_CELLS = 2_000_000


class Deadlock(Exception):
    """Raised where cases are inside and nothing will ever happen to them."""

    def __init__(self, world: World) -> None:
        super().__init__("The service stands still.")
        self.world = world


class EndlessInstant(Exception):
    """Raised where so much happens at one instant that the clock will never go on."""

    def __init__(self, world: World) -> None:
        super().__init__("Time stands still.")
        self.world = world


class Worlds:
    """The replications of a plan, one after another in the same memory; each is as if it were the first."""

    def __init__(self, plan: Plan) -> None:
        self._first, self._fixed = together(_first_world(plan))
        self._fixed_at_first = self._fixed.copy()
        self._at_first = {name: as_bytes(getattr(self._first, name)).copy() for name in FOUND_AS_IT_WAS}
        self._memory = self._memory_of_first()

    def begin(self, seed: int, replication: int) -> World:
        """Return a replication at its first instant: nobody inside, everyone idle, streams open.

        Parameters
        ----------
        seed, replication
            Whole numbers from zero, below 2**64; with the plan they decide everything.

        Returns
        -------
        World
            In the memory of the replication before, which is written over with its ledger.
        """
        touched = self._cases_touched()
        forget_extras(self._first)
        self._fixed[:] = self._fixed_at_first
        for here, at_first, a_case in self._memory:
            bytes_ = touched * a_case if a_case else len(at_first)
            here[:bytes_] = at_first[:bytes_]
        with np.errstate(over="ignore"):
            open_up(self._first, np.uint64(seed), np.uint64(replication))
        return self._first

    def keep(self, world: World) -> None:
        """Have the next replications use the memory to which one has grown."""
        if world is self._first:
            return
        grown: dict[str, Any] = {}
        for name, value in arrays_of(world):
            before = getattr(self._first, name)
            if name in LEDGER and len(value) > len(before):
                grown[name] = value
            elif memory_of(value) is not memory_of(before):
                grown[name] = value[: len(before)]
        if grown:
            self._first = replace(self._first, **grown)
            self._memory = self._memory_of_first()

    def _memory_of_first(self) -> list[tuple[np.ndarray, np.ndarray, int]]:
        """Return what grows and must be found as it was at first, what it was then, and how much of it is a case's."""
        arrays = {name: getattr(self._first, name) for name in FOUND_AS_IT_WAS}
        return [
            (as_bytes(value), self._at_first[name], value.nbytes // len(value) if name in ROWS_OF_CASES else 0)
            for name, value in arrays.items()
            if value.size
        ]

    def _cases_touched(self) -> int:
        """Return how many records of cases have been used; of those that are free the lowest is used next."""
        used = np.flatnonzero(self._first.cases.view(np.ndarray)["stamp"])
        return min(len(self._first.cases), int(used[-1]) + 2) if len(used) else 1


def new_world(plan: Plan, seed: int, replication: int) -> World:
    """Return a replication in memory of its own: see `Worlds`."""
    return Worlds(plan).begin(seed, replication)


def rows_of_series(plan: Plan) -> int:
    """Return how many rows the series have: one an interval of the run, or of the week."""
    run = plan.run[0]
    return 10080 // int(run.interval) if run.by_week else series_rows(plan)


def series_rows(plan: Plan) -> int:
    """Return how many intervals the whole run has, the first and the last perhaps in part."""
    run = plan.run[0]
    return int((run.start_minute % run.interval + run.length) // run.interval) + 1


def _first_world(plan: Plan) -> World:
    """Return a world in which nothing has happened yet, and in which the clocks are still to be started."""
    run = plan.run[0]
    steps, types, teams = int(run.document_steps), int(run.types), len(plan.teams)
    members = int(plan.teams.members.sum())
    levels, causes = int(plan.sections.levels[0]), int(plan.sections.causes[0])
    columns = int(plan.sections.series[0])
    rooms = int(plan.lines.room.max()) + 1 if len(plan.lines) else 0
    clocks = _interruption_clocks(plan)
    most_needs = int(plan.pools.needs.max()) if len(plan.pools) else 0
    remembered = run.remembered + run.counters + run.awaiting
    world = World(
        plan=plan,
        clock=blank(Clock, 1),
        cases=blank(s.Case, 0),
        turns=blank(s.Turn, 0),
        minutes=np.zeros((0, MINUTE_COLUMNS)),
        traits_and_marks=np.zeros((0, int(run.traits + SPAN_MARKS * run.spans))),
        memory=np.zeros((0, int(remembered + 2 * run.ways_ahead + k.MESSAGE_COLUMNS * run.messages + 1)), np.int64),
        soon=blank(Event, MOST_SOON),
        later=blank(Event, _FIRST_ROWS + len(clocks) + len(plan.streams) + len(plan.steps)),
        agenda=blank(AgendaItem, 64),
        lines=blank(s.LineState, len(plan.lines)),
        lasts=np.full((len(plan.lines), int(plan.types.grade.max()) + 1), k.NONE),
        rooms=blank(s.WaitingRoom, rooms),
        pools=blank(s.PoolState, len(plan.pools)),
        stalled=blank(s.Queue, len(plan.pools)),
        pool_minutes=np.zeros((len(plan.pools), k.POOL_CAUSES)),
        incidences=blank(s.PoolOfTeam, int(plan.pools.incidences.sum())),
        teams=blank(s.TeamState, teams),
        unmet_needs=np.zeros(max(1, most_needs), np.int64),
        rows=blank(s.RowState, len(plan.rows)),
        members=blank(s.Member, members),
        member_time=np.zeros((members, 2 * k.MEMBER_STATES)),
        interruption_clocks=clocks,
        steps=blank(s.StepState, len(plan.steps)),
        links=blank(s.LinkState, len(plan.links)),
        sources=blank(s.StreamState, len(plan.streams)),
        forks=blank(s.Fork, 0),
        batches=blank(s.Batch, 0),
        timers=blank(s.Timer, 0),
        bookings=blank(s.Booking, 0),
        deadlines=blank(DeadlineState, len(plan.deadlines)),
        measured=blank(Measured, len(plan.measures)),
        levels=blank(Level, levels),
        level_minutes=np.zeros((levels, LEVEL_BINS)),
        step_tally=blank(Tally, steps),
        type_tally=blank(Tally, types),
        stream_tally=blank(Tally, len(plan.streams)),
        cause_minutes=np.zeros((causes, k.ACCOUNTS)),
        hour_minutes=np.zeros((int(plan.sections.team_causes[0]), k.ACCOUNTS)),
        steps_in_overtime=blank(Tally, steps),
        types_in_overtime=blank(Tally, types),
        streams_in_overtime=blank(Tally, len(plan.streams)),
        causes_in_overtime=np.zeros((causes, k.ACCOUNTS)),
        value_minutes=np.zeros((types, c.VALUE_CLASSES)),
        marks=np.zeros(columns),
        series=np.zeros((rows_of_series(plan), columns)),
        visits=blank(Visit, _FIRST_ROWS),
        visit_extras=blank(VisitExtra, _FIRST_ROWS),
        departures=blank(Departure, _FIRST_ROWS),
        spans=blank(SpanRow, 0),
        notes=blank(NoteRow, 0),
        seen_cases=blank(Seen, 0),
        seen_members=blank(Seen, 0),
        changes=blank(Seen, 0),
    )
    _set_up(world)
    return with_first_room(world)


def _set_up(world: World) -> None:
    """Let all heads be empty, all members off, and everything open that no timeline opens."""
    plan = world.plan
    clock = world.clock[0]
    free = ("free_case", "free_fork", "free_batch", "free_timer", "free_booking")
    for name in (*free, "first_touched", "first_reserving", "ready"):
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
    world.teams.first_incidence[:] = k.NONE
    world.teams.first_attending[:] = k.NONE
    world.members.team[:] = np.repeat(np.arange(len(plan.teams)), plan.teams.members)
    for name in ("row", "case", "keep_until", "slot", "last_type", "place", "step", "current_break", "covers"):
        world.members[name][:] = k.NONE
    for number, row in enumerate(plan.rows):
        world.members.row[row.first_member : row.first_member + row.members] = number
    for team in plan.teams:
        world.members.place[team.first_member : team.first_member + team.members] = team.place
    for number, pool in enumerate(plan.pools):
        world.incidences.pool[pool.first_incidence : pool.first_incidence + pool.incidences] = number
        for incidence in range(pool.first_incidence, pool.first_incidence + pool.incidences):
            world.incidences.team[incidence] = plan.lists[pool.first_team + incidence - pool.first_incidence]
    for entry in plan.timeline[plan.timeline.at < 0.0]:
        _set_before_start(world, entry)
    clock.next_entry = int((plan.timeline.at < 0.0).sum())


def _set_before_start(world: World, entry: p.TimelineEntry) -> None:
    """Set what the timeline says was open or shut when the run starts."""
    if entry.kind in (c.TimelineKind.POOL_OPENS, c.TimelineKind.POOL_SHUTS):
        world.pools.shut[entry.subject] = entry.kind == c.TimelineKind.POOL_SHUTS
    elif entry.kind in (c.TimelineKind.SIGNAL_OPENS, c.TimelineKind.SIGNAL_SHUTS):
        world.steps.shut[entry.subject] = entry.kind == c.TimelineKind.SIGNAL_SHUTS
    elif entry.kind in (c.TimelineKind.DOORS_OPEN, c.TimelineKind.DOORS_SHUT):
        world.clock[0].doors_open = entry.kind == c.TimelineKind.DOORS_OPEN


def _interruption_clocks(plan: Plan) -> Table[s.InterruptionClock]:
    """Return the clocks of all interruptions: one for each member, or one for the team."""
    rows = []
    for number, interrupt in enumerate(plan.interruptions):
        team = plan.teams[interrupt.team]
        members = range(team.first_member, team.first_member + team.members)
        for member in members if interrupt.comes_to == c.Whom.EACH else [k.NONE]:
            rows.append((0.0, 0.0, 0, 0, 0, number, member))
    return table(s.InterruptionClock, rows)


def go_until(world: World, until: float) -> tuple[World, bool]:
    """Go on up to a time, or until somebody sets the clock's `pause`.

    Parameters
    ----------
    world
        A replication as `Worlds.begin` or this function has returned it.
    until
        Minutes since its start.

    Returns
    -------
    World
        The one given, or a roomier copy of it with the same clock; the one given is then to be used no more.
    bool
        Whether it got there. A run that its stop rule has ended did, and stays at the time of its end.

    Raises
    ------
    Deadlock
        Where cases are inside that wait only for each other.
    EndlessInstant
        Where so much happens at one instant that the clock will never go on.
    NoRoom
        Where more memory would be needed than MOST_BYTES.
    """
    world.clock[0].until = until
    with np.errstate(over="ignore"):
        code = advance(world)
    while lacks_room(code):
        world = grow(world, code)
        with np.errstate(over="ignore"):
            code = advance(world)
    if code == k.Code.DEADLOCK:
        raise Deadlock(world)
    if code == k.Code.PAUSED and world.clock[0].watching and world.clock[0].pause == 0:
        return go_until(with_more_changes(world), until)
    if code == k.Code.GOES_ROUND:
        raise EndlessInstant(world)
    return world, code == k.Code.ENDED


def watched(world: World) -> World:
    """Return a world that from now on keeps a record of what is seen of its cases and members."""
    clock = world.clock[0]
    clock.watching, clock.changes, clock.records_seen = 1, 0, 0
    cases, members = blank(Seen, len(world.cases)), blank(Seen, len(world.members))
    for seen in (cases, members):
        seen.step[:] = seen.came_from[:] = seen.with_[:] = seen.cause[:] = k.NONE
        seen.ends[:] = k.NEVER
    members.doing[:] = k.NONE
    return with_more_changes(replace(world, seen_cases=cases, seen_members=members, changes=blank(Seen, 0)))


def forget_extras(world: World) -> None:
    """Let all that visits have had besides be 0 again, in all of the memory to which these have grown."""
    clock = world.clock[0]
    if clock.extras:
        as_bytes(memory_of(cast(Any, world.visit_extras))[: clock.visits])[:] = 0
        clock.extras = 0


def start_afresh(world: World) -> None:
    """Forget what was counted so far, in minutes, levels, tallies and the ledger: the warm-up is over.

    Who is inside stays so; what begins from now on is counted from now on.
    """
    close_books(world)
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
    forget_extras(world)
    clock.visits = clock.departures = clock.span_rows = 0
