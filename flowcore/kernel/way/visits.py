"""A visit, from its coming to a step to its end."""

from flowcore.kernel.accounts.deadlines import meet_deadlines, pass_point, start_deadlines
from flowcore.kernel.accounts.ledger import write_visit
from flowcore.kernel.accounts.levels import change_inside_step, change_level, step_level
from flowcore.kernel.accounts.minutes import book_minutes, next_aboard, stop_working, turn_to, visit_wait_of
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind, TravelKind, WhenFull
from flowcore.kernel.records.kinds import ACCOUNTS, NONE, Agenda, CaseState, Expected, Note, Stand
from flowcore.kernel.records.ledger import INSIDE_LEVEL, VISIT_MINUTES
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import all_is_there, begin_with_what_is_left, can_begin_at_once, lacks_nobody
from flowcore.kernel.service.plain import ask_plainly, let_go_plainly
from flowcore.kernel.service.work import begin, let_go_of
from flowcore.kernel.staff.members import bring_people, pay_all
from flowcore.kernel.waiting.awaited import be_awaited_no_more
from flowcore.kernel.waiting.own_people import busy_person
from flowcore.kernel.waiting.stands import join_line, leave_line, stand_blocked, take_a_stand
from flowcore.kernel.way.holds import clear_signal
from flowcore.kernel.way.messages import tell
from flowcore.kernel.way.routes import at_one_place, is_instant


@rare
def come_to(world: World, case_id: int) -> None:
    """Count a case that comes to a step, and start and stop the clocks that hang on it."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.loop != case.loop:
        case.loop = step.loop
        case.laps = 0
    if step.travel_kind == TravelKind.NONE:
        world.step_tally[step.document].arrived += case.together
        note(world, Note.CAME, case_id, case.step, NONE)
    case.priority = world.plan.types[case.type].priority + step.priority
    case.joined_at = world.clock[0].now
    pay_all(world, case_id)
    case.visit_cost = case.cost
    if step.place != NONE and step.travel_kind == TravelKind.NONE:
        case.place = step.place
        bring_people(world, case_id, step.place)
    if not is_instant(step.kind) and step.kind != StepKind.EXIT:
        case.work_left = -1.0
        world.steps[case.step].here += 1
        if step.travel_kind == TravelKind.NONE:
            case.last_wait = 0.0
            change_inside_step(world, case_id, 1)
    count_visit(world, case_id, case.step)
    if case.first_aboard != NONE:
        bring_along(world, case_id)
    if step.told > 0:
        tell(world, case_id)
    if step.met > 0 and step.kind != StepKind.SERVE:
        meet_deadlines(world, case_id, step.first_met, step.met)
    if step.span_point != NONE:
        pass_point(world, case_id, 0)


@part
def come_plainly(world: World, case_id: int) -> None:
    """Count a case that comes to a plain step by itself, and let it begin or wait: see `come_to`."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.loop != case.loop:
        case.loop = step.loop
        case.laps = 0
    world.step_tally[step.document].arrived += 1
    note(world, Note.CAME, case_id, case.step, NONE)
    case.priority = world.plan.types[case.type].priority + step.priority
    case.joined_at = world.clock[0].now
    case.visit_cost = case.cost
    case.work_left = -1.0
    case.last_wait = 0.0
    case.turned_away = 0
    world.steps[case.step].here += 1
    change_level(world, step_level(world, case.step, INSIDE_LEVEL), 1)
    ask_plainly(world, case_id)


@part
def count_visit(world: World, case_id: int, at: int) -> None:
    """Count a visit of one case to a step, and start its clocks."""
    step = world.plan.steps[at]
    if step.visit_counter != NONE:
        world.memory[case_id, world.plan.run[0].remembered + step.visit_counter] += 1
    if not is_instant(step.kind) and step.kind != StepKind.EXIT:
        world.cases[case_id].turned_away = 0
    if step.begun > 0:
        start_deadlines(world, case_id, step.first_begun, step.begun)


@rare
def bring_along(world: World, leader: int) -> None:
    """Let those who travel with a case be where it has come to, and count their visits."""
    head = world.cases[leader]
    case_id = head.first_aboard
    while case_id != NONE:
        case = world.cases[case_id]
        case.step = head.step
        case.place = head.place
        case.loop = head.loop
        case.laps = head.laps
        count_visit(world, case_id, head.step)
        case_id = case.next_aboard


@rare
def ask_for_work(world: World, case_id: int, line: int) -> None:
    """Let a case begin at once, or wait, or go elsewhere where the line is too long."""
    case = world.cases[case_id]
    case.line = line
    rules = world.plan.lines[line]
    room = world.rooms[rules.room]
    was_expected = case.expected
    if was_expected:
        case.expected = 0
        room.coming -= 1
    elif rules.balk_at != NONE and room.length >= rules.balk_at:
        give_up(world, case_id, rules.balks_to, Note.BALKED)
        return
    elif rules.when_full == WhenFull.TURNS_AWAY and is_full(world, case_id, line):
        give_up(world, case_id, rules.full_to, Note.TURNED_AWAY)
        return
    is_called = (
        was_expected == Expected.CALLED
        and busy_person(world, case_id, line) == NONE
        and all_is_there(world, case_id, line)
    )
    waits_for_none = lacks_nobody(world, case_id, line) or world.clock[0].agenda_length == 0
    if is_called or (waits_for_none and can_begin_at_once(world, case_id, line)):
        if was_expected and room.first != NONE:
            push_back(world, Agenda.LET_IN, rules.room)
        if is_called:
            begin(world, case_id)
        else:
            begin_with_what_is_left(world, case_id)
    else:
        join_line(world, case_id, False)


@part
def is_full(world: World, case_id: int, line: int) -> bool:
    """Say whether a line has no room for one more, who would have to wait."""
    rules = world.plan.lines[line]
    if rules.most == NONE:
        return False
    room = world.rooms[rules.room]
    return room.length + room.coming >= rules.most and not can_begin_at_once(world, case_id, line)


@rare
def is_shut_out(world: World, case_id: int, line: int) -> bool:
    """Say whether a case finds a line full that lets nobody else come, and does not balk at it."""
    rules = world.plan.lines[line]
    balks = rules.balk_at != NONE and world.rooms[rules.room].length >= rules.balk_at
    return rules.when_full == WhenFull.BLOCKS and not balks and is_full(world, case_id, line)


@rare
def wait_outside(world: World, case_id: int, line: int) -> None:
    """Let a case wait before a full line, outside of all steps: it comes to its step once there is room."""
    case = world.cases[case_id]
    case.is_outside = 1
    case.goal = case.step
    stand_blocked(world, case_id, line)


@rare
def give_up(world: World, case_id: int, to: int, why: int) -> None:
    """Send a case that was not served to another step: it lost patience, balked, or was turned away."""
    case = world.cases[case_id]
    note(world, why, case_id, case.step, NONE)
    tally = world.step_tally[world.plan.steps[case.step].document]
    if why == Note.TURNED_AWAY:
        tally.turned_away += case.together
        other = case_id
        while other != NONE:
            world.cases[other].turned_away = 1
            other = next_aboard(world, case_id, other)
    else:
        tally.abandoned += case.together
    leave_uncounted(world, case_id)
    let_go_of(world, case_id, world.plan.steps[case.step].document, False)
    come_by_side_way(world, case_id, to)
    case.work_left = -1.0
    push_back(world, Agenda.ENTER, case_id)


@part
def come_by_side_way(world: World, case_id: int, to: int) -> None:
    """Let a case come to another step than its ways lead to; within a loop it brings other luck from there on."""
    case = world.cases[case_id]
    loop = world.plan.steps[case.step].loop
    case.step = at_one_place(world, case_id, to)
    if loop != NONE and world.plan.steps[case.step].loop == loop:
        case.laps += 1


@rare
def leave_uncounted(world: World, case_id: int) -> None:
    """Let a case leave a step at which it was not served; its minutes stay on its account."""
    book_minutes(world, case_id)
    case = world.cases[case_id]
    document = world.plan.steps[case.step].document
    case.last_wait += visit_wait_of(world, case_id)
    for account in range(ACCOUNTS):
        spent = world.minutes[case_id, VISIT_MINUTES + account]
        world.minutes[case_id, account] += spent
        world.cause_minutes[document, account] += spent * case.together
        world.minutes[case_id, VISIT_MINUTES + account] = 0.0
    case.causes_before |= case.causes
    case.causes = 0
    if world.plan.run[0].awaiting > 0:
        be_awaited_no_more(world, case_id)
    if world.plan.steps[case.step].travel_kind == TravelKind.NONE:
        change_inside_step(world, case_id, -1)
    world.steps[case.step].here -= 1


@rare
def lose_patience(world: World, case_id: int, stamp: int) -> None:
    """Let a case that still waits in the same line give up."""
    case = world.cases[case_id]
    if case.stamp == stamp and case.stands != Stand.NOWHERE and case.stands != Stand.AT_SIGNAL:
        to = world.plan.lines[case.line].gives_up_to
        leave_line(world, case_id)
        give_up(world, case_id, to, Note.GAVE_UP)


@rare
def end_minimum_wait(world: World, case_id: int, stamp: int) -> None:
    """Let a case whose minimum time in the line is over be called."""
    if world.cases[case_id].stamp == stamp:
        take_a_stand(world, case_id)


@part
def end_work(world: World, case_id: int, stamp: int) -> bool:
    """End the work on a case; say no where the event that says so has lost its meaning."""
    case = world.cases[case_id]
    if case.stamp != stamp:
        return False
    world.clock[0].last_moved = world.clock[0].now
    case.in_work = 0
    case.work_left = -1.0
    if world.plan.run[0].awaiting > 0:
        be_awaited_no_more(world, case_id)
    stop_working(world, case_id)
    return True


@rare
def end_visit(world: World, case_id: int) -> None:
    """End a case's visit to its step: it is written down, and its members are free."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if case.state != CaseState.MOVING:
        turn_to(world, case_id, CaseState.MOVING, NONE)
    note(world, Note.ENDED_WORK, case_id, case.step, case.first_held)
    if step.travel_kind != TravelKind.NONE:
        bring_people(world, case_id, step.place)
    if case.first_held != NONE:
        let_go_of(world, case_id, step.document, False)
        pay_all(world, case_id)
    write_visit(world, case_id)
    if step.travel_kind == TravelKind.NONE:
        change_inside_step(world, case_id, -1)
    world.steps[case.step].here -= 1
    end_step(world, case_id)


@part
def end_plainly(world: World, case_id: int) -> None:
    """End a visit of which `can_end_plainly` holds: see `end_visit`."""
    case = world.cases[case_id]
    note(world, Note.ENDED_WORK, case_id, case.step, case.first_held)
    let_go_plainly(world, case_id)
    write_visit(world, case_id)
    change_level(world, step_level(world, case.step, INSIDE_LEVEL), -1)
    world.steps[case.step].here -= 1


@part
def end_step(world: World, case_id: int) -> None:
    """Raise the signals, and pass the points, that a case's end at its step is for others."""
    step = world.plan.steps[world.cases[case_id].step]
    for number in range(step.first_raised, step.first_raised + step.raised):
        cleared = world.plan.lists[number]
        clear_signal(world, cleared)
    if step.span_point != NONE:
        pass_point(world, case_id, 1)
