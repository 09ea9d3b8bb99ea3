"""The kernel's kinds: of things, states and causes, and what draws and events are for."""

from enum import IntEnum

NONE = -1
NEVER = float("inf")


class StepKind(IntEnum):
    """What a step is; a delay is work that needs nobody."""

    SERVE = 0
    SIGNAL = 1
    CHOOSE = 2
    FORK = 3
    JOIN = 4
    GATHER = 5
    SCATTER = 6
    SET = 7
    EXIT = 8


class WayPick(IntEnum):
    """How a way out of a step is picked."""

    SHARE = 0
    RULE = 1
    LINE = 2
    IN_TURN = 3


class PlacePick(IntEnum):
    """How one of several places is picked."""

    LINE = 0
    NEAREST = 1
    SHARE = 2
    IN_TURN = 3


class Shape(IntEnum):
    """The shape of a distribution."""

    CONSTANT = 0
    EXPONENTIAL = 1
    UNIFORM = 2
    TRIANGULAR = 3
    NORMAL = 4
    LOGNORMAL = 5
    ERLANG = 6
    GAMMA = 7
    WEIBULL = 8
    BETA = 9
    DISCRETE = 10
    EMPIRICAL = 11
    POISSON = 12
    NORMAL_OFFSET = 13


class StreamKind(IntEnum):
    """How a stream brings its cases."""

    RANDOM = 0
    CHANCE = 1
    PROFILE = 2
    EXACT_PROFILE = 3
    APPOINTMENTS = 4
    DATES = 5


class Discipline(IntEnum):
    """In which order those in a line are served."""

    FIRST_COME = 0
    LAST_COME = 1
    PRIORITY = 2
    DUE = 3
    SHORTEST_WORK = 4
    RANDOM = 5


class WhenFull(IntEnum):
    """What a full line does."""

    BLOCKS = 0
    TURNS_AWAY = 1


class SignalKind(IntEnum):
    """When a signal lets those go whom it holds."""

    OPENING = 0
    PERIODIC = 1
    TIMETABLE = 2
    AFTER_STEP = 3
    SO_MANY = 4


class WhenDone(IntEnum):
    """When work is done: always, or by whether who does it is in overtime."""

    ALWAYS = 0
    NOT_IN_OVERTIME = 1
    ONLY_IN_OVERTIME = 2


class TeamKind(IntEnum):
    """What the members of a team are; those of the last kind are the capacity of a place."""

    PEOPLE = 0
    PLACES = 1
    EQUIPMENT = 2
    PLACE_CAPACITY = 3


class MemberPick(IntEnum):
    """Which idle member of a team is picked."""

    LONGEST_IDLE = 0
    LEAST_USED = 1
    LISTED = 2
    RANDOM = 3


class HandOver(IntEnum):
    """What becomes of the case in hand when its member leaves."""

    FINISH = 0
    FINISH_SHORT = 1
    PAUSE = 2
    HAND_OVER = 3


class Stay(IntEnum):
    """How long a team stays after a shift with work left."""

    LEAVES = 0
    CLEARS_LINE = 1
    EMPTIES = 2


class BreakTaken(IntEnum):
    """How the members of a row take a break."""

    TOGETHER = 0
    IN_TURN = 1
    SPREAD = 2


class ClockBy(IntEnum):
    """What the clock of an interruption measures."""

    CLOCK = 0
    WORKING = 1
    CASES = 2


class Whom(IntEnum):
    """Whom an interruption comes to."""

    EACH = 0
    WHOLE_TEAM = 1


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
FIRST_CAUSE = int(Account.BUSY)
POOL_CAUSES = 7
"""The causes from BUSY to CLOSED are the same for everyone in a pool and are booked there."""


class ValueClass(IntEnum):
    """What work is worth."""

    ADDS = 0
    NECESSARY = 1
    WASTE = 2


VALUE_CLASSES = len(ValueClass)


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


class TimelineKind(IntEnum):
    """What is known to come."""

    SHIFT_STARTS = 0
    SHIFT_ENDS = 1
    POOL_OPENS = 2
    POOL_SHUTS = 3
    SIGNAL_OPENS = 4
    SIGNAL_SHUTS = 5
    TIMETABLED_SIGNAL = 6
    DOORS_OPEN = 7
    DOORS_SHUT = 8


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


class Fact(IntEnum):
    """What a rule asks about."""

    TYPE = 0
    TRAIT = 1
    IN_SYSTEM = 2
    WAITED_HERE = 3
    WAITED = 4
    VISITS = 5
    LINE = 6
    FREE = 7
    TIME_OF_DAY = 8
    WEEKDAY = 9


class Comparison(IntEnum):
    """How a rule holds a fact against a value."""

    EQUAL = 0
    NOT = 1
    UNDER = 2
    AT_MOST = 3
    OVER = 4
    AT_LEAST = 5
    IN = 6


RULE_HOLDS, RULE_FAILS = -1, -2


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
    NEEDS_PARTIES = 8
    NEEDS_TIMERS = 9
    NEEDS_BOOKINGS = 10
    NEEDS_AGENDA = 11
    DEADLOCK = 12
    GOES_ROUND = 13


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


class AboutWhom(IntEnum):
    """Of whom a measure of the analyst's own tells."""

    ANYONE = 0
    TYPE = 1
    STREAM = 2
    STEP = 3


class LevelOf(IntEnum):
    """Which level a measure of the analyst's own tells of."""

    NONE = 0
    CASES = 1
    ALL_INSIDE = 2
    MEMBERS_PRESENT = 3
    MEMBERS_WORKING = 4
