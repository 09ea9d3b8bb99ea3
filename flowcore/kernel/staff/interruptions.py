"""An interruption, from its coming due to its end."""

from flowcore.kernel.clockwork.agenda import do_first
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import ClockBy, HandOver, Whom
from flowcore.kernel.records.kinds import NONE, Agenda, EventKind, MemberState, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.interruption_clocks import length_of, wear_of, wind_up, wind_up_again
from flowcore.kernel.staff.members import set_state
from flowcore.kernel.waiting.presence import is_absent


@rare
def count_case(world: World, member: int) -> None:
    """Count a case that a member has served; interruptions that come after so many cases come due."""
    team = world.plan.teams[world.members[member].team]
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        if world.plan.interrupts[number].measure != ClockBy.CASES:
            continue
        wear = wear_of(world, member, number)
        clock = world.wear[wear]
        clock.left -= 1.0
        if clock.left == 0.0 and world.plan.interrupts[number].strikes == Whom.EACH:
            owe_interruption(world, member, wear, length_of(world, wear))
            wind_up(world, wear, 0.0)
        elif clock.left == 0.0:
            do_first(world, Agenda.INTERRUPT, wear)


@part
def interruption_due(world: World, wear: int) -> float:
    """Return how long the interruption lasts that is due, the same for all of a team; below 0 where it finds nobody.

    Whoever is away is not interrupted. A clock by the clock waits until the interruption is over; the others go on.
    """
    clock = world.wear[wear]
    interrupt = world.plan.interrupts[clock.interrupt]
    if interrupt.strikes == Whom.EACH and is_absent(world.members[clock.member].state):
        wind_up(world, wear, 0.0)
        return -1.0
    length = length_of(world, wear)
    if interrupt.strikes == Whom.EACH and interrupt.measure == ClockBy.CLOCK:
        clock.waits = 1
    else:
        wind_up(world, wear, length)
    return length


@part
def first_interrupted(world: World, wear: int) -> int:
    """Return the first of those to whom a clock's interruption comes: its member, or the first of its team."""
    clock = world.wear[wear]
    team = world.plan.teams[world.plan.interrupts[clock.interrupt].team]
    return clock.member if clock.member != NONE else team.first_member


@part
def last_interrupted(world: World, wear: int) -> int:
    """Return the last of those to whom a clock's interruption comes."""
    clock = world.wear[wear]
    team = world.plan.teams[world.plan.interrupts[clock.interrupt].team]
    return clock.member if clock.member != NONE else team.first_member + team.members - 1


@part
def answer_interruption(world: World, member: int, wear: int, length: float) -> None:
    """Let a member be interrupted now, or owe it until it is free."""
    case = world.members[member].case
    if case == NONE or world.plan.interrupts[world.wear[wear].interrupt].rule == HandOver.PAUSE:
        be_interrupted(world, member, world.clock[0].now + length)
    else:
        owe_interruption(world, member, wear, length)


@rare
def owe_interruption(world: World, member: int, wear: int, length: float) -> None:
    """Let a member owe an interruption from now on: of its full length, or until it would have ended."""
    who = world.members[member]
    who.owes_interruption = 1
    if world.plan.interrupts[world.wear[wear].interrupt].rule == HandOver.FINISH:
        who.stop_length += length
    else:
        who.stop_until = max(who.stop_until, world.clock[0].now + length)


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
