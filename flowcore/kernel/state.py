"""The state of one replication, and the ledger that it leaves behind. Times are minutes since the start."""

from dataclasses import dataclass

import numpy as np

from flowcore.kernel.bundle import Bundle
from flowcore.kernel.kinds import ACCOUNTS, POOL_CAUSES, VALUE_CLASSES
from flowcore.kernel.plan import Plan
from flowcore.kernel.records import F8, I2, I4, I8, U8, Table, record


@record
class Clock:
    """The counters of one replication."""

    now: F8
    until: F8  # when the kernel is to return
    trace_from: F8  # the log is kept from then
    trace_until: F8
    last_moved: F8  # when a case last moved
    measured_until: F8  # up to when the measures of the time have been asked
    overtime_since: F8  # when anyone's overtime began
    overtime_minutes: F8  # in which anyone was in overtime
    seed: U8  # of the replication's draws
    scheduled: I8  # events so far
    turns: I8  # cases that have joined a line so far
    front_turns: I8  # and those that were put back at its head, counted down
    cases: I8  # arrived so far
    completed: I8
    trace_case: I8  # the number of the only case in the log; 0 for all
    inside: I8  # cases
    tokens: I8  # records of cases in use
    events: I8  # on the list
    live: I8  # of them, those that move cases
    coming: I8  # streams with more to come
    visits: I8  # rows written
    departures: I8
    span_rows: I8
    notes: I8
    free_case: I8  # the first record that is free
    free_party: I8
    parties: I8  # in use
    party_serial: I8  # made so far
    most_together: I8  # the most that have travelled as one
    free_timer: I8
    timers: I8  # in use
    free_booking: I8
    bookings: I8  # in use
    things_at_once: I8  # done at this instant
    looked_at: F8  # the instant of which they are counted
    first_doing: I8  # where the agenda begins
    doings: I8  # how long it is
    first_touched: I8  # of the teams that are to be looked at
    serve_first: I8  # 1 where those who wait are served before the agenda goes on
    first_reserving: I8  # of the pools with someone for whom members are held back
    in_overtime: I8  # members beyond their shift
    is_overtime: I8  # 1 while there is one, and to the end of that instant
    stalled: I8  # cases whose particular person is free while something else is missing
    begun: I8  # works begun so far
    next_entry: I8  # of the timeline
    interval: I8  # which runs
    tracing: I8  # 1 where a log is kept
    doors_open: I8
    has_closed: I8  # 1 once the doors have shut
    pause: I8  # whoever sets it, from any thread, has the loop return after what it is at


@record
class Case:
    """A case, a branch or a companion inside the service.

    The fields are in the order in which they are written when one comes, since one who comes meets them all.
    """

    arrived_at: F8
    joined_at: F8  # when it came to its step
    since: F8  # when it was last charged
    due: F8
    work_left: F8  # minutes at a pace of 1; below 0 before its work begins
    cost: F8
    visit_cost: F8  # what it had cost when it came to its step
    visit_travel: F8  # minutes on the way that is part of this visit
    last_wait: F8  # minutes waited at this step, or the last one
    state: I8  # CaseState
    ways_chosen: I8  # ahead
    ways_taken: I8  # of them
    laps: I8  # of the loop that it is in
    absent: I8  # its members who are away
    walking: I8  # its members who are still coming
    causes: I8  # the accounts (bits) on which it has waited at this visit
    causes_before: I8  # and at those before
    in_work: I8  # 1 where all its needs here are met
    expected: I8  # Expected
    turned_away: I8
    stands: I8  # Stand
    is_outside: I8  # 1 where it is blocked before its first step
    visit_over: I8  # 1 where its visit is written down before it goes on
    together: I8  # how many travel as one with it
    cause: I8  # Account, of what it waits for
    place: I8
    link: I8  # its way on, once chosen
    to: I8  # the end of its way on
    goal: I8  # the step whose line decides whether it is blocked
    line: I8  # in which it waits, or has waited
    circle: I8  # the loop that it is in
    first_held: I8  # of its members
    person: I8  # the member for whom it waits
    party: I8  # of its fork
    batch: I8  # of its gathering
    timers: I8  # its first running deadline
    leader: I8  # with whom it travels
    rides_in: I8  # the batch in which it does
    first_aboard: I8  # of those who travel with it
    last_aboard: I8
    next_aboard: I8  # of those who travel with its leader
    token: I8  # an event with another one has lost its meaning
    luck: U8  # the part of every draw's key that comes from the case
    type: I8
    stream: I8
    step: I8  # of the plan
    number: I8  # of its arrival, from 1
    priority: F8
    token_kind: I8  # TokenKind
    weight: I8  # 1 for a case itself, 0 for branches, companions and records that are free
    rank: F8  # its place by the discipline
    order: I8  # its turn
    next: I8  # in a line, or of the records that are free
    prev: I8
    child: I8
    last_cause: I8  # the last account on which it has waited at this visit
    changes_seen: I8  # of its pool's cause, when it was last charged for it
    ends_at: F8  # when its work ends
    begun: I8  # its turn among all works


@record
class Event:
    """What comes at a time; one whose token is no longer its subject's has lost its meaning and falls away."""

    time: F8
    order: I8  # the rank in the high bits, a running number in the low ones
    token: I8
    kind: I8  # EventKind
    subject: I8


@record
class LineState:
    """The cases waiting at a step, and the line's own place among the lines of its pool."""

    rank: F8  # the first case's
    order: I8  # the first case's
    first: I8  # case
    last: I8
    count: I8  # of those held by a signal, or gathered
    next: I8  # line of the pool
    prev: I8
    child: I8


@record
class WaitingRoom:
    """How many wait before one step or several."""

    length: I8  # how many wait
    coming: I8  # for how many on their way a place is kept
    most: I8  # the most places that one of its lines has
    first: I8  # of those who are blocked before it
    last: I8


@record
class PoolState:
    """Those who ask for the same."""

    since: F8  # when its minutes were last booked
    waiting: I8  # how many ask for it
    charged: I8  # how many of them pay with their minutes for what is missing
    first: I8  # of the heap of its lines
    cause: I8  # Account, of what is missing
    team: I8  # whose it is
    closed: I8  # Closed
    shut: I8  # 1 while its hours are over
    next_reserving: I8  # pool for which members are held back
    prev_reserving: I8
    changes: I8  # of the cause, so far


@record
class Queue:
    """Cases whose particular person is free while something else of their pool is missing."""

    first: I8
    last: I8


@record
class PoolOfTeam:
    """A pool among the pools that wait for a team."""

    pool: I8
    team: I8
    next: I8
    prev: I8


@record
class TeamState:
    """How many of a team do what, and who waits for it."""

    first: I8  # of its idle members
    last: I8
    idle: I8
    idle_in_overtime: I8
    on_break: I8
    on_break_in_overtime: I8
    interrupted: I8
    interrupted_in_overtime: I8
    absent: I8
    rostered: I8  # on shift or beyond it
    rostered_in_overtime: I8
    working: I8
    first_ask: I8  # of the pools that wait for it
    next_touched: I8  # team that is to be looked at
    touched: I8  # Look
    held_back: I8  # idle members kept for someone else
    held_back_before: I8
    staying: I8  # rows that stay after their shift
    first_attending: I8  # of the members for whom a case waits that is to be looked at
    uses: I8  # members taken so far
    uses_in_overtime: I8


@record
class RowState:
    """A roster row today."""

    staying: I8  # 1 while it stays after its shift
    awaited: I8  # cases that waited when the shift ended and are not yet done
    token: I8
    on_shift: I8
    until: F8  # when the shift ends


@record
class Member:
    """A member of a team: what it does, with whom, and what it owes."""

    since: F8  # when its time was last booked
    charged_at: F8  # when its case was last charged for it
    rank: F8  # among the idle
    used: F8  # minutes
    break_length: F8  # of the break that it owes
    break_until: F8  # or at least until then
    stop_length: F8  # of the interruptions that it owes
    stop_until: F8  # or at least until then
    walk_ends: F8
    walk_left: F8  # minutes of its way to its case
    order: I8  # among the idle
    token: I8
    walk_token: I8
    next: I8  # idle member
    prev: I8
    child: I8
    first: I8  # of the cases that wait for this very member
    last: I8
    next_held: I8  # member of its case
    next_attending: I8
    attending: I8  # 1 where those who wait for it are to be looked at
    team: I8
    row: I8  # of the roster
    state: I8  # MemberState
    case: I8  # which it serves, or is kept by
    keep_until: I8  # the step of the document with which it stays
    name: I8  # under which its case remembers it
    last_type: I8  # of the case before
    place: I8
    on_shift: I8
    in_overtime: I8
    shift_over: I8  # 1 where it leaves when its case is finished
    misses: I8  # 1 where it is absent from the shift that its row has now
    rest: I8  # the break that it is on
    owed_rest: I8  # the break that it owes
    owes_break: I8
    owes_interruption: I8
    break_follows: I8  # 1 where the break came due while it was away
    covers: I8  # the need that it meets as one kept from before
    step: I8  # where its case took it


@record
class InterruptionClock:
    """How much is left until the next interruption, of a member or of the whole team."""

    left: F8  # minutes or cases
    since: F8  # when it last ran on
    token: I8
    draws: I8  # so far
    waits: I8  # 1 where it starts anew when its interruption is over
    interrupt: I8
    member: I8  # NONE for the whole team


@record
class StepState:
    """A step of the plan."""

    turn: I8  # of the ways that are taken in turn
    place_turn: I8  # of the places that are taken in turn
    quota: I8  # how many a signal still lets go
    token: I8
    shut: I8  # 1 while a signal's hours are over
    here: I8  # cases that wait or are served, a batch as one
    waiting: I8


@record
class Level:
    """A number of cases over time."""

    area: F8  # its integral up to `since`
    overtime: F8  # the part of it in overtime
    since: F8
    now: I8
    highest: I8


@record
class Tally:
    """How many came, and how they left."""

    arrived: I8
    served: I8
    completed: I8
    abandoned: I8
    turned_away: I8
    cost: F8
    changeover: F8  # what changeovers cost


@record
class LinkState:
    """A way."""

    taken: I8  # how often
    travel: F8  # minutes on it in all


@record
class StreamState:
    """A stream's progress."""

    created: I8  # cases made
    drawn: I8  # gaps drawn
    group: I8  # cases of the group still to come
    occasion: I8  # that has just come
    date: I8  # the next of those that are known
    day: I8  # planned last; of an exact profile, intervals planned
    pending: I8  # occasions that are scheduled
    all_planned: I8  # 1 where no more will be
    over: I8  # 1 once its last case has come
    key: U8  # of its draws
    luck: U8  # of the occasion that has just come
    appointed_at: F8  # its slot
    mass: F8  # the cumulative rate at its last occasion


@record
class Booking:
    """An appointment that will be kept."""

    luck: U8  # that the case brings
    appointed_at: F8  # when its slot begins
    next: I8  # record that is free


@record
class Party:
    """A forked case and its branches, or cases that were gathered and travel as one."""

    owner: I8  # who forked
    join: I8  # the step where its branches come together
    outstanding: I8  # branches
    outer: I8  # party of the same case
    before: I8  # who was the last aboard
    first: I8  # of those who were gathered
    size: I8  # how many travel together
    serial: I8
    next_free: I8
    cost: F8  # of the branches that are back; of a batch what its leader had cost before


@record
class Timer:
    """A running deadline."""

    token: I8
    case: I8
    deadline: I8
    next: I8  # of the same case, or record that is free
    missed: I8  # how often


@record
class DeadlineState:
    """How many clocks of a deadline were started, met and missed; left before they ran out, or begun anew."""

    started: I8
    met: I8
    missed: I8
    left: I8


@record
class Measured:
    """What a measure of the analyst's own has told so far."""

    among: F8  # of how many cases, visits or minutes its rule was asked
    held: F8  # of how many it held
    area: F8  # the integral of its level meanwhile
    highest: F8


@record
class AgendaItem:
    """Something that is to be done at this instant."""

    kind: I8  # Agenda
    subject: I8


@record
class Visit:
    """A row of the ledger: a visit to a step that is over."""

    joined_at: F8
    wait: F8
    work: F8
    blocked: F8
    travel: F8
    cost: F8
    in_overtime: I8
    step: I4  # of the document
    type: I2
    stream: I2


@record
class Departure:
    """A row of the ledger: a case that has left, and its whole way."""

    left_at: F8
    wait: F8
    work: F8
    blocked: F8
    travel: F8
    total: F8
    cost: F8
    in_overtime: I8
    step: I4  # the exit, of the document
    type: I2
    stream: I2


@record
class SpanRow:
    """A row of the ledger: a span that has ended."""

    wait: F8
    work: F8
    blocked: F8
    travel: F8
    total: F8
    cost: F8
    in_overtime: I8
    span: I4
    type: I4


@record
class NoteRow:
    """A line of the log."""

    at: F8
    case: I8  # its number, 0 for none
    kind: I4  # Note
    step: I4  # of the document
    member: I4
    type: I4


@dataclass(frozen=True, eq=False)
class World(Bundle):
    """One replication in progress: the plan, the state and the ledger."""

    plan: Plan
    clock: Table[Clock]  # 1
    cases: Table[Case]  # grows
    minutes: np.ndarray  # f8, (cases × MINUTE_COLUMNS), grows with the cases
    extras: np.ndarray  # f8, (cases × [traits, marks of spans]), grows with the cases
    memory: np.ndarray  # i8, (cases × [remembered members, visits, rows that stay, ways ahead]), grows with the cases
    events: Table[Event]  # a binary heap, grows
    agenda: Table[AgendaItem]  # a ring, grows
    lines: Table[LineState]  # one per step
    rooms: Table[WaitingRoom]
    pools: Table[PoolState]
    stalled: Table[Queue]  # one per pool
    pool_minutes: np.ndarray  # f8, (pools × POOL_CAUSES), minutes that someone in the pool would be charged
    asks: Table[PoolOfTeam]
    teams: Table[TeamState]
    still: np.ndarray  # i8, how many each need lacks while one case takes its members
    rows: Table[RowState]
    members: Table[Member]
    member_time: np.ndarray  # f8, (members × [states in shift, states in overtime])
    wear: Table[InterruptionClock]
    steps: Table[StepState]
    links: Table[LinkState]
    sources: Table[StreamState]
    parties: Table[Party]  # grows
    timers: Table[Timer]  # grows
    bookings: Table[Booking]  # grows
    deadlines: Table[DeadlineState]
    measured: Table[Measured]  # one per measure of the plan
    levels: Table[Level]  # (steps of the document, types, rooms) × [line, inside]
    level_minutes: np.ndarray  # f8, (levels × LEVEL_BINS), how long each value held
    step_tally: Table[Tally]
    type_tally: Table[Tally]
    stream_tally: Table[Tally]
    cause_minutes: np.ndarray  # f8, ((steps of the document, types, teams) × ACCOUNTS)
    hour_minutes: np.ndarray  # f8, ((steps of the document, types) × ACCOUNTS), of those who came in the watched hour
    steps_in_overtime: Table[Tally]  # what of the above was counted in overtime
    types_in_overtime: Table[Tally]
    streams_in_overtime: Table[Tally]
    causes_in_overtime: np.ndarray  # f8
    value_minutes: np.ndarray  # f8, (types × VALUE_CLASSES), work of those who left, by its value
    marks: np.ndarray  # f8, what the columns of the series stood at when the interval began
    series: np.ndarray  # f8, (intervals × [lines of steps, insides of types, states of teams, arrivals])
    visits: Table[Visit]  # grows
    departures: Table[Departure]  # grows
    spans: Table[SpanRow]  # grows
    notes: Table[NoteRow]  # grows


LINE_LEVEL, INSIDE_LEVEL = 0, 1

VISIT_MINUTES = ACCOUNTS
SNAPSHOT = 2 * ACCOUNTS
VALUES = 2 * ACCOUNTS + POOL_CAUSES
MINUTE_COLUMNS = VALUES + VALUE_CLASSES
"""A case's minutes: of its whole way, of this visit, its pool's when it joined the line, and work by its value."""

SPAN_MARKS = 7
"""Marks of an open span: 1 if open, then its time, wait, work, blocked, travel and cost at the start."""

LEVEL_BINS = 48
"""Values below EXACT_BINS have a bin each, beyond that each bin is half as wide again as its value."""

EXACT_BINS = 24
