"""Clocks between two points of the flow: deadlines, which do something when they run out, and spans."""

from flowcore.kernel.accounts import book_minutes, wait_of
from flowcore.kernel.compiled import part
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import CASE_ITSELF, DEADLINE_DUE, NEXT_LINE, NONE, RANK_SIGNAL, TRAVEL, WORK
from flowcore.kernel.state import SPAN_MARKS, VISIT_MINUTES, World


@part
def start_deadlines(world: World, case: int, first: int, count: int) -> None:
    """Start the deadlines that begin at a step: their numbers lie in `Plan.lists`."""
    clock = world.clock[0]
    who = world.cases[case]
    if who.token_kind != CASE_ITSELF:
        return
    for entry in range(first, first + count):
        deadline = world.plan.lists[entry]
        stop_timer(world, case, deadline)
        timer = clock.free_timer
        here = world.timers[timer]
        clock.free_timer = here.next
        clock.timers += 1
        here.case = case
        here.deadline = deadline
        here.next = who.timers
        here.missed = 0
        here.token += 1
        who.timers = timer
        world.deadlines[deadline].started += 1
        within = world.plan.deadlines[deadline].within
        schedule(world, clock.now + within, RANK_SIGNAL, DEADLINE_DUE, timer, here.token)


@part
def meet_deadlines(world: World, case: int, first: int, count: int) -> None:
    """Stop the deadlines that end at a step."""
    for entry in range(first, first + count):
        deadline = world.plan.lists[entry]
        timer = stop_timer(world, case, deadline)
        if timer != NONE and world.timers[timer].missed == 0:
            world.deadlines[deadline].met += 1


@part
def stop_timer(world: World, case: int, deadline: int) -> int:
    """Stop a case's clock of a deadline and return the clock, or NONE where it does not run."""
    timer = world.cases[case].timers
    before = NONE
    while timer != NONE and world.timers[timer].deadline != deadline:
        before = timer
        timer = world.timers[timer].next
    if timer == NONE:
        return NONE
    here = world.timers[timer]
    if before == NONE:
        world.cases[case].timers = here.next
    else:
        world.timers[before].next = here.next
    free_timer(world, timer)
    return timer


@part
def free_timer(world: World, timer: int) -> None:
    """Give a clock back."""
    here = world.timers[timer]
    here.token += 1
    here.next = world.clock[0].free_timer
    world.clock[0].free_timer = timer
    world.clock[0].timers -= 1


@part
def stop_all_timers(world: World, case: int) -> None:
    """Stop every clock of a case that leaves."""
    while world.cases[case].timers != NONE:
        timer = world.cases[case].timers
        world.cases[case].timers = world.timers[timer].next
        free_timer(world, timer)


@part
def pass_point(world: World, case: int, leaving: int) -> None:
    """Let a case's spans that begin or end on coming to its step, or on leaving it, do so."""
    if world.cases[case].token_kind != CASE_ITSELF:
        return
    book_minutes(world, case)
    point = world.plan.steps[world.cases[case].step].span_point
    while point != NONE:
        here = world.plan.span_points[point]
        if here.leaving == leaving:
            if here.ends:
                end_span(world, case, here.span)
            else:
                start_span(world, case, here.span)
        point = here.next


@part
def mark_of(world: World, case: int, number: int) -> float:
    """Return one of the figures whose growth a span measures: time, wait, work, blocked, travel, cost."""
    minutes = world.minutes
    if number == 0:
        return world.clock[0].now
    if number == 1:
        return wait_of(minutes, case, 0) + wait_of(minutes, case, VISIT_MINUTES)
    if number == 2:
        return minutes[case, WORK] + minutes[case, VISIT_MINUTES + WORK]
    if number == 3:
        return minutes[case, NEXT_LINE] + minutes[case, VISIT_MINUTES + NEXT_LINE]
    if number == 4:
        return minutes[case, TRAVEL] + minutes[case, VISIT_MINUTES + TRAVEL]
    return world.cases[case].cost


@part
def start_span(world: World, case: int, span: int) -> None:
    """Remember where a case stands at the start of a span."""
    first = world.plan.run[0].traits + SPAN_MARKS * span
    world.extras[case, first] = 1.0
    for number in range(SPAN_MARKS - 1):
        world.extras[case, first + 1 + number] = mark_of(world, case, number)


@part
def end_span(world: World, case: int, span: int) -> None:
    """Write down what a case's span took, if it has begun."""
    first = world.plan.run[0].traits + SPAN_MARKS * span
    if world.extras[case, first] == 0.0:
        return
    world.extras[case, first] = 0.0
    clock = world.clock[0]
    row = world.spans[clock.span_rows]
    clock.span_rows += 1
    row.total = mark_of(world, case, 0) - world.extras[case, first + 1]
    row.wait = mark_of(world, case, 1) - world.extras[case, first + 2]
    row.work = mark_of(world, case, 2) - world.extras[case, first + 3]
    row.blocked = mark_of(world, case, 3) - world.extras[case, first + 4]
    row.travel = mark_of(world, case, 4) - world.extras[case, first + 5]
    row.cost = mark_of(world, case, 5) - world.extras[case, first + 6]
    row.span = span
    row.type = world.cases[case].type
