"""What a study chooses among: kinds of steps, teams, streams, rules."""

from enum import IntEnum


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


class Kept(IntEnum):
    """How those in a line are kept in their order: see `clockwork/queues.py`."""

    CHAIN = 0
    GRADED_CHAIN = 1
    HEAP = 2


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
    MESSAGE = 5


class WhenDone(IntEnum):
    """When work is done: always, or by whether who does it is in overtime."""

    ALWAYS = 0
    NOT_IN_OVERTIME = 1
    ONLY_IN_OVERTIME = 2


class TravelKind(IntEnum):
    """Whether a step of the plan is a way with an escort, and what its time is."""

    NONE = 0
    TIMED = 1
    WALKED = 2


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


class ValueClass(IntEnum):
    """What work is worth."""

    ADDS = 0
    NECESSARY = 1
    WASTE = 2


VALUE_CLASSES = len(ValueClass)


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
    OVERTIME_STARTS = 9


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
    MESSAGE = 10


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
