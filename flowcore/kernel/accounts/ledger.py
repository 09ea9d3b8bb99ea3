"""The ledger: a row for every visit and for every case that has left."""

from flowcore.kernel.accounts.measures import measure_departure, measure_visit
from flowcore.kernel.accounts.minutes import account_of_work, has_one_cause, visit_wait_of, wait_of
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import VALUE_CLASSES, TravelKind
from flowcore.kernel.records.kinds import ACCOUNTS, FIRST_CAUSE, NONE, Account
from flowcore.kernel.records.ledger import VALUES, VISIT_MINUTES
from flowcore.kernel.records.world import World


@part
def is_watched(world: World, moment: float) -> bool:
    """Say whether a moment is in the hour of the week whose minutes are kept apart."""
    run = world.plan.run[0]
    if run.watched_hour == NONE:
        return False
    hour = (1440.0 * run.first_weekday + run.start_minute + moment) // 60.0
    return int(hour) % 168 == run.watched_hour


@part
def write_visit(world: World, case_id: int) -> None:
    """Write down a case's visit to the step that it leaves, and add its minutes to its whole way's.

    Of those who travel together each has a row of its own, with an equal part of the cost.
    """
    clock = world.clock[0]
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    minutes = world.minutes
    visit = world.visits[clock.visits]
    visit.joined_at = case.joined_at
    visit.wait = 0.0
    blocked = 0.0
    account = account_of_work(world, case.step)
    visit.work = minutes[case_id, VISIT_MINUTES + account]
    visit.in_overtime = clock.is_overtime
    visit.step = step.document
    visit.type = case.type
    visit.stream = case.stream
    if step.value != NONE:
        held = minutes[case_id, VISIT_MINUTES + Account.SIGNAL]
        minutes[case_id, VALUES + step.value] += minutes[case_id, VISIT_MINUTES + Account.WORK] + held
    watched = is_watched(world, case.joined_at)
    if watched:
        world.hour_minutes[step.document, Account.WORK] += (
            minutes[case_id, VISIT_MINUTES + Account.WORK] * case.together
        )
    minutes[case_id, account] += visit.work
    minutes[case_id, VISIT_MINUTES + account] = 0.0
    if case.causes:
        visit.wait = visit_wait_of(world, case_id)
        blocked = minutes[case_id, VISIT_MINUTES + Account.NEXT_LINE]
        case.last_wait += visit.wait
        if case.causes == 1 << case.last_cause:
            close_account(world, case_id, step.document, case.last_cause, watched)
        else:
            for account in range(Account.TRAVEL + 1, ACCOUNTS):
                close_account(world, case_id, step.document, account, watched)
        case.causes_before |= case.causes
        case.causes = 0
    other = case.first_aboard
    while other != NONE:
        world.cases[other].last_wait = case.last_wait
        other = world.cases[other].next_aboard
    if step.travel_kind == TravelKind.NONE:
        tally = world.step_tally[step.document]
        tally.served += case.together
        tally.cost += step.cost * case.together
        if blocked != 0.0 or case.visit_travel != 0.0 or case.cost != case.visit_cost:
            write_extra(world, case_id, blocked)
        write_rows_of_all(world, case_id)
        if world.plan.run[0].of_visits < world.plan.run[0].of_time:
            measure_visit(world, case_id)


@part
def write_extra(world: World, case_id: int, blocked: float) -> None:
    """Write down what a visit has besides its row; the cost is shared by those who travel together."""
    clock = world.clock[0]
    case = world.cases[case_id]
    extra = world.visit_extras[clock.visits]
    extra.blocked = blocked
    extra.travel = case.visit_travel
    extra.cost = case.cost - case.visit_cost
    if case.together > 1:
        extra.cost /= case.together
    clock.extras = 1


@part
def close_account(world: World, case_id: int, document: int, account: int, watched: bool) -> None:
    """Add a case's minutes of this visit for a cause to the step's, and to the case's whole way."""
    spent = world.minutes[case_id, VISIT_MINUTES + account]
    world.cause_minutes[document, account] += spent * world.cases[case_id].together
    if watched:
        world.hour_minutes[document, account] += spent * world.cases[case_id].together
    world.minutes[case_id, account] += spent
    world.minutes[case_id, VISIT_MINUTES + account] = 0.0


@part
def write_rows_of_all(world: World, case_id: int) -> None:
    """Keep the row just written of a case's visit, and write one for each of those who travel with it."""
    clock = world.clock[0]
    first = clock.visits
    clock.visits += 1
    other = world.cases[case_id].first_aboard
    while other != NONE:
        row = world.visits[clock.visits]
        world.visits[clock.visits] = world.visits[first]
        if clock.extras:
            world.visit_extras[clock.visits] = world.visit_extras[first]
        clock.visits += 1
        row.type = world.cases[other].type
        row.stream = world.cases[other].stream
        other = world.cases[other].next_aboard


@part
def close_case_account(world: World, case_id: int, row: int, account: int, watched: bool) -> None:
    """Add a case's minutes on an account to those of all cases of its type."""
    world.cause_minutes[row, account] += world.minutes[case_id, account]
    if watched:
        world.hour_minutes[row, account] += world.minutes[case_id, account]


@part
def write_departure(world: World, case_id: int) -> None:
    """Write down a case's whole way at the exit where it leaves."""
    clock = world.clock[0]
    case = world.cases[case_id]
    row = world.departures[clock.departures]
    clock.departures += 1
    row.left_at = clock.now
    row.work = world.minutes[case_id, Account.WORK]
    row.blocked = world.minutes[case_id, Account.NEXT_LINE]
    row.travel = world.minutes[case_id, Account.TRAVEL]
    row.total = clock.now - case.arrived_at
    row.cost = case.cost
    row.in_overtime = clock.is_overtime
    row.step = world.plan.steps[case.step].document
    row.type = case.type
    row.stream = case.stream
    account_row = world.plan.sections[0].type_causes + case.type
    watched = is_watched(world, case.arrived_at)
    row.wait = 0.0
    for account in range(FIRST_CAUSE):
        close_case_account(world, case_id, account_row, account, watched)
    if has_one_cause(world, case_id):
        row.wait = 0.0 if case.last_cause == Account.NEXT_LINE else world.minutes[case_id, case.last_cause]
        close_case_account(world, case_id, account_row, case.last_cause, watched)
    elif case.causes_before != 0:
        row.wait = wait_of(world.minutes, case_id, 0)
        for account in range(FIRST_CAUSE, ACCOUNTS):
            close_case_account(world, case_id, account_row, account, watched)
    if world.plan.run[0].values:
        for value in range(VALUE_CLASSES):
            world.value_minutes[case.type, value] += world.minutes[case_id, VALUES + value]
    if world.plan.run[0].of_visits > 0:
        measure_departure(world, case_id)
