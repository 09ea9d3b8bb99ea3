"""Why members are away: the end of a shift, breaks, interruptions; and what they owe until they are free."""

from flowcore.kernel.compiled import part, rare
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import NONE, Account, BreakTaken, EventKind, HandOver, MemberState, Note, Rank
from flowcore.kernel.members import is_absent, set_overtime, set_state
from flowcore.kernel.notes import note
from flowcore.kernel.state import World
from flowcore.kernel.wear import wind_up_again


@rare
def cause_of_absence(world: World, case: int) -> int:
    """Return why the work on a case is paused, by the first taken of its members who is away."""
    cause = Account.OFF_SHIFT
    member = world.cases[case].first_held
    while member != NONE:
        state = world.members[member].state
        if state == MemberState.OFF:
            cause = Account.OFF_SHIFT
        elif state == MemberState.ABSENT:
            cause = Account.ABSENCE
        elif state == MemberState.INTERRUPTED:
            cause = Account.INTERRUPTION
        elif is_absent(state):
            cause = Account.BREAK
        member = world.members[member].next_held
    return cause


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
def be_let_go(world: World, member: int) -> None:
    """Let a member without a case any more turn to what it owes; who is away stays so, or goes home from there."""
    who = world.members[member]
    if who.shift_over or not is_absent(who.state):
        become_free(world, member)


@rare
def go_off(world: World, member: int) -> None:
    """End a member's shift; what it owed and what it was away for is over."""
    who = world.members[member]
    note(world, Note.SHIFT_ENDED, NONE, NONE, member)
    who.shift_over = 0
    forget_what_is_owed(world, member)
    who.token += 1
    set_state(world, member, MemberState.ABSENT if who.misses else MemberState.OFF)
    set_overtime(world, member, 0)
    wind_up_again(world, member)


@part
def forget_what_is_owed(world: World, member: int) -> None:
    """Let a member owe neither a break nor an interruption."""
    who = world.members[member]
    who.break_follows = 0
    who.owes_break = 0
    who.break_length = 0.0
    who.break_until = 0.0
    who.owes_interruption = 0
    who.stop_length = 0.0
    who.stop_until = 0.0


@rare
def owe_break(world: World, member: int, rest: int) -> None:
    """Let a member owe a break that is due now: of its full length, or until it would have ended."""
    who = world.members[member]
    owes_in_turn = who.owes_break and world.plan.rests[who.owed_rest].taken == BreakTaken.IN_TURN
    if not owes_in_turn or world.plan.rests[rest].taken == BreakTaken.IN_TURN:
        if owes_in_turn:
            call_next_to_break(world, member, who.owed_rest)
        who.owed_rest = rest
    who.owes_break = 1
    length = world.plan.rests[rest].length
    if world.plan.teams[who.team].at_break == HandOver.FINISH:
        who.break_length += length
    else:
        who.break_until = max(who.break_until, world.clock[0].now + length)


@rare
def begin_break(world: World, member: int) -> bool:
    """Let a member leave for the break that it owes; say no where nothing of it is left."""
    who = world.members[member]
    now = world.clock[0].now
    ends = max(now + who.break_length, who.break_until)
    who.owes_break = 0
    who.break_length = 0.0
    who.break_until = 0.0
    if ends <= now:
        call_next_to_break(world, member, who.owed_rest)
        return False
    who.rest = who.owed_rest
    leave_for_break(world, member, ends)
    return True


@rare
def leave_for_break(world: World, member: int, ends: float) -> None:
    """Let a member be on break until it ends."""
    who = world.members[member]
    who.token += 1
    set_state(world, member, MemberState.ON_BREAK if world.plan.rests[who.rest].paid else MemberState.ON_UNPAID_BREAK)
    note(world, Note.BREAK_BEGAN, NONE, NONE, member)
    schedule(world, ends, Rank.ROSTER, EventKind.MEMBER_BACK, member, who.token)


@rare
def call_next_to_break(world: World, member: int, rest: int) -> None:
    """Where a break is taken in turn, let the next member of the row who is not absent go on it now."""
    plan = world.plan.rests[rest]
    row = world.plan.rows[plan.row]
    follower = member + 1
    while follower < row.first_member + row.members and world.members[follower].misses:
        follower += 1
    if plan.taken == BreakTaken.IN_TURN and follower < row.first_member + row.members:
        now = world.clock[0].now
        if now < world.rows[plan.row].until:
            schedule(world, now, Rank.ROSTER, EventKind.BREAK_DUE, rest, follower)


@rare
def begin_interruption(world: World, member: int) -> bool:
    """Let the interruption that a member owes take it; say no where nothing of it is left."""
    who = world.members[member]
    now = world.clock[0].now
    ends = max(now + who.stop_length, who.stop_until)
    who.owes_interruption = 0
    who.stop_length = 0.0
    who.stop_until = 0.0
    if ends <= now:
        wind_up_again(world, member)
        return False
    be_interrupted(world, member, ends)
    return True


@rare
def be_interrupted(world: World, member: int, ends: float) -> None:
    """Let a member be interrupted until a time."""
    who = world.members[member]
    who.token += 1
    set_state(world, member, MemberState.INTERRUPTED)
    note(world, Note.WAS_INTERRUPTED, NONE, NONE, member)
    schedule(world, ends, Rank.ROSTER, EventKind.MEMBER_BACK, member, who.token)
