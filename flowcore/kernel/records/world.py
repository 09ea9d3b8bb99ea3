"""What is handed to compiled code: the plan, and the world of one replication."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from flowcore.kernel.compiling.bundle import Bundle
from flowcore.kernel.records.choices import VALUE_CLASSES
from flowcore.kernel.records.kinds import ACCOUNTS, MEMBER_STATES, POOL_CAUSES
from flowcore.kernel.records.ledger import (
    LEVEL_BINS,
    MINUTE_COLUMNS,
    DeadlineState,
    Departure,
    Level,
    Measured,
    NoteRow,
    Sections,
    Seen,
    SpanRow,
    Tally,
    Visit,
    VisitExtra,
)
from flowcore.kernel.records.plan import (
    BreakPlan,
    Calendar,
    CaseType,
    Condition,
    Date,
    Deadline,
    Distribution,
    Interruption,
    Line,
    Link,
    Measure,
    Need,
    Pool,
    RosterRow,
    Session,
    SpanPoint,
    Start,
    Step,
    Stream,
    Team,
    Test,
    TimelineEntry,
)
from flowcore.kernel.records.record import F8, I8, U8, Table, record
from flowcore.kernel.records.state import (
    Batch,
    Booking,
    Case,
    Fork,
    InterruptionClock,
    LineState,
    LinkState,
    Member,
    PoolOfTeam,
    PoolState,
    Queue,
    RowState,
    StepState,
    StreamState,
    TeamState,
    Timer,
    Turn,
    WaitingRoom,
)


@record
class Run:
    """The whole: how many of what there are, and when it ends.

    Measures are of cases first, then from `of_visits` on of visits, and from `of_time` on of the time.
    A case's memory has `remembered`, `counters`, `awaiting` (bits of rows that stay for it), `ways_ahead`, `messages`
    and whose message it heard last.
    """

    steps: I8  # of the plan
    document_steps: I8
    types: I8
    traits: I8
    remembered: I8  # slots in which a case remembers who served it
    counters: I8  # of visits
    awaiting: I8  # words of bits, one bit for each row that stays
    ways_ahead: I8  # the most that are chosen ahead
    messages: I8  # for which signals wait, of each step that tells it
    spans: I8
    first_checkpoint: I8  # the first of the spans from the arrival to a checkpoint
    of_visits: I8
    of_time: I8
    places: I8
    walks: I8  # where in `numbers` the minutes of walking between places begin, a row a place
    doors: I8  # the calendar after which no stream brings cases
    until_completed: I8  # cases; 0 where that does not end it
    until_empty: I8  # 1 where it ends when nobody is inside after the doors have shut
    rooms: I8  # waiting rooms that are shared
    first_weekday: I8  # 0 for Monday
    stays: I8  # 1 where members of a team may stay beyond their shift for those who are inside
    values: I8  # 1 where work at a step adds value, is necessary or is waste
    watched_hour: I8  # of the week, whose minutes are kept apart
    start_minute: F8  # of the day
    length: F8  # minutes
    interval: F8  # minutes, of the series
    by_week: I8  # 1 where the series are by interval of the week
    checks_every: I8  # so many turns of the loop it is looked whether there is room
    margin: I8  # records that so many turns can fill


@dataclass(frozen=True, eq=False)
class Plan(Bundle):
    """A study as arrays: everything that the kernel reads and never writes."""

    constant = True

    run: Table[Run]  # one
    sections: Table[Sections]  # one
    distributions: Table[Distribution]
    streams: Table[Stream]
    starts: Table[Start]
    sessions: Table[Session]
    dates: Table[Date]
    types: Table[CaseType]
    steps: Table[Step]
    links: Table[Link]
    tests: Table[Test]
    needs: Table[Need]
    conditions: Table[Condition]
    pools: Table[Pool]
    lines: Table[Line]
    teams: Table[Team]
    rows: Table[RosterRow]
    breaks: Table[BreakPlan]
    interruptions: Table[Interruption]
    timeline: Table[TimelineEntry]  # by time
    calendars: Table[Calendar]
    deadlines: Table[Deadline]
    span_points: Table[SpanPoint]
    measures: Table[Measure]
    lists: np.ndarray  # i8
    numbers: np.ndarray  # f8


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
    orders: I8  # given so far, one to each who has joined a line
    front_order: I8  # and those that were put back at its head, counted down
    cases: I8  # arrived so far
    completed: I8
    trace_case: I8  # the number of the only case in the log; 0 for all
    inside: I8  # cases
    tokens: I8  # records of cases in use
    soon: I8  # the next events
    later: I8  # those that come after them
    live: I8  # of both, those that move cases
    coming: I8  # streams with more to come
    visits: I8  # rows written
    extras: I8  # 1 once one of them has anything in its VisitExtra
    departures: I8
    span_rows: I8
    notes: I8
    free_case: I8  # the first record that is free
    free_fork: I8
    forks: I8  # in use
    free_batch: I8
    batches: I8  # in use
    groupings: I8  # forks and batches made so far
    most_together: I8  # the most that have travelled as one
    free_timer: I8
    timers: I8  # in use
    free_booking: I8
    bookings: I8  # in use
    things_at_once: I8  # done at this instant
    looked_at: F8  # the instant of which they are counted
    agenda_start: I8  # where the agenda begins
    agenda_length: I8  # how long it is
    first_touched: I8  # of the teams that are to be looked at
    ready: I8  # the case that begins at this instant, once these teams have served those before it
    serve_first: I8  # 1 where those who wait are served before the agenda goes on
    first_reserving: I8  # of the pools with someone for whom members are held back
    in_overtime: I8  # members beyond their shift
    is_overtime: I8  # 1 while there is one, and to the end of that instant
    stalled: I8  # cases whose particular person is free while something else is missing
    begun: I8  # works begun so far
    next_entry: I8  # of the timeline
    interval: I8  # which runs
    tracing: I8  # 1 where a log is kept
    watching: I8  # 1 where a record is kept for a replay
    changes: I8  # lines of it
    records_seen: I8  # records of cases that have ever been in use
    doors_open: I8
    has_closed: I8  # 1 once the doors have shut
    pause: I8  # whoever sets it, from any thread, has the loop return after what it is at


@record
class Event:
    """What comes at a time; one whose stamp is no longer its subject's has lost its meaning and falls away."""

    time: F8
    order: I8  # the rank in the high bits, then a running number, the EventKind in the low bits
    subject: I8
    stamp: I8
    argument: I8  # what else it is about: the occasion of an arrival, who takes a break


MOST_SOON = 32
"""How many of the next events stand in their order."""


@record
class AgendaItem:
    """Something that is to be done at this instant."""

    kind: I8  # Agenda
    subject: I8


@dataclass(frozen=True, eq=False)
class World(Bundle):
    """One replication in progress: the plan, the state and the ledger."""

    columns: ClassVar[dict[str, int]] = {
        "minutes": MINUTE_COLUMNS,
        "pool_minutes": POOL_CAUSES,
        "member_time": 2 * MEMBER_STATES,
        "level_minutes": LEVEL_BINS,
        "cause_minutes": ACCOUNTS,
        "hour_minutes": ACCOUNTS,
        "causes_in_overtime": ACCOUNTS,
        "value_minutes": VALUE_CLASSES,
    }
    plan: Plan
    clock: Table[Clock]  # 1
    cases: Table[Case]  # grows
    turns: Table[Turn]  # one per case, grows with the cases
    minutes: np.ndarray  # f8, (cases × MINUTE_COLUMNS), grows with the cases
    traits_and_marks: np.ndarray  # f8, (cases × [traits, marks of spans]), grows with the cases
    memory: np.ndarray  # i8, (cases × [members, visits, rows that stay, ways ahead, messages]), grows with the cases
    soon: Table[Event]  # MOST_SOON, the next one last
    later: Table[Event]  # a binary heap, grows
    agenda: Table[AgendaItem]  # a ring, grows
    lines: Table[LineState]  # one per step
    lasts: np.ndarray  # i8, (lines × grades), the last of each grade in a line that is a graded chain, or NONE
    rooms: Table[WaitingRoom]
    pools: Table[PoolState]
    stalled: Table[Queue]  # one per pool
    pool_minutes: np.ndarray  # f8, (pools × POOL_CAUSES), minutes that someone in the pool would be charged
    incidences: Table[PoolOfTeam]
    teams: Table[TeamState]
    unmet_needs: np.ndarray  # i8, how many each need lacks while one case takes its members
    rows: Table[RowState]
    members: Table[Member]
    member_time: np.ndarray  # f8, (members × [states in shift, states in overtime])
    interruption_clocks: Table[InterruptionClock]
    steps: Table[StepState]
    links: Table[LinkState]
    sources: Table[StreamState]
    forks: Table[Fork]  # grows
    batches: Table[Batch]  # grows
    timers: Table[Timer]  # grows
    bookings: Table[Booking]  # grows
    deadlines: Table[DeadlineState]
    measured: Table[Measured]  # one per measure of the plan
    levels: Table[Level]  # see Sections
    level_minutes: np.ndarray  # f8, (levels × LEVEL_BINS), how long each value held
    step_tally: Table[Tally]
    type_tally: Table[Tally]
    stream_tally: Table[Tally]
    cause_minutes: np.ndarray  # f8, (causes of Sections × ACCOUNTS)
    hour_minutes: np.ndarray  # f8, ((steps of the document, types) × ACCOUNTS), of those who came in the watched hour
    steps_in_overtime: Table[Tally]  # what of the above was counted in overtime
    types_in_overtime: Table[Tally]
    streams_in_overtime: Table[Tally]
    causes_in_overtime: np.ndarray  # f8
    value_minutes: np.ndarray  # f8, (types × VALUE_CLASSES), work of those who left, by its value
    marks: np.ndarray  # f8, what the columns of the series stood at when the interval began
    series: np.ndarray  # f8, (intervals × series of Sections)
    visits: Table[Visit]  # grows
    visit_extras: Table[VisitExtra]  # one per visit, grows with them; all 0 while the clock has none
    departures: Table[Departure]  # grows
    spans: Table[SpanRow]  # grows
    notes: Table[NoteRow]  # grows
    seen_cases: Table[Seen]  # as they were written last; grows with the cases where a record is kept
    seen_members: Table[Seen]
    changes: Table[Seen]  # grows
