"""What happens to a case when it comes to a step, by the step's kind, and how it gives up waiting there."""

import numpy as np

from flowcore.kernel.accounts import book_minutes, change_inside_step, next_aboard, turn_to, visit_wait_of
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.deadlines import meet_deadlines, pass_point, start_deadlines
from flowcore.kernel.draws import chain
from flowcore.kernel.events import do_first, do_next, schedule
from flowcore.kernel.kinds import (
    ACCOUNTS,
    NONE,
    Account,
    Agenda,
    CaseState,
    EventKind,
    Expected,
    Note,
    Rank,
    SignalKind,
    Stand,
    StepKind,
    TokenKind,
    WhenFull,
)
from flowcore.kernel.lines import (
    be_awaited_no_more,
    busy_person,
    join_line,
    leave_line,
    line_for,
    stand_blocked,
    take_a_stand,
)
from flowcore.kernel.members import bring_people, pay_all
from flowcore.kernel.notes import note
from flowcore.kernel.parallel import comes_apart, end_branch, fork, reach_join, unpack, wait_for_batch
from flowcore.kernel.queues import append
from flowcore.kernel.routing import at_one_place, clear_signal, is_full, is_instant, set_traits
from flowcore.kernel.serving import (
    all_is_there,
    begin_with_what_is_left,
    can_begin_at_once,
    lacks_nobody,
    someone_may_be_next,
)
from flowcore.kernel.state import VISIT_MINUTES, World
from flowcore.kernel.tokens import companion_of, depart, free_token
from flowcore.kernel.work import begin, let_go_of


@part
def enter(world: World, case: int) -> None:
    """Let a case come to its step."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if who.batch != NONE and comes_apart(world, case):
        if step.kind == StepKind.SCATTER:
            come_to(world, case)
            world.step_tally[step.document].served += who.together
        unpack(world, case)
        return
    line = NONE
    if step.kind == StepKind.SERVE:
        line = line_for(world, case, who.step)
        # Those who wait are served before one more comes, who may find the line full.
        if world.plan.lines[line].most != NONE and who.expected == 0 and someone_may_be_next(world):
            do_first(world, Agenda.ENTER, case)
            world.clock[0].serve_first = 1
            return
    come_to(world, case)
    if step.kind == StepKind.SERVE:
        ask_for_work(world, case, line)
    elif step.kind == StepKind.EXIT:
        leave_by(world, case)
    elif is_instant(step.kind):
        world.step_tally[step.document].served += who.together
        if step.kind == StepKind.SET:
            set_traits_of_all(world, case)
        if step.kind == StepKind.FORK:
            fork(world, case)
        elif who.expected == Expected.CALLED:
            do_first(world, Agenda.GO_ON, case)
        else:
            do_next(world, Agenda.GO_ON, case)
    elif step.kind == StepKind.SIGNAL:
        wait_for_signal(world, case)
    elif step.kind == StepKind.JOIN:
        reach_join(world, case)
    else:
        wait_for_batch(world, case)


@rare
def set_traits_of_all(world: World, case: int) -> None:
    """Write the traits of a case, and of all who travel with it."""
    step = world.plan.steps[world.cases[case].step]
    other = case
    while other != NONE:
        set_traits(world, other, step.first_start, step.starts)
        other = next_aboard(world, case, other)


@part
def come_to(world: World, case: int) -> None:
    """Count a case that comes to a step, and start and stop the clocks that hang on it."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.circle != who.circle:
        who.circle = step.circle
        who.laps = 0
    if step.is_travel == 0:
        world.step_tally[step.document].arrived += who.together
        note(world, Note.CAME, case, who.step, NONE)
    who.joined_at = world.clock[0].now
    pay_all(world, case)
    who.visit_cost = who.cost
    if step.place != NONE and step.is_travel == 0:
        who.place = step.place
        bring_people(world, case, step.place)
    if not is_instant(step.kind) and step.kind != StepKind.EXIT:
        who.work_left = -1.0
        world.steps[who.step].here += 1
        if step.is_travel == 0:
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
    who.circle = head.circle
    who.laps = head.laps
    if step.visit_counter != NONE:
        world.memory[case, world.plan.run[0].names + step.visit_counter] += 1
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
    waits_for_none = lacks_nobody(world, case, line) or world.clock[0].doings == 0
    if is_called or (waits_for_none and can_begin_at_once(world, case, line)):
        if was_expected and room.first != NONE:
            do_next(world, Agenda.LET_IN, rules.room)
        if is_called:
            begin(world, case)
        else:
            begin_with_what_is_left(world, case)
    else:
        join_line(world, case, False)


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
    if world.plan.steps[who.step].is_travel == 0:
        change_inside_step(world, case, -1)
    world.steps[who.step].here -= 1


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
    do_next(world, Agenda.ENTER, case)


@part
def come_by_side_way(world: World, case: int, to: int) -> None:
    """Let a case come to another step than its ways lead to; within a loop it brings other luck from there on."""
    who = world.cases[case]
    circle = world.plan.steps[who.step].circle
    who.step = at_one_place(world, case, to)
    if circle != NONE and world.plan.steps[who.step].circle == circle:
        who.laps += 1


@rare
def lose_patience(world: World, case: int, token: int) -> None:
    """Let a case that still waits in the same line give up."""
    who = world.cases[case]
    if who.token == token and who.stands != Stand.NOWHERE and who.stands != Stand.AT_SIGNAL:
        to = world.plan.lines[who.line].gives_up_to
        leave_line(world, case)
        give_up(world, case, to, Note.GAVE_UP)


@rare
def ripen(world: World, case: int, token: int) -> None:
    """Let a case whose minimum time in the line is over be called."""
    if world.cases[case].token == token:
        take_a_stand(world, case)


@part
def leave_by(world: World, case: int) -> None:
    """Let a token leave by an exit: a case with its outcome, a branch or an errand without one."""
    kind = world.cases[case].token_kind
    if kind == TokenKind.CASE:
        depart(world, case)
    elif kind == TokenKind.BRANCH and world.cases[case].party != NONE:
        reach_join(world, end_branch(world, case))
    else:
        let_go_of(world, case, NONE, False)
        free_token(world, case)


@rare
def wait_for_signal(world: World, case: int) -> None:
    """Let a case wait until a signal clears, or go on at once through one that is open."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.clears == SignalKind.OPENING and not world.steps[who.step].shut:
        do_next(world, Agenda.GO_ON, case)
        return
    who.line = step.line
    line = world.lines[who.line]
    append(world.cases, line, case)
    line.count += 1
    who.stands = Stand.AT_SIGNAL
    note(world, Note.WAS_HELD, case, who.step, NONE)
    turn_to(world, case, CaseState.WAITING, Account.SIGNAL)
    if step.clears == SignalKind.SO_MANY and line.count >= step.many:
        clear_signal(world, who.step)


@rare
def let_go(world: World, step: int) -> None:
    """Let the first of those at a signal go, and the next ones as far as it clears."""
    line = world.lines[world.plan.steps[step].line]
    here = world.steps[step]
    if here.quota <= 0 or line.first == NONE:
        here.quota = 0
        return
    here.quota -= 1
    case = line.first
    leave_line(world, case)
    do_next(world, Agenda.GO_ON, case)
    if here.quota > 0:
        do_first(world, Agenda.LET_GO, step)


@rare
def miss_deadline(world: World, timer: int, token: int) -> None:
    """Let a deadline that has run out send its errand, or divert the case if it still waits."""
    here = world.timers[timer]
    if here.token != token:
        return
    plan = world.plan.deadlines[here.deadline]
    case = here.case
    who = world.cases[case]
    if here.missed == 0:
        world.deadlines[here.deadline].missed += 1
    here.missed += 1
    if plan.send != NONE:
        luck = chain(chain(who.luck, plan.key), np.uint64((who.laps << 32) | here.missed))
        errand = companion_of(world, case, luck, TokenKind.COMPANION)
        world.cases[errand].step = at_one_place(world, errand, plan.send)
        note(world, Note.SENT, case, who.step, NONE)
        do_next(world, Agenda.ENTER, errand)
        if plan.every > 0.0:
            schedule(world, world.clock[0].now + plan.every, Rank.SIGNAL, EventKind.DEADLINE_DUE, timer, token)
    elif who.stands != Stand.NOWHERE and who.state != CaseState.BLOCKED and who.together == 1:
        leave_line(world, case)
        give_up(world, case, plan.divert, Note.DIVERTED)
