"""What happens to a case when it comes to a step, by the step's kind."""

import numpy as np

from flowcore.kernel.accounts.minutes import next_aboard
from flowcore.kernel.clockwork.agenda import push_back, push_front
from flowcore.kernel.clockwork.draws import chain
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind
from flowcore.kernel.records.kinds import NONE, Agenda, CaseState, EventKind, Expected, Note, Rank, Stand, TokenKind
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import someone_may_be_next
from flowcore.kernel.service.plain import is_plain_for
from flowcore.kernel.service.work import let_go_of
from flowcore.kernel.waiting.own_people import line_for
from flowcore.kernel.waiting.stands import leave_line
from flowcore.kernel.way.batches import comes_apart, unpack, wait_for_batch
from flowcore.kernel.way.forks import end_branch, fork_case, reach_join
from flowcore.kernel.way.holds import wait_for_signal
from flowcore.kernel.way.messages import stop_listening
from flowcore.kernel.way.routes import at_one_place, is_instant, set_traits
from flowcore.kernel.way.tokens import companion_of, depart, free_token, leave_fork
from flowcore.kernel.way.visits import ask_for_work, come_plainly, come_to, give_up, is_shut_out, wait_outside


@part
def enter(world: World, case_id: int) -> None:
    """Let a case come to its step."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if is_plain_for(world, case_id):
        come_plainly(world, case_id)
        return
    if case.batch != NONE and comes_apart(world, case_id):
        if step.kind == StepKind.SCATTER:
            come_to(world, case_id)
            world.step_tally[step.document].served += case.together
        unpack(world, case_id)
        return
    line = NONE
    if step.kind == StepKind.SERVE:
        line = line_for(world, case_id, case.step)
        if world.plan.lines[line].most != NONE and case.expected == 0:
            # Those who wait are served before one more comes, who may find the line full.
            if someone_may_be_next(world):
                push_front(world, Agenda.ENTER, case_id)
                world.clock[0].serve_first = 1
                return
            if is_shut_out(world, case_id, line):
                wait_outside(world, case_id, line)
                return
    come_to(world, case_id)
    if step.kind == StepKind.SERVE:
        ask_for_work(world, case_id, line)
    elif step.kind == StepKind.EXIT:
        leave_by(world, case_id)
    elif is_instant(step.kind):
        world.step_tally[step.document].served += case.together
        if step.kind == StepKind.SET:
            set_traits_of_all(world, case_id)
        if step.kind == StepKind.FORK:
            fork_case(world, case_id)
        elif case.expected == Expected.CALLED:
            push_front(world, Agenda.GO_ON, case_id)
        else:
            push_back(world, Agenda.GO_ON, case_id)
    elif step.kind == StepKind.SIGNAL:
        wait_for_signal(world, case_id)
    elif step.kind == StepKind.JOIN:
        reach_join(world, case_id)
    else:
        wait_for_batch(world, case_id)


@rare
def set_traits_of_all(world: World, case_id: int) -> None:
    """Write the traits of a case, and of all who travel with it."""
    step = world.plan.steps[world.cases[case_id].step]
    other = case_id
    while other != NONE:
        set_traits(world, other, step.first_start, step.starts)
        other = next_aboard(world, case_id, other)


@part
def leave_by(world: World, case_id: int) -> None:
    """Let a token leave by an exit: a case with its outcome, a branch or a companion without one."""
    kind = world.cases[case_id].token_kind
    if kind == TokenKind.CASE:
        depart(world, case_id)
    elif kind == TokenKind.BRANCH and world.cases[case_id].fork != NONE:
        reach_join(world, end_branch(world, case_id))
    else:
        let_go_of(world, case_id, NONE, False)
        if world.cases[case_id].fork != NONE:
            leave_fork(world, case_id)
        free_token(world, case_id)


@rare
def miss_deadline(world: World, timer: int, stamp: int) -> None:
    """Let a deadline that has run out send its companion, or divert the case if it still waits."""
    here = world.timers[timer]
    if here.stamp != stamp:
        return
    plan = world.plan.deadlines[here.deadline]
    case_id = here.case
    case = world.cases[case_id]
    if here.missed == 0:
        world.deadlines[here.deadline].missed += 1
    here.missed += 1
    if plan.send != NONE:
        luck = chain(chain(case.luck, plan.key), np.uint64((case.laps << 32) | here.missed))
        companion = companion_of(world, case_id, luck, TokenKind.COMPANION)
        world.cases[companion].step = at_one_place(world, companion, plan.send)
        note(world, Note.SENT, case_id, case.step, NONE)
        push_back(world, Agenda.ENTER, companion)
        if plan.every > 0.0:
            schedule(world, world.clock[0].now + plan.every, Rank.SIGNAL, EventKind.DEADLINE_DUE, timer, stamp)
    elif case.stands != Stand.NOWHERE and case.state != CaseState.BLOCKED and case.together == 1:
        if world.plan.steps[case.step].message != NONE:
            stop_listening(world, case_id, world.plan.steps[case.step].message)
        leave_line(world, case_id)
        give_up(world, case_id, plan.divert, Note.DIVERTED)
