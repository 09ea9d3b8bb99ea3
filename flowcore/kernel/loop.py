"""The loop: it does what is to be done at this instant, then lets the next event happen."""

import numpy as np

from flowcore.kernel.accounts import book_all_levels, book_pool, turn_to
from flowcore.kernel.arrivals import arrive, occasion_comes, open_streams, plan_day
from flowcore.kernel.compiled import entry, part, rare
from flowcore.kernel.draws import chain
from flowcore.kernel.events import do_next, drop_first, moves_cases, roster_goes_on, schedule
from flowcore.kernel.intervals import collect_interval, end_interval, schedule_interval
from flowcore.kernel.kinds import (
    NONE,
    Account,
    Agenda,
    CaseState,
    Code,
    EventKind,
    Expected,
    MemberState,
    Rank,
    SignalKind,
    StepKind,
    TimelineKind,
)
from flowcore.kernel.lines import be_awaited_no_more
from flowcore.kernel.measures import measure_time
from flowcore.kernel.members import book_member, is_absent, set_state
from flowcore.kernel.overtime import end_overtime
from flowcore.kernel.parallel import end_wait_for_batch
from flowcore.kernel.rosters import come_back, end_row, settle_pool, start_row, stop_staying, strike, take_break
from flowcore.kernel.routing import clear_signal, go_on, go_through, leave_blocked, let_in_blocked, set_quota
from flowcore.kernel.serving import serve_pool, serve_touched
from flowcore.kernel.state import World
from flowcore.kernel.steps import enter, let_go, lose_patience, miss_deadline, ripen
from flowcore.kernel.wear import wind_all_up
from flowcore.kernel.work import arrive_at_case

WEEK = 10080.0
MOST_AT_ONCE = 100_000
MOST_AT_ONCE_BY_CASE = 10_000
MOST_AT_ONCE_BY_MEMBER = 100


@entry
def open_up(world: World, seed: np.uint64, replication: np.uint64) -> None:
    """Give the replication its luck, let everyone without a roster be there, and start all clocks."""
    clock = world.clock[0]
    clock.seed = chain(chain(np.uint64(0), seed), replication)
    for member in range(len(world.members)):
        if world.members[member].row == NONE:
            world.members[member].on_shift = 1
            set_state(world, member, MemberState.IDLE)
    for pool in range(len(world.pools)):
        settle_pool(world, pool)
    for step in range(len(world.steps)):
        plan = world.plan.steps[step]
        if plan.kind == StepKind.SIGNAL and plan.clears == SignalKind.PERIODIC:
            schedule(world, plan.clears_first, Rank.SIGNAL, EventKind.SIGNAL_DUE, step, 0)
    open_streams(world)
    wind_all_up(world)
    schedule_interval(world)
    schedule_entry(world)


@part
def schedule_entry(world: World) -> None:
    """Schedule the next of what the timeline knows to come."""
    clock = world.clock[0]
    if clock.next_entry < len(world.plan.timeline):
        entry_ = world.plan.timeline[clock.next_entry]
        schedule(world, entry_.at, entry_.rank, EventKind.TIMELINE_ENTRY, clock.next_entry, 0)
        clock.next_entry += 1


@rare
def follow_timeline(world: World, number: int) -> None:
    """Let something happen that was known to come; signals that open at one time are all open before anyone goes on."""
    clock = world.clock[0]
    timeline = world.plan.timeline
    follow_entry(world, number)
    while clock.next_entry < len(timeline):
        here, following = timeline[number], timeline[clock.next_entry]
        if (
            here.kind != TimelineKind.SIGNAL_OPENS
            or following.kind != TimelineKind.SIGNAL_OPENS
            or following.at != here.at
        ):
            break
        follow_entry(world, clock.next_entry)
        clock.next_entry += 1
    schedule_entry(world)


@rare
def follow_entry(world: World, number: int) -> None:
    """Let an entry of the timeline happen: a shift, an opening, a signal by timetable."""
    here = world.plan.timeline[number]
    if here.kind == TimelineKind.SHIFT_STARTS:
        start_row(world, here.subject, here.since, here.until)
    elif here.kind == TimelineKind.SHIFT_ENDS:
        end_row(world, here.subject)
    elif here.kind == TimelineKind.POOL_OPENS or here.kind == TimelineKind.POOL_SHUTS:
        world.pools[here.subject].shut = int(here.kind == TimelineKind.POOL_SHUTS)
        settle_pool(world, here.subject)
    elif here.kind == TimelineKind.SIGNAL_OPENS or here.kind == TimelineKind.SIGNAL_SHUTS:
        world.steps[here.subject].shut = int(here.kind == TimelineKind.SIGNAL_SHUTS)
        opens = here.kind == TimelineKind.SIGNAL_OPENS and world.plan.steps[here.subject].clears == SignalKind.OPENING
        if opens and set_quota(world, here.subject) > 0:
            do_next(world, Agenda.LET_GO, here.subject)
    elif here.kind == TimelineKind.TIMETABLED_SIGNAL:
        clear_signal(world, here.subject)
    elif here.kind == TimelineKind.DOORS_OPEN or here.kind == TimelineKind.DOORS_SHUT:
        world.clock[0].doors_open = int(here.kind == TimelineKind.DOORS_OPEN)
        world.clock[0].has_closed |= int(here.kind == TimelineKind.DOORS_SHUT)


@rare
def happen_rarely(world: World, kind: int, subject: int, token: int) -> None:
    """Let an event happen that is not one of the commonest."""
    if kind == EventKind.TIMELINE_ENTRY:
        follow_timeline(world, subject)
    elif kind == EventKind.BREAK_DUE:
        take_break(world, subject, token)
    elif kind == EventKind.MEMBER_BACK:
        if world.members[subject].token == token:
            come_back(world, subject)
    elif kind == EventKind.INTERRUPTION_DUE:
        if world.wear[subject].token == token:
            strike(world, subject)
    elif kind == EventKind.OVERTIME_OVER:
        if world.rows[subject].token == token:
            stop_staying(world, subject)
    elif kind == EventKind.MEMBER_ARRIVES:
        if world.members[subject].walk_token == token:
            arrive_at_case(world, subject)
    elif kind == EventKind.PATIENCE_OVER:
        lose_patience(world, subject, token)
    elif kind == EventKind.MINIMUM_OVER:
        ripen(world, subject, token)
    elif kind == EventKind.SIGNAL_DUE:
        clear_signal(world, subject)
        schedule(
            world, world.clock[0].now + world.plan.steps[subject].every, Rank.SIGNAL, EventKind.SIGNAL_DUE, subject, 0
        )
    elif kind == EventKind.BATCH_DUE:
        if world.steps[subject].token == token:
            end_wait_for_batch(world, subject)
    elif kind == EventKind.DEADLINE_DUE:
        miss_deadline(world, subject, token)
    elif kind == EventKind.NEXT_PERIOD:
        plan_day(world, subject)
    elif kind == EventKind.INTERVAL_OVER:
        end_interval(world)


@part
def happen(world: World) -> None:
    """Let the next event happen."""
    clock = world.clock[0]
    event = world.events[0]
    if clock.is_overtime and clock.in_overtime == 0 and event.time > clock.now:
        end_overtime(world)
    if world.plan.run[0].of_time < len(world.plan.measures):
        measure_time(world, event.time)
    clock.now = event.time
    kind, subject, token = event.kind, event.subject, event.token
    clock.live -= moves_cases(kind)
    drop_first(world)
    if kind == EventKind.END_OF_WORK:
        who = world.cases[subject]
        if who.token == token:
            clock.last_moved = clock.now
            who.in_work = 0
            who.work_left = -1.0
            if world.plan.run[0].awaiting > 0:
                be_awaited_no_more(world, subject)
            turn_to(world, subject, CaseState.MOVING, NONE)
            go_on(world, subject)
    elif kind == EventKind.ARRIVAL:
        occasion_comes(world, subject, token)
    elif kind == EventKind.END_OF_TRAVEL:
        clock.last_moved = clock.now
        turn_to(world, subject, CaseState.MOVING, NONE)
        enter(world, subject)
    else:
        happen_rarely(world, kind, subject, token)


@part
def do(world: World) -> None:
    """Do the first of what is to be done at this instant."""
    clock = world.clock[0]
    doing = world.agenda[clock.first_doing]
    kind, subject = doing.kind, doing.subject
    clock.first_doing = (clock.first_doing + 1) & (len(world.agenda) - 1)
    clock.doings -= 1
    clock.last_moved = clock.now
    if kind == Agenda.ENTER:
        enter(world, subject)
    elif kind == Agenda.GO_ON:
        go_on(world, subject)
    elif kind == Agenda.ARRIVE:
        arrive(world, subject)
    else:
        do_rarely(world, kind, subject)


@rare
def do_rarely(world: World, kind: int, subject: int) -> None:
    """Do something that is not one of the commonest."""
    if kind == Agenda.GO_THROUGH:
        go_through(world, subject)
    elif kind == Agenda.LET_IN:
        let_in_blocked(world, subject)
    elif kind == Agenda.LET_IN_CASE:
        line = world.plan.lines[world.cases[subject].line]
        world.rooms[line.room].coming += 1
        world.cases[subject].expected = Expected.CALLED
        leave_blocked(world, subject)
    elif kind == Agenda.LET_GO:
        let_go(world, subject)
    elif kind == Agenda.SERVE_POOL:
        serve_pool(world, subject)
    elif kind == Agenda.INTERRUPT:
        strike(world, subject)


@part
def lacks_room(world: World) -> int:
    """Return the code of a buffer that may be too small for what comes next, or ENDED where all is well."""
    clock = world.clock[0]
    margin = world.plan.run[0].margin * clock.most_together
    if clock.tokens + margin > len(world.cases):
        return Code.NEEDS_CASES
    if clock.events + margin > len(world.events):
        return Code.NEEDS_EVENTS
    if clock.visits + margin > len(world.visits):
        return Code.NEEDS_VISITS
    if clock.departures + margin > len(world.departures):
        return Code.NEEDS_DEPARTURES
    if clock.doings + margin > len(world.agenda):
        return Code.NEEDS_AGENDA
    if clock.span_rows + margin > len(world.spans):
        return Code.NEEDS_SPANS
    if clock.timers + margin > len(world.timers):
        return Code.NEEDS_TIMERS
    if clock.parties + margin > len(world.parties):
        return Code.NEEDS_PARTIES
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
    """Say whether cases are inside and wait only for each other, with no event left that could move them."""
    clock = world.clock[0]
    if clock.inside == 0 or clock.live > 0 or clock.coming > 0:
        return False
    only_the_interval = clock.events <= 1
    if not only_the_interval and world.events[0].time <= clock.last_moved + 2 * WEEK:
        return False
    return all_wait_for_each_other(world)


@rare
def all_wait_for_each_other(world: World) -> bool:
    """Say whether some case waits, and none for something that comes by itself: a shift, an opening, a signal."""
    some = False
    for case in range(len(world.cases)):
        who = world.cases[case]
        cause = who.cause
        if who.state == CaseState.IN_LINE:
            cause = world.pools[world.plan.lines[who.line].pool].cause
        elif who.state != CaseState.WAITING and who.state != CaseState.BLOCKED:
            continue
        if cause == Account.PERSON and is_absent(world.members[who.person].state):
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


@entry
def close_books(world: World) -> None:
    """Book everything up to now: the interval, all levels, all members' time."""
    collect_interval(world)
    book_all_levels(world)
    for member in range(len(world.members)):
        book_member(world, member)
    for pool in range(len(world.pools)):
        book_pool(world, pool)
    clock = world.clock[0]
    measure_time(world, clock.now)
    if clock.is_overtime:
        clock.overtime_minutes += clock.now - clock.overtime_since
        clock.overtime_since = clock.now


@entry
def advance(world: World) -> int:
    """Do one thing after another until something stops it, and say what: one of the codes in `kinds`.

    Called again after a pause, or with larger buffers, it goes on where it stopped.
    """
    clock = world.clock[0]
    sure, most_together = 0, clock.most_together
    while clock.pause == 0:
        if sure == 0 or clock.most_together > most_together:
            most_together = clock.most_together
            code = lacks_room(world)
            if code != Code.ENDED:
                return code
            sure = world.plan.run[0].turns
            if goes_round(world, sure):
                return Code.GOES_ROUND
        sure -= 1
        if clock.doings > 0 and (clock.serve_first == 0 or clock.first_touched == NONE):
            clock.serve_first = 0
            do(world)
        elif roster_goes_on(world):
            happen(world)
        elif clock.first_touched != NONE:
            serve_touched(world)
        else:
            if is_over(world):
                return Code.ENDED
            if stands_still(world):
                return Code.DEADLOCK
            if clock.events == 0 or world.events[0].time > clock.until:
                clock.now = clock.until
                return Code.ENDED
            happen(world)
    return Code.PAUSED
