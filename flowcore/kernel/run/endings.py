"""Whether a replication can go on: its stop rule, a standstill, an instant without end, a buffer that is full."""

from flowcore.kernel.clockwork.events import next_event
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, Account, CaseState, Code
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.presence import is_absent

WEEK = 10080.0
MOST_AT_ONCE = 100_000
MOST_AT_ONCE_BY_CASE = 10_000
MOST_AT_ONCE_BY_MEMBER = 100


@part
def buffer_to_grow(world: World) -> int:
    """Return the code of a buffer that may be too small for what comes next, or ENDED where all is well."""
    clock = world.clock[0]
    margin = world.plan.run[0].margin * clock.most_together
    if clock.tokens + margin > len(world.cases):
        return Code.NEEDS_CASES
    if clock.soon + clock.later + margin > len(world.later):
        return Code.NEEDS_EVENTS
    if clock.visits + margin > len(world.visits):
        return Code.NEEDS_VISITS
    if clock.departures + margin > len(world.departures):
        return Code.NEEDS_DEPARTURES
    if clock.agenda_length + margin > len(world.agenda):
        return Code.NEEDS_AGENDA
    if clock.span_rows + margin > len(world.spans):
        return Code.NEEDS_SPANS
    if clock.timers + margin > len(world.timers):
        return Code.NEEDS_TIMERS
    if clock.forks + margin > len(world.forks):
        return Code.NEEDS_FORKS
    if clock.batches + margin > len(world.batches):
        return Code.NEEDS_BATCHES
    if clock.bookings + margin > len(world.bookings):
        return Code.NEEDS_BOOKINGS
    if clock.tracing and clock.notes + margin > len(world.notes):
        return Code.NEEDS_NOTES
    return Code.ENDED


@part
def goes_round(world: World, things: int) -> bool:
    """Count what is done at one instant; say whether it is so much that the clock will never go on."""
    clock = world.clock[0]
    if clock.now > clock.looked_at:
        clock.looked_at = clock.now
        clock.things_at_once = 0
    clock.things_at_once += things
    by_whom = MOST_AT_ONCE_BY_CASE * clock.tokens + MOST_AT_ONCE_BY_MEMBER * len(world.members)
    return clock.things_at_once > MOST_AT_ONCE + by_whom


@part
def code_at_end(world: World) -> int:
    """Return why nothing more happens where all has been done at this instant, or PAUSED where the next event comes."""
    clock, run = world.clock[0], world.plan.run[0]
    if (run.until_completed > 0 or run.until_empty > 0) and is_over(world):
        return Code.ENDED
    if clock.live == 0 and clock.coming == 0 and stands_still(world):
        return Code.DEADLOCK
    if clock.soon == 0 or next_event(world).time > clock.until:
        clock.now = clock.until
        return Code.ENDED
    return Code.PAUSED


@rare
def is_over(world: World) -> bool:
    """Say whether the run's stop rule has come true."""
    run = world.plan.run[0]
    clock = world.clock[0]
    if run.until_completed > 0 and clock.completed >= run.until_completed:
        return True
    if run.until_empty == 0 or clock.inside > 0:
        return False
    shut = run.doors != NONE and clock.doors_open == 0 and clock.has_closed == 1
    return shut or clock.coming == 0


@rare
def stands_still(world: World) -> bool:
    """Say whether cases are inside and wait only for each other, where no event is left to move or bring any."""
    clock = world.clock[0]
    if clock.inside == 0:
        return False
    only_the_interval = clock.soon + clock.later <= 1
    if not only_the_interval and next_event(world).time <= clock.last_moved + 2 * WEEK:
        return False
    return all_wait_for_each_other(world)


@rare
def all_wait_for_each_other(world: World) -> bool:
    """Say whether some case waits, and none for something that comes by itself: a shift, an opening, a signal."""
    some = False
    for case_id in range(len(world.cases)):
        case = world.cases[case_id]
        cause = case.cause
        if case.state == CaseState.IN_LINE:
            cause = world.pools[world.plan.lines[case.line].pool].cause
        elif case.state != CaseState.WAITING and case.state != CaseState.BLOCKED:
            continue
        if cause == Account.PERSON and is_absent(world.members[case.person].state):
            return False
        some = True
        if (
            cause != Account.BUSY
            and cause != Account.PLACE
            and cause != Account.PERSON
            and cause != Account.NEXT_LINE
            and cause != Account.BRANCHES
        ):
            return False
    return some
