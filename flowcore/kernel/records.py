"""The kernel's data: one record type per thing of the service. Times are minutes since the start."""

from typing import NamedTuple

import numpy as np

NONE = -1

# Kinds of step.
SERVE, DELAY, CHOOSE, EXIT = 0, 1, 2, 3

# Kinds of distribution.
CONSTANT, EXPONENTIAL, UNIFORM, TRIANGULAR, NORMAL, LOGNORMAL, ERLANG = range(7)

# Kinds of event; at one instant they happen by rank, and within a rank in the order of scheduling.
END_OF_WORK, END_OF_TRAVEL, ARRIVAL = 0, 1, 2
RANK_ROSTER, RANK_WORK, RANK_SIGNAL, RANK_ARRIVAL = 0, 1, 2, 3

# States of a member.
IDLE, WORKING = 0, 1
MEMBER_STATES = 2

# What a draw is for.
FOR_GAP, FOR_TYPE, FOR_WORK, FOR_WAY, FOR_TRAVEL = range(5)

# Why the kernel returned.
OVER, PAUSED, NEEDS_CASES, NEEDS_VISITS, NEEDS_DEPARTURES = range(5)


def _record(*fields: tuple[str, str]) -> np.dtype[np.void]:
    """Make a record type whose fields read as attributes in plain Python too."""
    return np.dtype((np.record, list(fields)))


# The plan: what does not change while a replication runs.

DISTRIBUTION = _record(("a", "f8"), ("b", "f8"), ("c", "f8"), ("kind", "i4"), ("stages", "i4"))
"""Parameters by kind: mean; low, high; low, mode, high; mean, sd, Φ(−mean/sd); μ, σ of the log; stage mean."""

STREAM = _record(("key", "u8"), ("gap", "i4"), ("to", "i4"), ("mix", "i4"))
"""`mix` is where the stream's cumulative shares begin in `Plan.mixes`, one per case type."""

STEP = _record(
    ("key", "u8"),
    ("kind", "i4"),
    ("pool", "i4"),
    ("times", "i4"),
    ("first_link", "i4"),
    ("links", "i4"),
    ("shares", "i4"),
    ("circle", "i4"),
    ("abandoned", "i4"),
)
"""`times` and `shares` are where the step's rows begin in `Plan.times` and `Plan.shares`, a row
per case type; `circle` names the strongly connected part of the flow that the step lies in."""

LINK = _record(("key", "u8"), ("to", "i4"), ("travel", "i4"), ("back", "i4"))
"""`back` is 1 where the link closes a circle, so that each circuit of a case crosses one."""

NEED = _record(("team", "i4"), ("count", "i4"))

POOL = _record(("first_need", "i4"), ("needs", "i4"), ("first_place", "i4"))
"""Lines that ask for exactly the same; whoever cannot serve the first of them can serve none."""

TEAM = _record(("first_member", "i4"), ("members", "i4"), ("first_pool", "i4"), ("pools", "i4"))


class Plan(NamedTuple):
    """A study as arrays: everything that the kernel reads and never writes."""

    distributions: np.recarray  # DISTRIBUTION
    streams: np.recarray  # STREAM
    mixes: np.ndarray  # f8, cumulative shares, (streams × case types)
    steps: np.recarray  # STEP
    times: np.ndarray  # i4, index of a distribution, (timed steps × case types)
    shares: np.ndarray  # f8, cumulative shares, case types × links for each step
    links: np.recarray  # LINK
    needs: np.recarray  # NEED
    pools: np.recarray  # POOL
    teams: np.recarray  # TEAM
    team_pools: np.ndarray  # i4, the pools that ask for each team


# The state: what changes from event to event.

CASE = _record(
    ("luck", "u8"),
    ("arrived_at", "f8"),
    ("joined_at", "f8"),
    ("began_at", "f8"),
    ("waited", "f8"),
    ("worked", "f8"),
    ("travelled", "f8"),
    ("order", "i8"),
    ("number", "i8"),
    ("type", "i4"),
    ("stream", "i4"),
    ("step", "i4"),
    ("laps", "i4"),
    ("circle", "i4"),
    ("first_held", "i4"),
    ("next", "i4"),
)
"""`luck` is the part of every draw's key that comes from the case; `order` is its turn in the line;
`next` is the case behind it in its line, or the next free record."""

EVENT = _record(("time", "f8"), ("order", "i8"), ("kind", "i4"), ("subject", "i4"))
"""`order` is the rank in the high bits and a running number in the low ones."""

LINE = _record(("first", "i4"), ("last", "i4"))
"""The cases waiting at a step, first come first served."""

MEMBER = _record(("since", "f8"), ("team", "i4"), ("state", "i4"), ("next_idle", "i4"), ("next_held", "i4"))

CREW = _record(("first_idle", "i4"), ("last_idle", "i4"), ("idle", "i4"))
"""A team's idle members, the longest idle first."""

LEVEL = _record(("area", "f8"), ("since", "f8"), ("now", "i8"), ("highest", "i8"))
"""A number of cases over time: its integral up to `since`, its value now, its maximum."""

TALLY = _record(("arrived", "i8"), ("served", "i8"), ("completed", "i8"), ("abandoned", "i8"))

SOURCE = _record(
    ("created", "i8"),
)

CLOCK = _record(
    ("now", "f8"),
    ("until", "f8"),
    ("seed", "u8"),
    ("scheduled", "i8"),
    ("joined", "i8"),
    ("cases", "i8"),
    ("inside", "i4"),
    ("events", "i4"),
    ("visits", "i4"),
    ("departures", "i4"),
    ("free_case", "i4"),
    ("margin", "i4"),
)
"""The counters of one replication. `margin` is how many records one event may take at the most."""

# The ledger: what a replication leaves behind.

VISIT = _record(("joined_at", "f8"), ("wait", "f8"), ("work", "f8"), ("step", "i4"), ("type", "i2"), ("stream", "i2"))

DEPARTURE = _record(
    ("left_at", "f8"),
    ("wait", "f8"),
    ("work", "f8"),
    ("travel", "f8"),
    ("total", "f8"),
    ("step", "i4"),
    ("type", "i2"),
    ("stream", "i2"),
)


class World(NamedTuple):
    """One replication in progress: the plan, the state and the ledger."""

    plan: Plan
    clock: np.recarray  # CLOCK, 1
    cases: np.recarray  # CASE, grows
    events: np.recarray  # EVENT, a binary heap, grows with the cases
    lines: np.recarray  # LINE, one per step
    places: np.ndarray  # i4, for each pool a binary heap of its lines that are not empty
    waiting: np.ndarray  # i4, how many lines of each pool are not empty
    crews: np.recarray  # CREW, one per team
    members: np.recarray  # MEMBER
    member_time: np.ndarray  # f8, minutes, (members × states)
    sources: np.recarray  # SOURCE, one per stream
    step_levels: np.recarray  # LEVEL, (steps × [line, inside])
    type_levels: np.recarray  # LEVEL, (case types × [line, inside])
    step_tally: np.recarray  # TALLY
    type_tally: np.recarray  # TALLY
    stream_tally: np.recarray  # TALLY
    visits: np.recarray  # VISIT, grows
    departures: np.recarray  # DEPARTURE, grows


LINE_LEVEL, INSIDE_LEVEL = 0, 1
