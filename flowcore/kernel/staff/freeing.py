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
def be_let_go(world: World, member: int) -> None:
    """Let a member without a case any more turn to what it owes; who is away stays so, or goes home from there."""
    who = world.members[member]
    if who.shift_over or not is_absent(who.state):
        become_free(world, member)


@part
def become_free(world: World, member: int) -> None:
    """Let a member without a case turn to what it owes: the end of its shift, a break, an interruption."""
    who = world.members[member]
    if who.shift_over:
        go_off(world, member)
        return
    if who.owes_break and begin_break(world, member):
        return
    if who.owes_interruption and begin_interruption(world, member):
        return
    if who.state != MemberState.IDLE:
        set_state(world, member, MemberState.IDLE)


@part
def forget_what_is_owed(world: World, member: int) -> None:
    """Let a member owe neither a break nor an interruption."""
    who = world.members[member]
    who.break_follows = 0
    who.owes_break = 0
    who.break_length = 0.0
    who.break_until = 0.0
    who.owes_interruption = 0
    who.interruption_length = 0.0
    who.interruption_until = 0.0


@rare
def go_off(world: World, member: int) -> None:
    """End a member's shift; what it owed and what it was away for is over."""
    who = world.members[member]
    note(world, Note.SHIFT_ENDED, NONE, NONE, member)
    who.shift_over = 0
    forget_what_is_owed(world, member)
    who.stamp += 1
    set_state(world, member, MemberState.ABSENT if who.misses else MemberState.OFF)
    set_overtime(world, member, 0)
    restart_own_clocks(world, member)
