"""What the kernel tells apart: states, accounts, events, and what draws are for."""

from enum import IntEnum

NONE = -1
NEVER = float("inf")


class MemberState(IntEnum):
    """What a member does; breaks that are not paid are booked apart."""

    OFF = 0
    IDLE = 1
    WORKING = 2
    WALKING = 3
    ON_BREAK = 4
    INTERRUPTED = 5
    ON_UNPAID_BREAK = 6
    ABSENT = 7


MEMBER_STATES = len(MemberState)


class CaseState(IntEnum):
    """What a case does. At an instant between two things; being worked on; travelling; in a line, charged by its pool;
    waiting for its own `cause`; blocked. The last three are waiting of some kind.
    """

    MOVING = 0
    AT_WORK = 1
    ON_THE_WAY = 2
    IN_LINE = 3
    WAITING = 4
    BLOCKED = 5


class Doing(IntEnum):
    """What is seen of a case: nothing, where its record is free; on its way; waiting in a line or for something of its
    own; being worked on; blocked; travelling with another.
    """

    NOTHING = 0
    ON_THE_WAY = 1
    WAITING = 2
    AT_WORK = 3
    BLOCKED = 4
    RIDING = 5


class Account(IntEnum):
    """What a case's minutes are booked on: work, travel, and the causes of waiting."""

    WORK = 0
    TRAVEL = 1
    BUSY = 2
    BREAK = 3
    ABSENCE = 4
    OFF_SHIFT = 5
    INTERRUPTION = 6
    PLACE = 7
    CLOSED = 8
    NEXT_LINE = 9
    SIGNAL = 10
    BATCH = 11
    BRANCHES = 12
    MINIMUM = 13
    PERSON = 14


ACCOUNTS = len(Account)
MESSAGE_COLUMNS = 3
"""Of the memory, for each message that a signal waits for: see `way/messages.py`."""
FIRST_CAUSE = int(Account.BUSY)
POOL_CAUSES = 7
"""The causes from BUSY to CLOSED are the same for everyone in a pool and are booked there."""


class EventKind(IntEnum):
    """What an event is."""

    TIMELINE_ENTRY = 0
    ARRIVAL = 1
    END_OF_WORK = 2
    END_OF_TRAVEL = 3
    MEMBER_ARRIVES = 4
    BREAK_DUE = 5
    MEMBER_BACK = 6
    INTERRUPTION_DUE = 7
    OVERTIME_OVER = 8
    PATIENCE_OVER = 9
    MINIMUM_OVER = 10
    SIGNAL_DUE = 11
    BATCH_DUE = 12
    DEADLINE_DUE = 13
    INTERVAL_OVER = 14
    NEXT_PERIOD = 15


class Rank(IntEnum):
    """In which order events happen at one instant; within a rank in the order of scheduling."""

    FIRST = 0
    CALENDAR = 1
    ROSTER = 2
    WORK = 3
    TIMETABLE = 4
    SIGNAL = 5
    ARRIVAL = 6
    LAST = 7


class Stand(IntEnum):
    """Where a waiting case stands."""

    NOWHERE = 0
    IN_LINE = 1
    WITH_PERSON = 2
    AMONG_STALLED = 3
    IN_MINIMUM_WAIT = 4
    AT_SIGNAL = 5


class Expected(IntEnum):
    """Whether a case on its way is expected in a line: a place is kept for it, or it is called to be served at once."""

    NOT = 0
    PLACE_KEPT = 1
    CALLED = 2


class Look(IntEnum):
    """Whether a team is to be looked at at this instant, or has just been."""

    NONE = 0
    TOUCHED = 1
    LOOKED_AT = 2


class Closed(IntEnum):
    """Whether a pool is closed, and why."""

    OPEN = 0
    BY_HOURS = 1
    BY_OVERTIME = 2


class Agenda(IntEnum):
    """What is to be done at this instant."""

    ENTER = 0
    GO_ON = 1
    GO_THROUGH = 2
    LET_IN = 3
    LET_IN_CASE = 4
    LET_GO = 5
    ARRIVE = 6
    SERVE_POOL = 7
    INTERRUPT = 8


class DrawFor(IntEnum):
    """What a draw is for."""

    GAP = 0
    TYPE = 1
    WORK = 2
    WAY = 3
    TRAVEL = 4
    GROUP = 5
    PATIENCE = 6
    CHANGEOVER = 7
    RANK = 8
    PLACE = 9
    TRAIT = 10
    PUNCTUALITY = 11
    MEMBER = 12
    ABSENCE = 13


class TokenKind(IntEnum):
    """Whether a token is a case itself, a branch of one, or a companion that is sent."""

    CASE = 0
    BRANCH = 1
    COMPANION = 2


class Code(IntEnum):
    """Why the kernel returned."""

    ENDED = 0
    PAUSED = 1
    NEEDS_CASES = 2
    NEEDS_EVENTS = 3
    NEEDS_VISITS = 4
    NEEDS_DEPARTURES = 5
    NEEDS_SPANS = 6
    NEEDS_NOTES = 7
    NEEDS_FORKS = 8
    NEEDS_BATCHES = 9
    NEEDS_TIMERS = 10
    NEEDS_BOOKINGS = 11
    NEEDS_AGENDA = 12
    DEADLOCK = 13
    GOES_ROUND = 14


class Note(IntEnum):
    """What a line of the log says."""

    ARRIVED = 0
    CAME = 1
    JOINED_LINE = 2
    BEGAN = 3
    PAUSED_WORK = 4
    RESUMED = 5
    HANDED_BACK = 6
    ENDED_WORK = 7
    WAS_BLOCKED = 8
    GAVE_UP = 9
    BALKED = 10
    TURNED_AWAY = 11
    SET_OUT = 12
    WAS_HELD = 13
    GATHERED = 14
    DIVERTED = 15
    SENT = 16
    DEPARTED = 17
    SHIFT_BEGAN = 18
    SHIFT_ENDED = 19
    BREAK_BEGAN = 20
    CAME_BACK = 21
    WAS_INTERRUPTED = 22
    MISSED_SHIFT = 23
