"""The kernel's constants: kinds of things, states, causes, and what draws and events are for."""

NONE = -1
NEVER = float("inf")

# Kinds of step; a delay is work that needs nobody.
SERVE, SIGNAL_STEP, CHOOSE, FORK, JOIN, GATHER, SCATTER, SET, EXIT = range(9)

# How a way out is picked.
BY_SHARE, BY_RULE, BY_LINE, IN_TURN = range(4)

# How one of several places is picked.
PLACE_BY_LINE, PLACE_NEAREST, PLACE_BY_SHARE, PLACE_IN_TURN = range(4)

# Kinds of distribution.
CONSTANT, EXPONENTIAL, UNIFORM, TRIANGULAR, NORMAL, LOGNORMAL, ERLANG = range(7)
GAMMA, WEIBULL, BETA, DISCRETE, EMPIRICAL, POISSON, NORMAL_OFFSET = range(7, 14)

# Kinds of stream.
RANDOM, CHANCE, PROFILE, EXACT_PROFILE, APPOINTMENTS, DATES = range(6)

# Line disciplines.
FIRST_COME, LAST_COME, PRIORITY, DUE, SHORTEST_WORK, AT_RANDOM = range(6)

# What a full line does.
BLOCKS, TURNS_AWAY = 0, 1

# Kinds of signal that let held cases go.
OPENING, PERIODIC, TIMETABLE, AFTER_STEP, SO_MANY = range(5)

# When a step is done.
ALWAYS, NOT_IN_OVERTIME, ONLY_IN_OVERTIME = range(3)

# Kinds of team.
PEOPLE, PLACES, EQUIPMENT, ROOM = range(4)

# Which member is picked.
LONGEST_IDLE, LEAST_USED, LISTED, PICKED_AT_RANDOM = range(4)

# Hand-over rules.
FINISH, FINISH_SHORT, PAUSE, HAND_OVER = range(4)

# How long a team stays after a shift with work left.
LEAVES, CLEARS_LINE, EMPTIES = range(3)

# How a break is taken.
TOGETHER, TAKEN_IN_TURN, SPREAD = range(3)

# What an interruption's clock measures, and whom it strikes.
BY_CLOCK, BY_WORKING, BY_CASES = range(3)
EACH, WHOLE_TEAM = 0, 1

# States of a member; breaks that are not paid are booked apart.
OFF, IDLE, WORKING, WALKING, ON_BREAK, INTERRUPTED, ON_UNPAID_BREAK, ABSENT = range(8)
MEMBER_STATES = 8

# States of a case.
MOVING, AT_WORK, ON_THE_WAY, IN_LINE, WAITING, STUCK = range(6)
"""At an instant between two things; being worked on; travelling; in a line, charged by its pool;
waiting for its own `cause`; blocked. The last three are waiting of some kind."""

# What a case's minutes are booked on: work, travel, and the causes of waiting.
WORK, TRAVEL, BUSY, BREAK, ABSENCE, OFF_SHIFT, INTERRUPTION, PLACE, CLOSED = range(9)
NEXT_LINE, SIGNAL, BATCH, BRANCHES, MINIMUM, PERSON = range(9, 15)
ACCOUNTS = 15
FIRST_CAUSE = BUSY
POOL_CAUSES = 7
"""The causes from BUSY to CLOSED are the same for everyone in a pool and are booked there."""

# What work is worth: it adds value, is necessary, or is waste.
ADDS, NECESSARY, WASTE = range(3)
VALUE_CLASSES = 3

# Kinds of event; at one instant they happen by rank, and within a rank in the order of scheduling.
(
    TIMELINE_ENTRY,
    ARRIVAL,
    END_OF_WORK,
    END_OF_TRAVEL,
    MEMBER_ARRIVES,
    BREAK_DUE,
    MEMBER_BACK,
    INTERRUPTION_DUE,
    OVERTIME_OVER,
    PATIENCE_OVER,
    MINIMUM_OVER,
    SIGNAL_DUE,
    BATCH_DUE,
    DEADLINE_DUE,
    INTERVAL_OVER,
    NEW_DAY,
) = range(16)
RANK_FIRST, RANK_CALENDAR, RANK_ROSTER, RANK_WORK, RANK_TIMETABLE, RANK_SIGNAL, RANK_ARRIVAL, RANK_LAST = range(8)

# Kinds of timeline entry.
(
    SHIFT_STARTS,
    SHIFT_ENDS,
    POOL_OPENS,
    POOL_SHUTS,
    SIGNAL_OPENS,
    SIGNAL_SHUTS,
    TIMETABLED_SIGNAL,
    DOORS_OPEN,
    DOORS_SHUT,
) = range(9)

# Where a waiting case stands.
NOWHERE, IN_THE_LINE, WITH_PERSON, AMONG_STALLED, RIPENING, AT_SIGNAL = range(6)

# Whether a case on its way is expected in a line: a place is kept for it, or it has been called to be served at once.
PLACE_KEPT, CALLED = 1, 2

# Whether a team is to be looked at at this instant, or has just been.
TOUCHED, LOOKED_AT = 1, 2

# Why a pool is closed.
OPEN, SHUT_BY_HOURS, SHUT_BY_OVERTIME = range(3)

# What is to be done at this instant.
ENTER, GO_ON, GO_THROUGH, LET_IN, LET_IN_CASE, LET_GO, ARRIVE, SERVE_POOL, STRIKE = range(9)

# What a draw is for.
(
    FOR_GAP,
    FOR_TYPE,
    FOR_WORK,
    FOR_WAY,
    FOR_TRAVEL,
    FOR_GROUP,
    FOR_PATIENCE,
    FOR_CHANGEOVER,
    FOR_RANK,
    FOR_PLACE,
    FOR_TRAIT,
    FOR_PUNCTUALITY,
    FOR_MEMBER,
    FOR_ABSENCE,
) = range(14)

# Kinds of token.
CASE_ITSELF, BRANCH, ERRAND = range(3)

# What a rule asks about, and how.
F_TYPE, F_TRAIT, F_IN_SYSTEM, F_WAITED_HERE, F_WAITED, F_VISITS, F_LINE, F_FREE, F_TIME_OF_DAY, F_WEEKDAY = range(10)
EQUAL, NOT, UNDER, AT_MOST, OVER, AT_LEAST, IN = range(7)
RULE_HOLDS, RULE_FAILS = -1, -2

# Why the kernel returned.
(
    ENDED,
    PAUSED,
    NEEDS_CASES,
    NEEDS_EVENTS,
    NEEDS_VISITS,
    NEEDS_DEPARTURES,
    NEEDS_SPANS,
    NEEDS_NOTES,
    NEEDS_PARTIES,
    NEEDS_TIMERS,
    NEEDS_BOOKINGS,
    NEEDS_AGENDA,
    STANDS_STILL,
    GOES_ROUND,
) = range(14)

# What a note in the log says.
(
    ARRIVED,
    CAME,
    JOINED_LINE,
    BEGAN,
    PAUSED_WORK,
    RESUMED,
    HANDED_BACK,
    ENDED_WORK,
    WAS_BLOCKED,
    GAVE_UP,
    BALKED,
    TURNED_AWAY,
    SET_OUT,
    WAS_HELD,
    GATHERED,
    DIVERTED,
    SENT,
    DEPARTED,
    SHIFT_BEGAN,
    SHIFT_ENDED,
    BREAK_BEGAN,
    CAME_BACK,
    WAS_INTERRUPTED,
    MISSED_SHIFT,
) = range(24)

# Of whom a measure of the analyst's own tells, and which level.
ANYONE, OF_TYPE, OF_STREAM, OF_STEP = range(4)
NO_LEVEL, OF_CASES, OF_ALL_INSIDE, OF_MEMBERS_PRESENT, OF_MEMBERS_WORKING = range(5)
