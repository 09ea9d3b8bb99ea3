"""The state of one replication, and the ledger that it leaves behind. Times are minutes since the start."""

from dataclasses import dataclass

import numpy as np

from flowcore.kernel.bundle import Bundle
from flowcore.kernel.kinds import ACCOUNTS, POOL_CAUSES, VALUE_CLASSES
from flowcore.kernel.plan import Plan, record

CLOCK = record(
    ("now", "f8"),
    ("until", "f8"),
    ("trace_from", "f8"),
    ("trace_until", "f8"),
    ("last_moved", "f8"),
    ("measured_until", "f8"),
    ("overtime_since", "f8"),
    ("overtime_minutes", "f8"),
    ("seed", "u8"),
    ("scheduled", "i8"),
    ("turns", "i8"),
    ("front_turns", "i8"),
    ("cases", "i8"),
    ("completed", "i8"),
    ("trace_case", "i8"),
    ("inside", "i8"),
    ("tokens", "i8"),
    ("events", "i8"),
    ("live", "i8"),
    ("coming", "i8"),
    ("visits", "i8"),
    ("departures", "i8"),
    ("span_rows", "i8"),
    ("notes", "i8"),
    ("free_case", "i8"),
    ("free_party", "i8"),
    ("parties", "i8"),
    ("party_serial", "i8"),
    ("most_together", "i8"),
    ("free_timer", "i8"),
    ("timers", "i8"),
    ("free_booking", "i8"),
    ("bookings", "i8"),
    ("things_at_once", "i8"),
    ("looked_at", "f8"),
    ("first_doing", "i8"),
    ("doings", "i8"),
    ("first_touched", "i8"),
    ("serve_first", "i8"),
    ("first_reserving", "i8"),
    ("in_overtime", "i8"),
    ("is_overtime", "i8"),
    ("stalled", "i8"),
    ("begun", "i8"),
    ("next_entry", "i8"),
    ("interval", "i8"),
    ("tracing", "i8"),
    ("doors_open", "i8"),
    ("has_closed", "i8"),
    ("pause", "i8"),
)
"""The counters of one replication. `inside` are cases, `tokens` all records in use, `live` the events
that move cases, `coming` the streams with more to come, `in_overtime` members beyond their shift,
`is_overtime` is 1 while there is one and to the end of that instant,
`stalled` cases whose particular person is free while something else is missing, `begun` works begun so far. Whoever
sets `pause`, from any thread, has the loop return after what it is at."""

CASE = record(
    ("arrived_at", "f8"),
    ("joined_at", "f8"),
    ("since", "f8"),
    ("due", "f8"),
    ("work_left", "f8"),
    ("cost", "f8"),
    ("visit_cost", "f8"),
    ("visit_travel", "f8"),
    ("last_wait", "f8"),
    ("state", "i8"),
    ("ways_chosen", "i8"),
    ("ways_taken", "i8"),
    ("laps", "i8"),
    ("absent", "i8"),
    ("walking", "i8"),
    ("causes", "i8"),
    ("causes_before", "i8"),
    ("in_work", "i8"),
    ("expected", "i8"),
    ("turned_away", "i8"),
    ("stands", "i8"),
    ("is_outside", "i8"),
    ("visit_over", "i8"),
    ("together", "i8"),
    ("cause", "i8"),
    ("place", "i8"),
    ("link", "i8"),
    ("to", "i8"),
    ("goal", "i8"),
    ("line", "i8"),
    ("circle", "i8"),
    ("first_held", "i8"),
    ("person", "i8"),
    ("party", "i8"),
    ("batch", "i8"),
    ("timers", "i8"),
    ("leader", "i8"),
    ("rides_in", "i8"),
    ("first_aboard", "i8"),
    ("last_aboard", "i8"),
    ("next_aboard", "i8"),
    ("token", "i8"),
    ("luck", "u8"),
    ("type", "i8"),
    ("stream", "i8"),
    ("step", "i8"),
    ("number", "i8"),
    ("priority", "f8"),
    ("token_kind", "i8"),
    ("weight", "i8"),
    ("rank", "f8"),
    ("order", "i8"),
    ("next", "i8"),
    ("prev", "i8"),
    ("child", "i8"),
    ("last_cause", "i8"),
    ("changes_seen", "i8"),
    ("ends_at", "f8"),
    ("begun", "i8"),
)
"""In the order in which they are written when a case comes, since one who comes meets them all. `luck` is the part of
every draw's key that comes from the case; `order` its turn, `rank` its place by the discipline; `next`, `prev`, `child`
link it to others in a line; `person` is whom it waits for; `absent` and `walking` count its members who are away or
still coming; `causes` are the accounts (bits) on which it waited at this visit, the last of them `last_cause`, and
`causes_before` those of its visits before; `changes_seen` says how often the cause of its pool had changed when it was
last charged for it; `in_work` that all its needs here are met, `expected` that a place in the line is kept
for it; `link` and `to` are the way on, once chosen, and `goal` the step whose line decides whether it is
blocked; of `ways_chosen` ahead it has taken `ways_taken`; `is_outside` says that it is blocked before its first
step. `weight` is 1 for a case itself and 0 for branches, companions and records that are free. Of those who
travel as one `together` are led by it; they hang on `first_aboard` and `next_aboard`, each with its `leader`
and the party it `rides_in`."""

EVENT = record(("time", "f8"), ("order", "i8"), ("token", "i8"), ("kind", "i8"), ("subject", "i8"))
"""`order` is the rank in the high bits and a running number in the low ones; an event whose token is
no longer its subject's has lost its meaning and falls away."""

LINE_STATE = record(
    ("rank", "f8"),
    ("order", "i8"),
    ("first", "i8"),
    ("last", "i8"),
    ("count", "i8"),
    ("next", "i8"),
    ("prev", "i8"),
    ("child", "i8"),
)
"""The cases waiting at a step, and the line's own place among the lines of its pool."""

ROOM = record(("length", "i8"), ("coming", "i8"), ("most", "i8"), ("first", "i8"), ("last", "i8"))
"""A waiting room: how many wait, for how many on their way a place is kept, the most places that one of its lines has,
and who is blocked before it."""

POOL_STATE = record(
    ("since", "f8"),
    ("waiting", "i8"),
    ("charged", "i8"),
    ("first", "i8"),
    ("cause", "i8"),
    ("team", "i8"),
    ("closed", "i8"),
    ("shut", "i8"),
    ("next_reserving", "i8"),
    ("prev_reserving", "i8"),
    ("changes", "i8"),
)
"""`first` is the heap of its lines; `waiting` ask for it, `charged` of them pay with their minutes for
what is missing now: `cause`, of `team`, after so many `changes` of the cause. `shut` says that its hours are over."""

QUEUE = record(("first", "i8"), ("last", "i8"))
"""Cases whose particular person is free while something else of their pool is missing."""

ASK = record(("pool", "i8"), ("team", "i8"), ("next", "i8"), ("prev", "i8"))
"""A pool among the pools that wait for a team."""

TEAM_STATE = record(
    ("first", "i8"),
    ("last", "i8"),
    ("idle", "i8"),
    ("idle_in_overtime", "i8"),
    ("on_break", "i8"),
    ("on_break_in_overtime", "i8"),
    ("interrupted", "i8"),
    ("interrupted_in_overtime", "i8"),
    ("absent", "i8"),
    ("rostered", "i8"),
    ("rostered_in_overtime", "i8"),
    ("working", "i8"),
    ("first_ask", "i8"),
    ("next_touched", "i8"),
    ("touched", "i8"),
    ("held_back", "i8"),
    ("held_back_before", "i8"),
    ("staying", "i8"),
    ("first_attending", "i8"),
    ("uses", "i8"),
    ("uses_in_overtime", "i8"),
)

ROW_STATE = record(("staying", "i8"), ("awaited", "i8"), ("token", "i8"), ("on_shift", "i8"), ("until", "f8"))
"""`awaited` are the cases that waited when the shift ended and are not yet done."""

MEMBER = record(
    ("since", "f8"),
    ("charged_at", "f8"),
    ("rank", "f8"),
    ("used", "f8"),
    ("break_length", "f8"),
    ("break_until", "f8"),
    ("stop_length", "f8"),
    ("stop_until", "f8"),
    ("walk_ends", "f8"),
    ("walk_left", "f8"),
    ("order", "i8"),
    ("token", "i8"),
    ("walk_token", "i8"),
    ("next", "i8"),
    ("prev", "i8"),
    ("child", "i8"),
    ("first", "i8"),
    ("last", "i8"),
    ("next_held", "i8"),
    ("next_attending", "i8"),
    ("attending", "i8"),
    ("team", "i8"),
    ("row", "i8"),
    ("state", "i8"),
    ("case", "i8"),
    ("keep_until", "i8"),
    ("name", "i8"),
    ("last_type", "i8"),
    ("place", "i8"),
    ("on_shift", "i8"),
    ("in_overtime", "i8"),
    ("shift_over", "i8"),
    ("misses", "i8"),
    ("rest", "i8"),
    ("owed_rest", "i8"),
    ("owes_break", "i8"),
    ("owes_interruption", "i8"),
    ("break_follows", "i8"),
    ("covers", "i8"),
    ("step", "i8"),
)
"""`first` and `last` are the cases that wait for this very member. What it owes: a break (`owed_rest`) of
`break_length`, or at least until `break_until`; interruptions of `stop_length`, or at least until
`stop_until`. `break_follows` says that the break came due while it was away; `rest` is the break that
it is on; `walk_left` what is left of its way to its case; `covers` the need that it meets as one kept
from before; `step` where its case took it; `misses` says that it is absent from the shift that its row has now."""

WEAR = record(
    ("left", "f8"),
    ("since", "f8"),
    ("token", "i8"),
    ("draws", "i8"),
    ("waits", "i8"),
    ("interrupt", "i8"),
    ("member", "i8"),
)
"""How much is left until the next interruption, of a member or (NONE) of the whole team; `waits` says that it
starts anew when its interruption is over."""

STEP_STATE = record(
    ("turn", "i8"),
    ("place_turn", "i8"),
    ("quota", "i8"),
    ("token", "i8"),
    ("shut", "i8"),
    ("here", "i8"),
    ("waiting", "i8"),
)

LEVEL = record(("area", "f8"), ("overtime", "f8"), ("since", "f8"), ("now", "i8"), ("highest", "i8"))
"""A number of cases over time: its integral up to `since`, the part of it in overtime, its value, its maximum."""

TALLY = record(
    ("arrived", "i8"),
    ("served", "i8"),
    ("completed", "i8"),
    ("abandoned", "i8"),
    ("turned_away", "i8"),
    ("cost", "f8"),
    ("changeover", "f8"),
)

LINK_STATE = record(("taken", "i8"), ("travel", "f8"))

SOURCE = record(
    ("created", "i8"),
    ("drawn", "i8"),
    ("group", "i8"),
    ("occasion", "i8"),
    ("date", "i8"),
    ("day", "i8"),
    ("pending", "i8"),
    ("all_planned", "i8"),
    ("over", "i8"),
    ("key", "u8"),
    ("luck", "u8"),
    ("appointed_at", "f8"),
    ("mass", "f8"),
)
"""A stream's progress: cases made, gaps drawn, cases of the group still to come; `pending` occasions
are scheduled; `key` is that of its draws, `luck` and `appointed_at` are of the occasion that has just come."""

BOOKING = record(("luck", "u8"), ("appointed_at", "f8"), ("next", "i8"))
"""An appointment that will be kept: whose luck the case brings, and when its slot begins."""

PARTY = record(
    ("owner", "i8"),
    ("join", "i8"),
    ("outstanding", "i8"),
    ("outer", "i8"),
    ("before", "i8"),
    ("first", "i8"),
    ("size", "i8"),
    ("serial", "i8"),
    ("next_free", "i8"),
    ("cost", "f8"),
)
"""A forked case and its branches, or cases that were gathered and travel as one.

Of a batch `size` is how many travel together, and `cost` what its leader had cost before."""

TIMER = record(("token", "i8"), ("case", "i8"), ("deadline", "i8"), ("next", "i8"), ("missed", "i8"))

DEADLINE_STATE = record(("started", "i8"), ("met", "i8"), ("missed", "i8"), ("left", "i8"))
"""How many clocks were started; met and missed; left before they ran out, by who left or began anew."""

MEASURED = record(("among", "f8"), ("held", "f8"), ("area", "f8"), ("highest", "f8"))
"""Of how many cases, visits or minutes the rule was asked and held; of a level its integral and most meanwhile."""

DOING = record(("kind", "i8"), ("subject", "i8"))
"""Something that is to be done at this instant."""

# The ledger: what a replication leaves behind.

VISIT = record(
    ("joined_at", "f8"),
    ("wait", "f8"),
    ("work", "f8"),
    ("blocked", "f8"),
    ("travel", "f8"),
    ("cost", "f8"),
    ("in_overtime", "i8"),
    ("step", "i4"),
    ("type", "i2"),
    ("stream", "i2"),
)

DEPARTURE = record(
    ("left_at", "f8"),
    ("wait", "f8"),
    ("work", "f8"),
    ("blocked", "f8"),
    ("travel", "f8"),
    ("total", "f8"),
    ("cost", "f8"),
    ("in_overtime", "i8"),
    ("step", "i4"),
    ("type", "i2"),
    ("stream", "i2"),
)

SPAN_ROW = record(
    ("wait", "f8"),
    ("work", "f8"),
    ("blocked", "f8"),
    ("travel", "f8"),
    ("total", "f8"),
    ("cost", "f8"),
    ("in_overtime", "i8"),
    ("span", "i4"),
    ("type", "i4"),
)

NOTE = record(("at", "f8"), ("case", "i8"), ("kind", "i4"), ("step", "i4"), ("member", "i4"), ("type", "i4"))
"""One line of the log; `case` is a case's number (0 for none), `member` a member's index or NONE."""


@dataclass(frozen=True, eq=False)
class World(Bundle):
    """One replication in progress: the plan, the state and the ledger."""

    plan: Plan
    clock: np.recarray  # CLOCK, 1
    cases: np.recarray  # CASE, grows
    minutes: np.ndarray  # f8, (cases × MINUTE_COLUMNS), grows with the cases
    extras: np.ndarray  # f8, (cases × [traits, marks of spans]), grows with the cases
    memory: np.ndarray  # i8, (cases × [remembered members, visits, rows that stay, ways ahead]), grows with the cases
    events: np.recarray  # EVENT, a binary heap, grows
    agenda: np.recarray  # DOING, a ring, grows
    lines: np.recarray  # LINE_STATE, one per step
    rooms: np.recarray  # ROOM
    pools: np.recarray  # POOL_STATE
    stalled: np.recarray  # QUEUE, one per pool
    pool_minutes: np.ndarray  # f8, (pools × POOL_CAUSES), minutes that someone in the pool would be charged
    asks: np.recarray  # ASK
    teams: np.recarray  # TEAM_STATE
    still: np.ndarray  # i8, how many each need lacks while one case takes its members
    rows: np.recarray  # ROW_STATE
    members: np.recarray  # MEMBER
    member_time: np.ndarray  # f8, (members × [states in shift, states in overtime])
    wear: np.recarray  # WEAR
    steps: np.recarray  # STEP_STATE
    links: np.recarray  # LINK_STATE
    sources: np.recarray  # SOURCE
    parties: np.recarray  # PARTY, grows
    timers: np.recarray  # TIMER, grows
    bookings: np.recarray  # BOOKING, grows
    deadlines: np.recarray  # DEADLINE_STATE
    measured: np.recarray  # MEASURED, one per measure of the plan
    levels: np.recarray  # LEVEL, (steps of the document, types, rooms) × [line, inside]
    level_minutes: np.ndarray  # f8, (levels × LEVEL_BINS), how long each value held
    step_tally: np.recarray  # TALLY
    type_tally: np.recarray  # TALLY
    stream_tally: np.recarray  # TALLY
    cause_minutes: np.ndarray  # f8, ((steps of the document, types, teams) × ACCOUNTS)
    hour_minutes: np.ndarray  # f8, ((steps of the document, types) × ACCOUNTS), of those who came in the watched hour
    steps_in_overtime: np.recarray  # TALLY, what of the above was counted in overtime
    types_in_overtime: np.recarray  # TALLY
    streams_in_overtime: np.recarray  # TALLY
    causes_in_overtime: np.ndarray  # f8
    value_minutes: np.ndarray  # f8, (types × VALUE_CLASSES), work of those who left, by its value
    marks: np.ndarray  # f8, what the columns of the series stood at when the interval began
    series: np.ndarray  # f8, (intervals × [lines of steps, insides of types, states of teams, arrivals])
    visits: np.recarray  # VISIT, grows
    departures: np.recarray  # DEPARTURE, grows
    spans: np.recarray  # SPAN_ROW, grows
    notes: np.recarray  # NOTE, grows


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
