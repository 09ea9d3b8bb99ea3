"""Why members are away: the end of a shift, breaks, interruptions; and what becomes of the case in hand."""

from flowcore.kernel.compiled import part
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import (
    BREAK,
    BREAK_BEGAN,
    BREAK_DUE,
    FINISH,
    FINISH_SHORT,
    IDLE,
    INTERRUPTED,
    INTERRUPTION,
    MEMBER_BACK,
    NEVER,
    NONE,
    OFF,
    OFF_SHIFT,
    ON_BREAK,
    ON_UNPAID_BREAK,
    RANK_ROSTER,
    SHIFT_ENDED,
    TAKEN_IN_TURN,
    WAS_INTERRUPTED,
)
from flowcore.kernel.ledger import note
from flowcore.kernel.members import is_absent, set_overtime, set_state
from flowcore.kernel.state import World
from flowcore.kernel.wear import wind_up_again


@part
def cause_of_absence(world: World, case: int) -> int:
    """Return why the work on a case is paused, by the first of its members who is away."""
    member = world.cases[case].first_held
    while member != NONE:
        state = world.members[member].state
        if state == OFF:
            return OFF_SHIFT
        if state == INTERRUPTED:
            return INTERRUPTION
        if is_absent(state):
            return BREAK
        member = world.members[member].next_held
    return OFF_SHIFT


@part
def become_free(world: World, member: int) -> None:
    """Let a member without a case turn to what it owes: the end of its shift, a break, an interruption."""
    who = world.members[member]
    if who.shift_over:
        go_off(world, member)
        return
    if who.break_due < NEVER and begin_break(world, member):
        return
    if who.stop_due < NEVER and begin_interruption(world, member):
        return
    if who.state != IDLE:
        set_state(world, member, IDLE)


@part
def go_off(world: World, member: int) -> None:
    """End a member's shift; what ran over by the rule `finish` is taken from the start of the next."""
    who = world.members[member]
    team = world.plan.teams[who.team]
    now = world.clock[0].now
    who.late = now - who.over_at if team.at_shift_end == FINISH and who.shift_over == 1 else 0.0
    note(world, SHIFT_ENDED, NONE, NONE, member)
    who.shift_over = 0
    who.break_due = NEVER
    who.stop_due = NEVER
    who.token += 1
    set_state(world, member, OFF)
    set_overtime(world, member, 0)


@part
def begin_break(world: World, member: int) -> bool:
    """Let a member leave for the break that is due; say no where nothing of it is left."""
    who = world.members[member]
    now = world.clock[0].now
    at_break = world.plan.teams[who.team].at_break
    ends = now + who.break_length if at_break == FINISH else who.break_due + who.break_length
    who.break_due = NEVER
    if ends <= now:
        call_next_to_break(world, member)
        return False
    leave_for_break(world, member, ends)
    return True


@part
def leave_for_break(world: World, member: int, ends: float) -> None:
    """Let a member be on break until it ends."""
    who = world.members[member]
    who.token += 1
    who.break_due = NEVER
    set_state(world, member, ON_BREAK if world.plan.rests[who.rest].paid else ON_UNPAID_BREAK)
    note(world, BREAK_BEGAN, NONE, NONE, member)
    schedule(world, ends, RANK_ROSTER, MEMBER_BACK, member, who.token)


@part
def call_next_to_break(world: World, member: int) -> None:
    """Where a break is taken in turn, let the next member of the row go on it now."""
    who = world.members[member]
    rest = world.plan.rests[who.rest]
    row = world.plan.rows[rest.row]
    follower = member + 1
    if rest.taken == TAKEN_IN_TURN and follower < row.first_member + row.members:
        now = world.clock[0].now
        if now < world.rows[rest.row].until:
            schedule(world, now, RANK_ROSTER, BREAK_DUE, who.rest, follower)


@part
def begin_interruption(world: World, member: int) -> bool:
    """Let the interruption that is due take a member; say no where nothing of it is left."""
    who = world.members[member]
    now = world.clock[0].now
    ends = who.stop_due + who.stop_length if who.stop_rule == FINISH_SHORT else now + who.stop_length
    who.stop_due = NEVER
    if ends <= now:
        wind_up_again(world, member)
        return False
    be_interrupted(world, member, ends)
    return True


@part
def be_interrupted(world: World, member: int, ends: float) -> None:
    """Let a member be interrupted until a time."""
    who = world.members[member]
    who.token += 1
    who.stop_due = NEVER
    set_state(world, member, INTERRUPTED)
    note(world, WAS_INTERRUPTED, NONE, NONE, member)
    schedule(world, ends, RANK_ROSTER, MEMBER_BACK, member, who.token)
