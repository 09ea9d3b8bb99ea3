"""The plan: a study as arrays of records, which a replication reads and never writes.

Lists of numbers of any length lie in `Plan.lists` (whole) and `Plan.numbers` (real); a record says
where its own begin. A step of the plan is a step of the document at one place: those with several
places have one each, and a way with an escort is a step of its own. `document` leads back.
"""

from dataclasses import dataclass

import numpy as np

from flowcore.kernel.bundle import Bundle


def record(*fields: tuple[str, str]) -> np.dtype[np.void]:
    """Make a record type whose fields read as attributes in plain Python too."""
    return np.dtype((np.record, list(fields)))


DISTRIBUTION = record(
    ("a", "f8"), ("b", "f8"), ("c", "f8"), ("kind", "i8"), ("stages", "i8"), ("expected", "f8"), ("first", "i8")
)
"""Parameters by kind: mean; low, high; low, mode, high; mean, sd, Φ(−mean/sd); μ, σ of the log;
stage mean; shape and scale; α, β and bounds. Values and cumulative weights lie in `Plan.numbers`."""

STREAM = record(
    ("key", "u8"),
    ("kind", "i8"),
    ("gap", "i8"),
    ("to", "i8"),
    ("mix", "i8"),
    ("hours", "i8"),
    ("hour_mixes", "i8"),
    ("calendar", "i8"),
    ("group", "i8"),
    ("first_start", "i8"),
    ("starts", "i8"),
    ("profile", "i8"),
    ("intervals", "i8"),
    ("first_session", "i8"),
    ("sessions", "i8"),
    ("punctuality", "i8"),
    ("first_date", "i8"),
    ("dates", "i8"),
    ("limit", "i8"),
    ("every", "f8"),
    ("chance", "f8"),
    ("opens_at", "f8"),
    ("shuts_at", "f8"),
    ("interval", "f8"),
    ("no_show", "f8"),
    ("filled", "f8"),
)
"""`mix` is where its cumulative shares begin in `numbers`, one per case type; `hours` where its mixes
by hour lie in `lists`; `profile` where its cumulative arrivals by interval of the week begin."""

START = record(("key", "u8"), ("trait", "i8"), ("distribution", "i8"), ("add", "i8"), ("value", "f8"))
"""A trait and what it becomes: drawn, added to, or set."""

SESSION = record(("day", "i8"), ("places", "i8"), ("begins", "f8"), ("ends", "f8"), ("every", "f8"))

DATE = record(("at", "f8"), ("type", "i8"), ("first_start", "i8"), ("starts", "i8"))

TYPE = record(
    ("priority", "f8"),
    ("due", "f8"),
    ("waiting_cost", "f8"),
    ("inside_cost", "f8"),
    ("first_start", "i8"),
    ("starts", "i8"),
)

STEP = record(
    ("key", "u8"),
    ("kind", "i8"),
    ("document", "i8"),
    ("line", "i8"),
    ("pool", "i8"),
    ("coverable", "i8"),
    ("first_need", "i8"),
    ("needs", "i8"),
    ("times", "i8"),
    ("first_trait_time", "i8"),
    ("trait_times", "i8"),
    ("first_link", "i8"),
    ("links", "i8"),
    ("shares", "i8"),
    ("pick", "i8"),
    ("looks_ahead", "i8"),
    ("circle", "i8"),
    ("place", "i8"),
    ("first_place", "i8"),
    ("places", "i8"),
    ("place_pick", "i8"),
    ("place_shares", "i8"),
    ("changeover", "i8"),
    ("keeps_people", "i8"),
    ("is_travel", "i8"),
    ("clears", "i8"),
    ("lets_go", "i8"),
    ("many", "i8"),
    ("first_raised", "i8"),
    ("raised", "i8"),
    ("join", "i8"),
    ("first_start", "i8"),
    ("starts", "i8"),
    ("first_begun", "i8"),
    ("begun", "i8"),
    ("first_met", "i8"),
    ("met", "i8"),
    ("span_point", "i8"),
    ("visit_counter", "i8"),
    ("abandoned", "i8"),
    ("value", "i8"),
    ("cost", "f8"),
    ("changeover_cost", "f8"),
    ("penalty", "f8"),
    ("every", "f8"),
    ("clears_first", "f8"),
)
"""`times` and `shares` are rows per case type; from `line` on there is a line for each way in which the
case's own people may meet the `coverable` needs (bits); `looks_ahead` says that the choice of ways through steps
that take no time is made before the case leaves; `raised` are the signals that its end clears;
`begun` and `met` the deadlines that start and stop here; `place_shares` lie in `numbers`."""

LINK = record(
    ("key", "u8"), ("to", "i8"), ("travel", "i8"), ("walks", "i8"), ("back", "i8"), ("rule", "i8"), ("chance", "f8")
)
"""`back` is 1 where the link closes a circle; `rule` is where its byte code begins, or NONE."""

TEST = record(
    ("fact", "i8"), ("about", "i8"), ("is_", "i8"), ("many", "i8"), ("first", "i8"), ("yes", "i8"), ("no", "i8")
)
"""One instruction of a rule: hold a fact against `many` values and go on at `yes` or `no`."""

NEED = record(
    ("count", "i8"),
    ("first_team", "i8"),
    ("teams", "i8"),
    ("name", "i8"),
    ("same_as", "i8"),
    ("keep_until", "i8"),
    ("most_covered", "i8"),
)
"""`teams` lie in `lists`, the preferred first; `keep_until` is a step of the document; `most_covered` says how many
of the need the case's own people may meet."""

CONDITION = record(("count", "i8"), ("mask", "i8"), ("last", "i8"), ("first_team", "i8"), ("teams", "i8"))
"""So many idle members among these teams, for the needs (bits), up to the last of them, that only they can meet.

A pool's needs can be met where all its conditions hold (Gale, A theorem on flows in networks,
Pacific Journal of Mathematics 7, 1957)."""

POOL = record(
    ("first_need", "i8"),
    ("needs", "i8"),
    ("first_condition", "i8"),
    ("conditions", "i8"),
    ("first_ask", "i8"),
    ("asks", "i8"),
    ("first_team", "i8"),
    ("mixed", "i8"),
    ("reserve", "i8"),
    ("preempts", "i8"),
    ("overtime", "i8"),
    ("never", "i8"),
    ("only_team", "i8"),
    ("only_count", "i8"),
)
"""Lines that ask for exactly the same under the same conditions; whoever cannot serve the first of
them can serve none. `needs` are numbers of NEED in `lists`, and so are from `first_team` the teams
that it asks; `never` says that they are served only in overtime and that nobody has any. Most ask
for `only_count` members of the `only_team`, which is NONE for the others."""

LINE = record(
    ("discipline", "i8"),
    ("most", "i8"),
    ("when_full", "i8"),
    ("full_to", "i8"),
    ("balk_at", "i8"),
    ("balks_to", "i8"),
    ("patience", "i8"),
    ("gives_up_to", "i8"),
    ("room", "i8"),
    ("step", "i8"),
    ("pool", "i8"),
    ("min_wait", "f8"),
    ("is_only", "i8"),
)
"""How cases wait at a step, for each set of needs that they may still have there.

`room` is the waiting room whose length counts, shared or its own; `is_only` says that its pool has no other line."""

TEAM = record(
    ("key", "u8"),
    ("kind", "i8"),
    ("first_member", "i8"),
    ("members", "i8"),
    ("peak", "i8"),
    ("first_row", "i8"),
    ("rows", "i8"),
    ("first_interruption", "i8"),
    ("interruptions", "i8"),
    ("picks", "i8"),
    ("at_break", "i8"),
    ("at_shift_end", "i8"),
    ("stay", "i8"),
    ("place", "i8"),
    ("walks", "i8"),
    ("pace", "f8"),
    ("rate", "f8"),
    ("overtime", "f8"),
    ("use_cost", "f8"),
    ("stay_at_most", "f8"),
    ("absence", "f8"),
)

ROW = record(
    ("team", "i8"), ("first_member", "i8"), ("members", "i8"), ("first_break", "i8"), ("breaks", "i8"), ("slot", "i8")
)
"""A roster row and the members who follow it; where they stay for the cases that wait, its bit in a case's memory."""

REST = record(
    ("after", "f8"), ("at", "f8"), ("length", "f8"), ("within", "f8"), ("taken", "i8"), ("paid", "i8"), ("row", "i8")
)
"""A break of a roster row: `after` so long, or `at` a minute of the day (-1 where it is not by the clock)."""

INTERRUPT = record(
    ("first_wear", "i8"),
    ("after", "i8"),
    ("length", "i8"),
    ("measure", "i8"),
    ("strikes", "i8"),
    ("rule", "i8"),
    ("team", "i8"),
)

TIMELINE = record(("at", "f8"), ("since", "f8"), ("until", "f8"), ("rank", "i8"), ("kind", "i8"), ("subject", "i8"))
"""What is known to come: shifts, openings, timetables."""

CALENDAR = record(("first", "i8"), ("periods", "i8"))
"""Open periods lie in `numbers` as start, end and open minutes before the start."""

DEADLINE = record(("key", "u8"), ("within", "f8"), ("every", "f8"), ("send", "i8"), ("divert", "i8"))

SPAN_POINT = record(("step", "i8"), ("leaving", "i8"), ("span", "i8"), ("ends", "i8"), ("next", "i8"))

MEASURE = record(
    ("whom", "i8"),
    ("about", "i8"),
    ("rule", "i8"),
    ("level", "i8"),
    ("level_of", "i8"),
    ("first_edge", "i8"),
    ("edges", "i8"),
)
"""A measure of the analyst's own, of cases, of visits or (from `Run.of_time` on) of the time.

`about` is the number of the type, stream or step that it is of; `rule` where its byte code begins, or NONE; the minutes
of the day at which the rule may change lie in `numbers`."""

RUN = record(
    ("steps", "i8"),
    ("document_steps", "i8"),
    ("types", "i8"),
    ("traits", "i8"),
    ("names", "i8"),
    ("counters", "i8"),
    ("awaiting", "i8"),
    ("ways_ahead", "i8"),
    ("spans", "i8"),
    ("first_checkpoint", "i8"),
    ("of_visits", "i8"),
    ("of_time", "i8"),
    ("places", "i8"),
    ("walks", "i8"),
    ("doors", "i8"),
    ("until_completed", "i8"),
    ("until_empty", "i8"),
    ("rooms", "i8"),
    ("first_weekday", "i8"),
    ("watched_hour", "i8"),
    ("start_minute", "f8"),
    ("length", "f8"),
    ("interval", "f8"),
    ("folds", "i8"),
    ("turns", "i8"),
    ("margin", "i8"),
)
"""The whole: how many of what there are, where the walking times lie in `numbers`, when it ends.

Measures are of cases first, then from `of_visits` on of visits, and from `of_time` on of the time. `watched_hour` is
the hour of the week whose minutes are kept apart, or NONE.
A case's memory has `names`, `counters`, `awaiting` (bits of rows that stay for it) and `ways_ahead` (two for each)."""


@dataclass(frozen=True, eq=False)
class Plan(Bundle):
    """A study as arrays: everything that the kernel reads and never writes."""

    constant = True

    run: np.recarray  # RUN, 1
    distributions: np.recarray  # DISTRIBUTION
    streams: np.recarray  # STREAM
    starts: np.recarray  # START
    sessions: np.recarray  # SESSION
    dates: np.recarray  # DATE
    types: np.recarray  # TYPE
    steps: np.recarray  # STEP
    links: np.recarray  # LINK
    tests: np.recarray  # TEST
    needs: np.recarray  # NEED
    conditions: np.recarray  # CONDITION
    pools: np.recarray  # POOL
    lines: np.recarray  # LINE
    teams: np.recarray  # TEAM
    rows: np.recarray  # ROW
    rests: np.recarray  # REST
    interrupts: np.recarray  # INTERRUPT
    timeline: np.recarray  # TIMELINE, by time
    calendars: np.recarray  # CALENDAR
    deadlines: np.recarray  # DEADLINE
    span_points: np.recarray  # SPAN_POINT
    measures: np.recarray  # MEASURE
    lists: np.ndarray  # i8
    numbers: np.ndarray  # f8
