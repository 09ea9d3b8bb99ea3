"""A member without a case turns to what it owes: the end of its shift, a break, an interruption."""

from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, MemberState, Note
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.breaks import begin_break
from flowcore.kernel.staff.interruption_clocks import restart_own_clocks
from flowcore.kernel.staff.interruptions import begin_interruption
from flowcore.kernel.staff.members import set_overtime, set_state
from flowcore.kernel.waiting.presence import is_absent


@part
def be_let_go(world: World, member_id: int) -> None:
    """Let a member without a case any more turn to what it owes; who is away stays so, or goes home from there."""
    member = world.members[member_id]
    if member.shift_over or not is_absent(member.state):
        become_free(world, member_id)


@part
def become_free(world: World, member_id: int) -> None:
    """Let a member without a case turn to what it owes: the end of its shift, a break, an interruption."""
    member = world.members[member_id]
    if member.shift_over:
        go_off(world, member_id)
        return
    if member.owes_break and begin_break(world, member_id):
        return
    if member.owes_interruption and begin_interruption(world, member_id):
        return
    if member.state != MemberState.IDLE:
        set_state(world, member_id, MemberState.IDLE)


@part
def forget_what_is_owed(world: World, member_id: int) -> None:
    """Let a member owe neither a break nor an interruption."""
    member = world.members[member_id]
    member.break_follows = 0
    member.owes_break = 0
    member.break_length = 0.0
    member.break_until = 0.0
    member.owes_interruption = 0
    member.interruption_length = 0.0
    member.interruption_until = 0.0


@rare
def go_off(world: World, member_id: int) -> None:
    """End a member's shift; what it owed and what it was away for is over."""
    member = world.members[member_id]
    note(world, Note.SHIFT_ENDED, NONE, NONE, member_id)
    member.shift_over = 0
    forget_what_is_owed(world, member_id)
    member.stamp += 1
    set_state(world, member_id, MemberState.ABSENT if member.misses else MemberState.OFF)
    set_overtime(world, member_id, 0)
    restart_own_clocks(world, member_id)
