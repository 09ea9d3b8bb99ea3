"""Which part answers what: an entry of the timeline, an event, a thing on the agenda."""

from flowcore.kernel.accounts.measures import measure_time
from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.accounts.overtime import end_overtime
from flowcore.kernel.arrivals.arrivals import next_arrives, occasion_comes, plan_period
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.ahead import MANY_STEPS, bring_near
from flowcore.kernel.clockwork.events import drop_first, kind_of, moves_cases, next_event, schedule
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import SignalKind, TimelineKind
from flowcore.kernel.records.kinds import NONE, Agenda, CaseState, EventKind, Expected, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.run.intervals import end_interval
from flowcore.kernel.run.steps import miss_deadline
from flowcore.kernel.service.absences import come_back, interrupt_members, take_break
from flowcore.kernel.service.serving import serve_pool
from flowcore.kernel.service.shifts import end_row, start_overtime, start_row, stop_staying
from flowcore.kernel.service.work import arrive_at_case
from flowcore.kernel.waiting.stands import update_gate
from flowcore.kernel.way.batches import end_wait_for_batch
from flowcore.kernel.way.holds import clear_signal, let_go, set_quota
from flowcore.kernel.way.onward import go_on, go_through, leave_blocked, let_in_blocked
from flowcore.kernel.way.visits import end_minimum_wait, end_work, lose_patience


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
    elif here.kind == TimelineKind.OVERTIME_STARTS:
        start_overtime(world, here.subject)
    elif here.kind == TimelineKind.POOL_OPENS or here.kind == TimelineKind.POOL_SHUTS:
        world.pools[here.subject].shut = int(here.kind == TimelineKind.POOL_SHUTS)
        update_gate(world, here.subject)
    elif here.kind == TimelineKind.SIGNAL_OPENS or here.kind == TimelineKind.SIGNAL_SHUTS:
        world.steps[here.subject].shut = int(here.kind == TimelineKind.SIGNAL_SHUTS)
        opens = here.kind == TimelineKind.SIGNAL_OPENS and world.plan.steps[here.subject].clears == SignalKind.OPENING
        if opens and set_quota(world, here.subject) > 0:
            push_back(world, Agenda.LET_GO, here.subject)
    elif here.kind == TimelineKind.TIMETABLED_SIGNAL:
        clear_signal(world, here.subject)
    elif here.kind == TimelineKind.DOORS_OPEN or here.kind == TimelineKind.DOORS_SHUT:
        world.clock[0].doors_open = int(here.kind == TimelineKind.DOORS_OPEN)
        world.clock[0].has_closed |= int(here.kind == TimelineKind.DOORS_SHUT)


@rare
def dispatch_rare_event(world: World, kind: int, subject: int, stamp: int, argument: int) -> None:
    """Let an event happen that is not one of the commonest."""
    if kind == EventKind.TIMELINE_ENTRY:
        follow_timeline(world, subject)
    elif kind == EventKind.BREAK_DUE:
        take_break(world, subject, argument)
    elif kind == EventKind.MEMBER_BACK:
        if world.members[subject].stamp == stamp:
            come_back(world, subject)
    elif kind == EventKind.INTERRUPTION_DUE:
        if world.interruption_clocks[subject].stamp == stamp:
            interrupt_members(world, subject)
    elif kind == EventKind.OVERTIME_OVER:
        if world.rows[subject].stamp == stamp:
            stop_staying(world, subject)
    elif kind == EventKind.MEMBER_ARRIVES:
        if world.members[subject].walk_stamp == stamp:
            arrive_at_case(world, subject)
    elif kind == EventKind.PATIENCE_OVER:
        lose_patience(world, subject, stamp)
    elif kind == EventKind.MINIMUM_OVER:
        end_minimum_wait(world, subject, stamp)
    elif kind == EventKind.SIGNAL_DUE:
        clear_signal(world, subject)
        schedule(
            world, world.clock[0].now + world.plan.steps[subject].every, Rank.SIGNAL, EventKind.SIGNAL_DUE, subject, 0
        )
    elif kind == EventKind.BATCH_DUE:
        if world.steps[subject].stamp == stamp:
            end_wait_for_batch(world, subject)
    elif kind == EventKind.DEADLINE_DUE:
        miss_deadline(world, subject, stamp)
    elif kind == EventKind.NEXT_PERIOD:
        plan_period(world, subject)
    elif kind == EventKind.INTERVAL_OVER:
        end_interval(world)


@part
def dispatch_event(world: World) -> int:
    """Let the next event happen; return who is to `enter` next, or NONE."""
    clock = world.clock[0]
    event = next_event(world)
    if clock.is_overtime and clock.in_overtime == 0 and event.time > clock.now:
        end_overtime(world)
    if world.plan.run[0].of_time < len(world.plan.measures):
        measure_time(world, event.time)
    clock.now = event.time
    kind, subject, stamp, argument = kind_of(event.order), event.subject, event.stamp, event.argument
    clock.live -= moves_cases(kind)
    drop_first(world)
    if len(world.plan.steps) > MANY_STEPS:
        bring_near(world)
    if kind == EventKind.END_OF_WORK:
        return go_on(world, subject) if end_work(world, subject, stamp) else NONE
    if kind == EventKind.ARRIVAL:
        return occasion_comes(world, subject, argument)
    if kind == EventKind.END_OF_TRAVEL:
        clock.last_moved = clock.now
        turn_to(world, subject, CaseState.MOVING, NONE)
        return subject
    dispatch_rare_event(world, kind, subject, stamp, argument)
    return NONE


@part
def run_agenda_item(world: World) -> int:
    """Do the first of what is to be done at this instant; return who is to `enter` next, or NONE."""
    clock = world.clock[0]
    item = world.agenda[clock.agenda_start]
    kind, subject = item.kind, item.subject
    clock.agenda_start = (clock.agenda_start + 1) & (len(world.agenda) - 1)
    clock.agenda_length -= 1
    clock.last_moved = clock.now
    if kind == Agenda.ENTER:
        return subject
    if kind == Agenda.GO_ON:
        return go_on(world, subject)
    if kind == Agenda.GO_THROUGH:
        return go_through_after_all(world, subject)
    if kind == Agenda.ARRIVE:
        return next_arrives(world, subject)
    run_rare_item(world, kind, subject)
    return NONE


@rare
def go_through_after_all(world: World, case_id: int) -> int:
    """Let a case that was blocked leave its step; return who is to `enter` next, or NONE."""
    return go_through(world, case_id)


@rare
def run_rare_item(world: World, kind: int, subject: int) -> None:
    """Do something that is not one of the commonest."""
    if kind == Agenda.LET_IN:
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
        interrupt_members(world, subject)
