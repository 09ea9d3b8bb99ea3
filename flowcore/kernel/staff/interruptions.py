"""An interruption, from its coming due to its end."""

from flowcore.kernel.clockwork.agenda import push_front
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import ClockBy, HandOver, Whom
from flowcore.kernel.records.kinds import NONE, Agenda, EventKind, MemberState, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.interruption_clocks import (
    clock_of,
    draw_interruption_length,
    restart_own_clocks,
    start_clock,
)
from flowcore.kernel.staff.members import set_state
from flowcore.kernel.waiting.presence import is_absent


@rare
def count_case(world: World, member_id: int) -> None:
    """Count a case that a member has served; interruptions that come after so many cases come due."""
    team = world.plan.teams[world.members[member_id].team]
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        if world.plan.interruptions[number].measure != ClockBy.CASES:
            continue
        clock_id = clock_of(world, member_id, number)
        clock = world.interruption_clocks[clock_id]
        clock.left -= 1.0
        if clock.left == 0.0 and world.plan.interruptions[number].comes_to == Whom.EACH:
            owe_interruption(world, member_id, clock_id, draw_interruption_length(world, clock_id))
            start_clock(world, clock_id, 0.0)
        elif clock.left == 0.0:
            push_front(world, Agenda.INTERRUPT, clock_id)


@part
def interruption_due(world: World, clock_id: int) -> float:
    """Return how long the interruption lasts that is due, the same for all of a team; below 0 where it finds nobody.

    Whoever is away is not interrupted. A clock by the clock waits until the interruption is over; the others go on.
    """
    clock = world.interruption_clocks[clock_id]
    interrupt = world.plan.interruptions[clock.interrupt]
    if interrupt.comes_to == Whom.EACH and is_absent(world.members[clock.member].state):
        start_clock(world, clock_id, 0.0)
        return -1.0
    length = draw_interruption_length(world, clock_id)
    if interrupt.comes_to == Whom.EACH and interrupt.measure == ClockBy.CLOCK:
        clock.waits = 1
    else:
        start_clock(world, clock_id, length)
    return length


@part
def first_interrupted(world: World, clock_id: int) -> int:
    """Return the first of those to whom a clock's interruption comes: its member, or the first of its team."""
    clock = world.interruption_clocks[clock_id]
    team = world.plan.teams[world.plan.interruptions[clock.interrupt].team]
    return clock.member if clock.member != NONE else team.first_member


@part
def last_interrupted(world: World, clock_id: int) -> int:
    """Return the last of those to whom a clock's interruption comes."""
    clock = world.interruption_clocks[clock_id]
    team = world.plan.teams[world.plan.interruptions[clock.interrupt].team]
    return clock.member if clock.member != NONE else team.first_member + team.members - 1


@part
def answer_interruption(world: World, member_id: int, clock_id: int, length: float) -> None:
    """Let a member be interrupted now, or owe it until it is free."""
    case_id = world.members[member_id].case
    if (
        case_id == NONE
        or world.plan.interruptions[world.interruption_clocks[clock_id].interrupt].rule == HandOver.PAUSE
    ):
        be_interrupted(world, member_id, world.clock[0].now + length)
    else:
        owe_interruption(world, member_id, clock_id, length)


@rare
def owe_interruption(world: World, member_id: int, clock_id: int, length: float) -> None:
    """Let a member owe an interruption from now on: of its full length, or until it would have ended."""
    member = world.members[member_id]
    member.owes_interruption = 1
    if world.plan.interruptions[world.interruption_clocks[clock_id].interrupt].rule == HandOver.FINISH:
        member.interruption_length += length
    else:
        member.interruption_until = max(member.interruption_until, world.clock[0].now + length)


@rare
def begin_interruption(world: World, member_id: int) -> bool:
    """Let the interruption that a member owes take it; say no where nothing of it is left."""
    member = world.members[member_id]
    now = world.clock[0].now
    ends = max(now + member.interruption_length, member.interruption_until)
    member.owes_interruption = 0
    member.interruption_length = 0.0
    member.interruption_until = 0.0
    if ends <= now:
        restart_own_clocks(world, member_id)
        return False
    be_interrupted(world, member_id, ends)
    return True


@rare
def be_interrupted(world: World, member_id: int, ends: float) -> None:
    """Let a member be interrupted until a time."""
    member = world.members[member_id]
    member.stamp += 1
    set_state(world, member_id, MemberState.INTERRUPTED)
    note(world, Note.WAS_INTERRUPTED, NONE, NONE, member_id)
    schedule(world, ends, Rank.ROSTER, EventKind.MEMBER_BACK, member_id, member.stamp)


@part
def end_interruption(world: World, member_id: int) -> None:
    """End a member's interruption: the clock that waited for that starts anew."""
    restart_own_clocks(world, member_id)
