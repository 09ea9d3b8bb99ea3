"""The records that a replication leaves behind, and how the minutes and levels behind them are laid out."""

import math

from flowcore.kernel.records.choices import VALUE_CLASSES
from flowcore.kernel.records.kinds import ACCOUNTS, MEMBER_STATES, POOL_CAUSES
from flowcore.kernel.records.record import F8, I2, I4, I8, record, row


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
class Visit:
    """A row of the ledger: a visit to a step that is over; what not all visits have is in its VisitExtra."""

    joined_at: F8
    wait: F8
    work: F8
    step: I2  # of the document
    type: I2
    stream: I2
    in_overtime: I2


@record
class VisitExtra:
    """What a visit has besides, if it has any of it."""

    blocked: F8
    travel: F8
    cost: F8


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


@record
class Seen:
    """What is seen of a case's record, or of a member, from an instant on: a line of a replay's record.

    Those who wait at a step are called in the order of their `rank`, then of their `turn`.
    """

    at: F8
    ends: F8  # when its work or its way ends; NEVER where that is not known
    rank: F8
    turn: F8
    who: I4  # the record of a case, or -1 less a member
    number: I4  # of the case, 0 where the record is free; of a member the record of the case that it is with
    step: I4  # of the document: where it is, or goes to
    came_from: I4  # and on the way, the step from which it comes
    with_: I4  # the first of its members
    together: I4  # how many travel as one with it
    doing: I2  # Doing, or MemberState
    cause: I2  # Account, of what it waits for by itself
    type: I2
    token: I2  # TokenKind; of a member, 1 in overtime


@record
class Sections:
    """Where each kind of subject begins in the tables that count for several: see `sections_of`."""

    type_levels: I8  # of the levels, two a subject (LINE_LEVEL, INSIDE_LEVEL): those of types
    room_levels: I8  # and those of shared waiting rooms, one each
    levels: I8  # how many
    type_causes: I8  # of the rows of minutes by cause: those of types
    team_causes: I8  # and those of teams
    causes: I8  # how many
    type_series: I8  # of the columns of the series: the cases inside by type
    team_series: I8  # the states of teams, MEMBER_STATES each
    stream_series: I8  # arrivals by stream
    completed_series: I8  # all who completed
    series: I8  # how many


def sections_of(steps: int, types: int, rooms: int, teams: int, streams: int) -> tuple[object, ...]:
    """Return the SECTIONS of so many subjects: steps of the document come first everywhere, then types."""
    type_levels, room_levels = 2 * steps, 2 * (steps + types)
    team_series = steps + types
    stream_series = team_series + MEMBER_STATES * teams
    return row(
        Sections,
        type_levels=type_levels,
        room_levels=room_levels,
        levels=room_levels + rooms,
        type_causes=steps,
        team_causes=steps + types,
        causes=steps + types + teams,
        type_series=steps,
        team_series=team_series,
        stream_series=stream_series,
        completed_series=stream_series + streams,
        series=stream_series + streams + 1,
    )


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
LEAST_OF_WIDE_BINS = tuple(math.ceil(EXACT_BINS * 1.5**power) for power in range(LEVEL_BINS - EXACT_BINS))
"""The least number that falls into each of the wider bins."""
