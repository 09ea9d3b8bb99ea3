"""Members leave their cases for a break or an interruption, and come back."""

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import HandOver
from flowcore.kernel.records.kinds import NONE, CaseState, MemberState, Note
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import cause_of_absence, hand_back, pause_work, start_work
from flowcore.kernel.staff.breaks import begin_break, call_next_to_break, go_on_break
from flowcore.kernel.staff.freeing import become_free
from flowcore.kernel.staff.interruption_clocks import restart_own_clocks
from flowcore.kernel.staff.interruptions import (
    answer_interruption,
    first_interrupted,
    interruption_due,
    last_interrupted,
)
from flowcore.kernel.staff.members import walk_on
from flowcore.kernel.waiting.presence import is_absent


@part
def take_break(world: World, break_id: int, member: int) -> None:
    """Let one member, or (NONE) the whole row, go on a break that is due."""
    row = world.plan.rows[world.plan.breaks[break_id].row]
    if member != NONE:
        leave_for_break_due(world, break_id, member)
        return
    for each in range(row.first_member, row.first_member + row.members):
        leave_for_break_due(world, break_id, each)


@part
def leave_for_break_due(world: World, break_id: int, member: int) -> None:
    """Let a member go on a break that is due, and the case in its hands be left as its team's rule says."""
    if go_on_break(world, break_id, member):
        leave_case(world, member, world.plan.teams[world.members[member].team].at_break)


@part
def interrupt_members(world: World, clock_id: int) -> None:
    """Let an interruption that is due come to whom it comes, and the cases in their hands be left as its rule says."""
    interrupt = world.plan.interruptions[world.interruption_clocks[clock_id].interrupt]
    length = interruption_due(world, clock_id)
    if length < 0.0:
        return
    for member in range(first_interrupted(world, clock_id), last_interrupted(world, clock_id) + 1):
        if not is_absent(world.members[member].state):
            answer_interruption(world, member, clock_id, length)
            if world.members[member].case != NONE:
                leave_case(world, member, interrupt.rule)


@part
def leave_case(world: World, member: int, rule: int) -> None:
    """Let the case of a member who is needed elsewhere be paused or handed back; by the other rules it is finished."""
    who = world.members[member]
    if rule == HandOver.PAUSE:
        world.cases[who.case].absent += 1
        pause_work(world, who.case)
    elif rule == HandOver.HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)


@part
def come_back(world: World, member: int) -> None:
    """Let a member come back from a break or an interruption; a break that came due meanwhile follows."""
    who = world.members[member]
    was_on_break = who.state != MemberState.INTERRUPTED
    note(world, Note.CAME_BACK, NONE, NONE, member)
    if was_on_break:
        call_next_to_break(world, member, who.current_break)
    else:
        restart_own_clocks(world, member)
    follows = who.break_follows
    who.break_follows = 0
    if follows and begin_break(world, member):
        if who.case != NONE and world.cases[who.case].in_work and world.cases[who.case].state == CaseState.WAITING:
            turn_to(world, who.case, CaseState.WAITING, cause_of_absence(world, who.case))
        return
    if who.case != NONE:
        take_up_again(world, member)
    else:
        become_free(world, member)


@part
def take_up_again(world: World, member: int) -> None:
    """Let a member who was away go on with its case."""
    case = world.members[member].case
    walk_on(world, member)
    who = world.cases[case]
    who.absent -= 1
    if not who.in_work or who.state != CaseState.WAITING:
        return
    start_work(world, case)
