"""A visit, from its coming to a step to its end."""

from flowcore.kernel.accounts.deadlines import meet_deadlines, pass_point, start_deadlines
from flowcore.kernel.accounts.ledger import write_visit
from flowcore.kernel.accounts.levels import change_inside_step
from flowcore.kernel.accounts.minutes import book_minutes, next_aboard, turn_to, visit_wait_of
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind, TravelKind, WhenFull
from flowcore.kernel.records.kinds import ACCOUNTS, NONE, Agenda, CaseState, Expected, Note, Stand
from flowcore.kernel.records.ledger import VISIT_MINUTES
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import all_is_there, begin_with_what_is_left, can_begin_at_once, lacks_nobody
from flowcore.kernel.service.work import begin, let_go_of
from flowcore.kernel.staff.members import bring_people, pay_all
from flowcore.kernel.waiting.awaited import be_awaited_no_more
from flowcore.kernel.waiting.own_people import busy_person
from flowcore.kernel.waiting.stands import join_line, leave_line, stand_blocked, take_a_stand
from flowcore.kernel.way.holds import clear_signal
from flowcore.kernel.way.routes import at_one_place, is_instant


@part
def come_to(world: World, case: int) -> None:
    """Count a case that comes to a step, and start and stop the clocks that hang on it."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.loop != who.loop:
        who.loop = step.loop
        who.laps = 0
    if step.travel_kind == TravelKind.NONE:
        world.step_tally[step.document].arrived += who.together
        note(world, Note.CAME, case, who.step, NONE)
    who.joined_at = world.clock[0].now
    pay_all(world, case)
    who.visit_cost = who.cost
    if step.place != NONE and step.travel_kind == TravelKind.NONE:
        who.place = step.place
        bring_people(world, case, step.place)
    if not is_instant(step.kind) and step.kind != StepKind.EXIT:
        who.work_left = -1.0
        world.steps[who.step].here += 1
        if step.travel_kind == TravelKind.NONE:
            who.last_wait = 0.0
            change_inside_step(world, case, 1)
    other = case
    while other != NONE:
        come_along(world, case, other)
        other = next_aboard(world, case, other)
    if step.met > 0 and step.kind != StepKind.SERVE:
        meet_deadlines(world, case, step.first_met, step.met)
    if step.span_point != NONE:
        pass_point(world, case, 0)


@part
def come_along(world: World, leader: int, case: int) -> None:
    """Let one of those who come to a step together be there, and count its visit."""
    who, head = world.cases[case], world.cases[leader]
    step = world.plan.steps[head.step]
    who.step = head.step
    who.place = head.place
    who.loop = head.loop
    who.laps = head.laps
    if step.visit_counter != NONE:
        world.memory[case, world.plan.run[0].remembered + step.visit_counter] += 1
    if not is_instant(step.kind) and step.kind != StepKind.EXIT:
        who.turned_away = 0
    if step.begun > 0:
        start_deadlines(world, case, step.first_begun, step.begun)


@part
def ask_for_work(world: World, case: int, line: int) -> None:
    """Let a case begin at once, or wait, or go elsewhere where the line is too long."""
    who = world.cases[case]
    who.line = line
    rules = world.plan.lines[line]
    room = world.rooms[rules.room]
    was_expected = who.expected
    if was_expected:
        who.expected = 0
        room.coming -= 1
    elif rules.balk_at != NONE and room.length >= rules.balk_at:
        give_up(world, case, rules.balks_to, Note.BALKED)
        return
    elif rules.most != NONE and is_full(world, case, line):
        if rules.when_full == WhenFull.TURNS_AWAY:
            give_up(world, case, rules.full_to, Note.TURNED_AWAY)
        else:
            wait_outside(world, case, line)
        return
    is_called = (
        was_expected == Expected.CALLED and busy_person(world, case, line) == NONE and all_is_there(world, case, line)
    )
    waits_for_none = lacks_nobody(world, case, line) or world.clock[0].agenda_length == 0
    if is_called or (waits_for_none and can_begin_at_once(world, case, line)):
        if was_expected and room.first != NONE:
            push_back(world, Agenda.LET_IN, rules.room)
        if is_called:
            begin(world, case)
        else:
            begin_with_what_is_left(world, case)
    else:
        join_line(world, case, False)


@part
def is_full(world: World, case: int, line: int) -> bool:
    """Say whether a line has no room for one more, who would have to wait."""
    rules = world.plan.lines[line]
    if rules.most == NONE:
        return False
    room = world.rooms[rules.room]
    return room.length + room.coming >= rules.most and not can_begin_at_once(world, case, line)


@rare
def wait_outside(world: World, case: int, line: int) -> None:
    """Let a case that comes to a full line wait before it, outside of all steps."""
    who = world.cases[case]
    leave_uncounted(world, case)
    step = world.plan.steps[who.step]
    world.step_tally[step.document].arrived -= who.together
    who.is_outside = 1
    who.goal = who.step
    stand_blocked(world, case, line)


@rare
def give_up(world: World, case: int, to: int, why: int) -> None:
    """Send a case that was not served to another step: it lost patience, balked, or was turned away."""
    who = world.cases[case]
    note(world, why, case, who.step, NONE)
    tally = world.step_tally[world.plan.steps[who.step].document]
    if why == Note.TURNED_AWAY:
        tally.turned_away += who.together
        other = case
        while other != NONE:
            world.cases[other].turned_away = 1
            other = next_aboard(world, case, other)
    else:
        tally.abandoned += who.together
    leave_uncounted(world, case)
    let_go_of(world, case, world.plan.steps[who.step].document, False)
    come_by_side_way(world, case, to)
    who.work_left = -1.0
    push_back(world, Agenda.ENTER, case)


@part
def come_by_side_way(world: World, case: int, to: int) -> None:
    """Let a case come to another step than its ways lead to; within a loop it brings other luck from there on."""
    who = world.cases[case]
    loop = world.plan.steps[who.step].loop
    who.step = at_one_place(world, case, to)
    if loop != NONE and world.plan.steps[who.step].loop == loop:
        who.laps += 1


@rare
def leave_uncounted(world: World, case: int) -> None:
    """Let a case leave a step at which it was not served; its minutes stay on its account."""
    book_minutes(world, case)
    who = world.cases[case]
    document = world.plan.steps[who.step].document
    who.last_wait += visit_wait_of(world, case)
    for account in range(ACCOUNTS):
        spent = world.minutes[case, VISIT_MINUTES + account]
        world.minutes[case, account] += spent
        world.cause_minutes[document, account] += spent * who.together
        world.minutes[case, VISIT_MINUTES + account] = 0.0
    who.causes_before |= who.causes
    who.causes = 0
    if world.plan.run[0].awaiting > 0:
        be_awaited_no_more(world, case)
    if world.plan.steps[who.step].travel_kind == TravelKind.NONE:
        change_inside_step(world, case, -1)
    world.steps[who.step].here -= 1


@rare
def lose_patience(world: World, case: int, stamp: int) -> None:
    """Let a case that still waits in the same line give up."""
    who = world.cases[case]
    if who.stamp == stamp and who.stands != Stand.NOWHERE and who.stands != Stand.AT_SIGNAL:
        to = world.plan.lines[who.line].gives_up_to
        leave_line(world, case)
        give_up(world, case, to, Note.GAVE_UP)


@rare
def end_minimum_wait(world: World, case: int, stamp: int) -> None:
    """Let a case whose minimum time in the line is over be called."""
    if world.cases[case].stamp == stamp:
        take_a_stand(world, case)


@part
def end_visit(world: World, case: int) -> None:
    """End a case's visit to its step: it is written down, and its members are free."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if who.state != CaseState.MOVING:
        turn_to(world, case, CaseState.MOVING, NONE)
    note(world, Note.ENDED_WORK, case, who.step, who.first_held)
    if step.travel_kind != TravelKind.NONE:
        bring_people(world, case, step.place)
    if who.first_held != NONE:
        let_go_of(world, case, step.document, False)
        pay_all(world, case)
    write_visit(world, case)
    if step.travel_kind == TravelKind.NONE:
        change_inside_step(world, case, -1)
    world.steps[who.step].here -= 1
    end_step(world, case)


@part
def end_step(world: World, case: int) -> None:
    """Raise the signals, and pass the points, that a case's end at its step is for others."""
    step = world.plan.steps[world.cases[case].step]
    for number in range(step.first_raised, step.first_raised + step.raised):
        cleared = world.plan.lists[number]
        clear_signal(world, cleared)
    if step.span_point != NONE:
        pass_point(world, case, 1)
