"""Members leave their cases for a break or an interruption, and come back."""

from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import HandOver
from flowcore.kernel.records.kinds import NONE, CaseState, MemberState, Note
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import charge_for_absence, hand_back, pause_work, start_work
from flowcore.kernel.staff.breaks import begin_break, end_break, go_on_break
from flowcore.kernel.staff.freeing import become_free
from flowcore.kernel.staff.interruptions import (
    answer_interruption,
    end_interruption,
    first_interrupted,
    interruption_due,
    last_interrupted,
)
from flowcore.kernel.staff.members import walk_on
from flowcore.kernel.waiting.presence import is_absent


@part
def take_break(world: World, break_id: int, member_id: int) -> None:
    """Let one member, or (NONE) the whole row, go on a break that is due."""
    row = world.plan.rows[world.plan.breaks[break_id].row]
    if member_id != NONE:
        leave_for_break_due(world, break_id, member_id)
        return
    for each in range(row.first_member, row.first_member + row.members):
        leave_for_break_due(world, break_id, each)


@part
def leave_for_break_due(world: World, break_id: int, member_id: int) -> None:
    """Let a member go on a break that is due, and the case in its hands be left as its team's rule says."""
    if go_on_break(world, break_id, member_id):
        leave_case(world, member_id, world.plan.teams[world.members[member_id].team].at_break)


@part
def interrupt_members(world: World, clock_id: int) -> None:
    """Let an interruption that is due come to whom it comes, and the cases in their hands be left as its rule says."""
    interrupt = world.plan.interruptions[world.interruption_clocks[clock_id].interrupt]
    length = interruption_due(world, clock_id)
    if length < 0.0:
        return
    for member_id in range(first_interrupted(world, clock_id), last_interrupted(world, clock_id) + 1):
        if not is_absent(world.members[member_id].state):
            answer_interruption(world, member_id, clock_id, length)
            if world.members[member_id].case != NONE:
                leave_case(world, member_id, interrupt.rule)


@part
def leave_case(world: World, member_id: int, rule: int) -> None:
    """Let the case of a member who is needed elsewhere be paused or handed back; by the other rules it is finished."""
    member = world.members[member_id]
    if rule == HandOver.PAUSE:
        world.cases[member.case].absent += 1
        pause_work(world, member.case)
    elif rule == HandOver.HAND_OVER and member.step == world.cases[member.case].step:
        hand_back(world, member.case)


@part
def come_back(world: World, member_id: int) -> None:
    """Let a member come back from a break or an interruption; a break that came due meanwhile follows."""
    member = world.members[member_id]
    was_on_break = member.state != MemberState.INTERRUPTED
    note(world, Note.CAME_BACK, NONE, NONE, member_id)
    if was_on_break:
        end_break(world, member_id)
    else:
        end_interruption(world, member_id)
    follows = member.break_follows
    member.break_follows = 0
    if follows and begin_break(world, member_id):
        charge_for_absence(world, member_id)
        return
    if member.case != NONE:
        take_up_again(world, member_id)
    else:
        become_free(world, member_id)


@part
def take_up_again(world: World, member_id: int) -> None:
    """Let a member who was away go on with its case."""
    case_id = world.members[member_id].case
    walk_on(world, member_id)
    case = world.cases[case_id]
    case.absent -= 1
    if not case.in_work or case.state != CaseState.WAITING:
        return
    start_work(world, case_id)
