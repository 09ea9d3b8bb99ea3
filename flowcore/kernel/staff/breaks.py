"""A break, from the plan of the shift to its end."""

from flowcore.kernel.clockwork.events import schedule, schedule_with
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import BreakTaken, HandOver
from flowcore.kernel.records.kinds import NONE, EventKind, MemberState, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import set_state
from flowcore.kernel.waiting.presence import is_absent, is_off


@part
def plan_break(world: World, break_id: int, since: float, until: float) -> None:
    """Schedule a break of a row's shift: for all, for the first, or for each in a window.

    Where the run begins after it has begun, as if everyone had gone on time.
    """
    clock = world.clock[0]
    plan = world.plan.breaks[break_id]
    row = world.plan.rows[plan.row]
    begins = since + plan.after
    if plan.at >= 0.0:
        begins = since + (plan.at - (world.plan.run[0].start_minute + since)) % 1440.0
    if begins >= until or row.members == 0:
        return
    if plan.taken == BreakTaken.TOGETHER and begins >= clock.now:
        schedule_with(world, begins, Rank.ROSTER, EventKind.BREAK_DUE, break_id, NONE)
        return
    apart = 0.0
    if plan.taken == BreakTaken.SPREAD:
        apart = max(0.0, plan.within - plan.length) / max(1, row.members - 1)
    elif plan.taken == BreakTaken.IN_TURN:
        apart = plan.length
    turn = 0
    for member_id in range(row.first_member, row.first_member + row.members):
        due = begins + turn * apart
        if world.members[member_id].misses:
            turn += int(plan.taken == BreakTaken.SPREAD)
            continue
        turn += 1
        if clock.now <= due < until:
            schedule_with(world, due, Rank.ROSTER, EventKind.BREAK_DUE, break_id, member_id)
        elif due < clock.now < due + plan.length:
            have_rest_of_break(world, break_id, member_id, due + plan.length)
        if plan.taken == BreakTaken.IN_TURN and due + plan.length > clock.now:
            return


@part
def have_rest_of_break(world: World, break_id: int, member_id: int, ends: float) -> None:
    """Let a member have what is left of a break within which the run begins; of two the later end holds."""
    member = world.members[member_id]
    if member.state == MemberState.IDLE:
        member.current_break = break_id
        leave_for_break(world, member_id, ends)
    else:
        member.owes_break, member.break_follows, member.owed_break = 1, 1, break_id
        member.break_until = max(member.break_until, ends)


@part
def go_on_break(world: World, break_id: int, member_id: int) -> bool:
    """Let a member leave for its break now, or owe it until it is free or back; say whether it was at work."""
    member = world.members[member_id]
    if member.on_shift == 0 or is_off(member.state):
        return False
    if is_absent(member.state):
        owe_break(world, member_id, break_id)
        member.break_follows = 1
        return False
    if member.case == NONE or world.plan.teams[member.team].at_break == HandOver.PAUSE:
        member.current_break = break_id
        leave_for_break(world, member_id, world.clock[0].now + world.plan.breaks[break_id].length)
    else:
        owe_break(world, member_id, break_id)
    return member.case != NONE


@rare
def owe_break(world: World, member_id: int, break_id: int) -> None:
    """Let a member owe a break that is due now: of its full length, or until it would have ended."""
    member = world.members[member_id]
    owes_in_turn = member.owes_break and world.plan.breaks[member.owed_break].taken == BreakTaken.IN_TURN
    if not owes_in_turn or world.plan.breaks[break_id].taken == BreakTaken.IN_TURN:
        if owes_in_turn:
            call_next_to_break(world, member_id, member.owed_break)
        member.owed_break = break_id
    member.owes_break = 1
    length = world.plan.breaks[break_id].length
    if world.plan.teams[member.team].at_break == HandOver.FINISH:
        member.break_length += length
    else:
        member.break_until = max(member.break_until, world.clock[0].now + length)


@rare
def begin_break(world: World, member_id: int) -> bool:
    """Let a member leave for the break that it owes; say no where nothing of it is left."""
    member = world.members[member_id]
    now = world.clock[0].now
    ends = max(now + member.break_length, member.break_until)
    member.owes_break = 0
    member.break_length = 0.0
    member.break_until = 0.0
    if ends <= now:
        call_next_to_break(world, member_id, member.owed_break)
        return False
    member.current_break = member.owed_break
    leave_for_break(world, member_id, ends)
    return True


@rare
def leave_for_break(world: World, member_id: int, ends: float) -> None:
    """Let a member be on break until it ends."""
    member = world.members[member_id]
    member.stamp += 1
    set_state(
        world,
        member_id,
        MemberState.ON_BREAK if world.plan.breaks[member.current_break].paid else MemberState.ON_UNPAID_BREAK,
    )
    note(world, Note.BREAK_BEGAN, NONE, NONE, member_id)
    schedule(world, ends, Rank.ROSTER, EventKind.MEMBER_BACK, member_id, member.stamp)


@part
def end_break(world: World, member_id: int) -> None:
    """End a member's break: where it is taken in turn, the next one goes on it."""
    call_next_to_break(world, member_id, world.members[member_id].current_break)


@rare
def call_next_to_break(world: World, member_id: int, break_id: int) -> None:
    """Where a break is taken in turn, let the next member of the row who is not absent go on it now."""
    plan = world.plan.breaks[break_id]
    row = world.plan.rows[plan.row]
    follower = member_id + 1
    while follower < row.first_member + row.members and world.members[follower].misses:
        follower += 1
    if plan.taken == BreakTaken.IN_TURN and follower < row.first_member + row.members:
        now = world.clock[0].now
        if now < world.rows[plan.row].until:
            schedule_with(world, now, Rank.ROSTER, EventKind.BREAK_DUE, break_id, follower)
