"""Clocks between two points of the flow: deadlines, which do something when they run out, and spans."""

from flowcore.kernel.accounts.minutes import book_minutes, next_aboard, waited
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, Account, EventKind, Rank, TokenKind
from flowcore.kernel.records.ledger import SPAN_MARKS, VISIT_MINUTES
from flowcore.kernel.records.world import World


@part
def party_of(world: World, token: int) -> int:
    """Return the case or the companion that a token is, or whose branch it is; NONE where that has left."""
    while token != NONE and world.cases[token].token_kind == TokenKind.BRANCH:
        fork_id = world.cases[token].fork
        while fork_id != NONE and world.forks[fork_id].owner == token:
            fork_id = world.forks[fork_id].outer
        token = NONE if fork_id == NONE else world.forks[fork_id].owner
    return token


@part
def case_of(world: World, token: int) -> int:
    """Return the case for which a token passes a point: itself, or the one whose branch it is and that has not left.

    NONE for a companion.
    """
    token = party_of(world, token)
    return token if token != NONE and world.cases[token].token_kind == TokenKind.CASE else NONE


@rare
def start_deadlines(world: World, token: int, first: int, count: int) -> None:
    """Start the deadlines that begin at a step: their numbers lie in `Plan.lists`."""
    clock = world.clock[0]
    case_id = case_of(world, token)
    if case_id == NONE:
        return
    case = world.cases[case_id]
    for entry in range(first, first + count):
        deadline = world.plan.lists[entry]
        before = stop_timer(world, case_id, deadline)
        if before != NONE and world.timers[before].missed == 0:
            world.deadlines[deadline].left += 1
        timer = clock.free_timer
        here = world.timers[timer]
        clock.free_timer = here.next
        clock.timers += 1
        here.case = case_id
        here.deadline = deadline
        here.next = case.timers
        here.missed = 0
        here.stamp += 1
        case.timers = timer
        world.deadlines[deadline].started += 1
        within = world.plan.deadlines[deadline].within
        schedule(world, clock.now + within, Rank.SIGNAL, EventKind.DEADLINE_DUE, timer, here.stamp)


@rare
def meet_deadlines(world: World, case_id: int, first: int, count: int) -> None:
    """Stop the deadlines of a case, and of all who travel with it, that end at a step."""
    other = case_id
    while other != NONE:
        for entry in range(first, first + count):
            deadline = world.plan.lists[entry]
            timer = stop_timer(world, case_of(world, other), deadline)
            if timer != NONE and world.timers[timer].missed == 0:
                world.deadlines[deadline].met += 1
        other = next_aboard(world, case_id, other)


@part
def stop_timer(world: World, case_id: int, deadline: int) -> int:
    """Stop a case's clock of a deadline and return the clock, or NONE where it does not run."""
    timer = NONE if case_id == NONE else world.cases[case_id].timers
    before = NONE
    while timer != NONE and world.timers[timer].deadline != deadline:
        before = timer
        timer = world.timers[timer].next
    if timer == NONE:
        return NONE
    here = world.timers[timer]
    if before == NONE:
        world.cases[case_id].timers = here.next
    else:
        world.timers[before].next = here.next
    free_timer(world, timer)
    return timer


@part
def free_timer(world: World, timer: int) -> None:
    """Give a clock back."""
    here = world.timers[timer]
    here.stamp += 1
    here.case = NONE
    here.next = world.clock[0].free_timer
    world.clock[0].free_timer = timer
    world.clock[0].timers -= 1


@rare
def stop_all_timers(world: World, case_id: int) -> None:
    """Stop every clock of a case that leaves."""
    while world.cases[case_id].timers != NONE:
        timer = world.cases[case_id].timers
        world.cases[case_id].timers = world.timers[timer].next
        world.deadlines[world.timers[timer].deadline].left += int(world.timers[timer].missed == 0)
        free_timer(world, timer)


@rare
def pass_point(world: World, case_id: int, leaving: int) -> None:
    """Let the spans that begin or end on coming to a step, or on leaving it, do so for a case and those with it."""
    book_minutes(world, case_id)
    point = world.plan.steps[world.cases[case_id].step].span_point
    other = case_id
    while other != NONE:
        passing = case_of(world, other)
        if passing != NONE:
            if passing != other:
                book_minutes_of(world, passing)
            pass_point_alone(world, passing, point, leaving)
        other = next_aboard(world, case_id, other)


@part
def book_minutes_of(world: World, case_id: int) -> None:
    """Put a case's minutes on their account, wherever it is, also where it travels with others."""
    leader = case_id
    while world.cases[leader].leader != NONE:
        leader = world.cases[leader].leader
    book_minutes(world, leader)


@part
def pass_point_alone(world: World, case_id: int, point: int, leaving: int) -> None:
    """Let one case's spans begin or end at a chain of points."""
    while point != NONE:
        here = world.plan.span_points[point]
        if here.leaving == leaving:
            if here.ends:
                end_span(world, case_id, here.span)
            else:
                start_span(world, case_id, here.span)
        point = here.next


@part
def mark_of(world: World, case_id: int, number: int) -> float:
    """Return one of the figures whose growth a span measures: time, wait, work, blocked, travel, cost."""
    if number == 0:
        return world.clock[0].now
    if number == 5:
        return cost_of(world, case_id)
    if number == 1:
        return waited(world, case_id)
    minutes = world.minutes
    total = 0.0
    while case_id != NONE:
        if number == 2:
            total += minutes[case_id, Account.WORK] + minutes[case_id, VISIT_MINUTES + Account.WORK]
        elif number == 3:
            total += minutes[case_id, Account.NEXT_LINE] + minutes[case_id, VISIT_MINUTES + Account.NEXT_LINE]
        else:
            total += minutes[case_id, Account.TRAVEL] + minutes[case_id, VISIT_MINUTES + Account.TRAVEL]
        case_id = world.cases[case_id].leader
    return total


@part
def cost_of(world: World, case_id: int) -> float:
    """Return what a case has cost so far, with its part of what the batches have cost in which it travels."""
    total = 0.0
    rides_in = NONE
    while case_id != NONE:
        upper = world.cases[case_id].cost
        batch_id = world.cases[case_id].batch
        while batch_id != rides_in:
            total += (upper - world.batches[batch_id].cost) / world.batches[batch_id].size
            upper = world.batches[batch_id].cost
            batch_id = world.batches[batch_id].outer
        if rides_in == NONE:
            total += upper
        else:
            total += (upper - world.batches[batch_id].cost) / world.batches[batch_id].size
        rides_in = world.cases[case_id].rides_in
        case_id = world.cases[case_id].leader
    return total


@part
def start_span(world: World, case_id: int, span: int) -> None:
    """Remember where a case stands at the start of a span."""
    first = world.plan.run[0].traits + SPAN_MARKS * span
    world.traits_and_marks[case_id, first] = 1.0
    for number in range(SPAN_MARKS - 1):
        world.traits_and_marks[case_id, first + 1 + number] = mark_of(world, case_id, number)


@rare
def start_checkpoints(world: World, case_id: int) -> None:
    """Start the spans from a case's arrival to each checkpoint."""
    run = world.plan.run[0]
    for span in range(run.first_checkpoint, run.spans):
        start_span(world, case_id, span)


@part
def end_span(world: World, case_id: int, span: int) -> None:
    """Write down what a case's span took, if it has begun."""
    first = world.plan.run[0].traits + SPAN_MARKS * span
    if world.traits_and_marks[case_id, first] == 0.0:
        return
    world.traits_and_marks[case_id, first] = 0.0
    clock = world.clock[0]
    row = world.spans[clock.span_rows]
    clock.span_rows += 1
    row.total = mark_of(world, case_id, 0) - world.traits_and_marks[case_id, first + 1]
    row.wait = mark_of(world, case_id, 1) - world.traits_and_marks[case_id, first + 2]
    row.work = mark_of(world, case_id, 2) - world.traits_and_marks[case_id, first + 3]
    row.blocked = mark_of(world, case_id, 3) - world.traits_and_marks[case_id, first + 4]
    row.travel = mark_of(world, case_id, 4) - world.traits_and_marks[case_id, first + 5]
    row.cost = mark_of(world, case_id, 5) - world.traits_and_marks[case_id, first + 6]
    row.in_overtime = clock.is_overtime
    row.span = span
    row.type = world.cases[case_id].type
