"""A break, from the plan of the shift to its end."""

from flowcore.kernel.clockwork.events import schedule
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
        schedule(world, begins, Rank.ROSTER, EventKind.BREAK_DUE, break_id, NONE)
        return
    apart = 0.0
    if plan.taken == BreakTaken.SPREAD:
        apart = max(0.0, plan.within - plan.length) / max(1, row.members - 1)
    elif plan.taken == BreakTaken.IN_TURN:
        apart = plan.length
    turn = 0
    for member in range(row.first_member, row.first_member + row.members):
        due = begins + turn * apart
        if world.members[member].misses:
            turn += int(plan.taken == BreakTaken.SPREAD)
            continue
        turn += 1
        if clock.now <= due < until:
            schedule(world, due, Rank.ROSTER, EventKind.BREAK_DUE, break_id, member)
        elif due < clock.now < due + plan.length:
            have_rest_of_break(world, break_id, member, due + plan.length)
        if plan.taken == BreakTaken.IN_TURN and due + plan.length > clock.now:
            return


@part
def have_rest_of_break(world: World, break_id: int, member: int, ends: float) -> None:
    """Let a member have what is left of a break within which the run begins; of two the later end holds."""
    who = world.members[member]
    if who.state == MemberState.IDLE:
        who.current_break = break_id
        leave_for_break(world, member, ends)
    else:
        who.owes_break, who.break_follows, who.owed_break = 1, 1, break_id
        who.break_until = max(who.break_until, ends)


@part
def go_on_break(world: World, break_id: int, member: int) -> bool:
    """Let a member leave for its break now, or owe it until it is free or back; say whether it was at work."""
    who = world.members[member]
    if who.on_shift == 0 or is_off(who.state):
        return False
    if is_absent(who.state):
        owe_break(world, member, break_id)
        who.break_follows = 1
        return False
    if who.case == NONE or world.plan.teams[who.team].at_break == HandOver.PAUSE:
        who.current_break = break_id
        leave_for_break(world, member, world.clock[0].now + world.plan.breaks[break_id].length)
    else:
        owe_break(world, member, break_id)
    return who.case != NONE


@rare
def owe_break(world: World, member: int, break_id: int) -> None:
    """Let a member owe a break that is due now: of its full length, or until it would have ended."""
    who = world.members[member]
    owes_in_turn = who.owes_break and world.plan.breaks[who.owed_break].taken == BreakTaken.IN_TURN
    if not owes_in_turn or world.plan.breaks[break_id].taken == BreakTaken.IN_TURN:
        if owes_in_turn:
            call_next_to_break(world, member, who.owed_break)
        who.owed_break = break_id
    who.owes_break = 1
    length = world.plan.breaks[break_id].length
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
        call_next_to_break(world, member, who.owed_break)
        return False
    who.current_break = who.owed_break
    leave_for_break(world, member, ends)
    return True


@rare
def leave_for_break(world: World, member: int, ends: float) -> None:
    """Let a member be on break until it ends."""
    who = world.members[member]
    who.stamp += 1
    set_state(
        world,
        member,
        MemberState.ON_BREAK if world.plan.breaks[who.current_break].paid else MemberState.ON_UNPAID_BREAK,
    )
    note(world, Note.BREAK_BEGAN, NONE, NONE, member)
    schedule(world, ends, Rank.ROSTER, EventKind.MEMBER_BACK, member, who.stamp)


@rare
def call_next_to_break(world: World, member: int, break_id: int) -> None:
    """Where a break is taken in turn, let the next member of the row who is not absent go on it now."""
    plan = world.plan.breaks[break_id]
    row = world.plan.rows[plan.row]
    follower = member + 1
    while follower < row.first_member + row.members and world.members[follower].misses:
        follower += 1
    if plan.taken == BreakTaken.IN_TURN and follower < row.first_member + row.members:
        now = world.clock[0].now
        if now < world.rows[plan.row].until:
            schedule(world, now, Rank.ROSTER, EventKind.BREAK_DUE, break_id, follower)
