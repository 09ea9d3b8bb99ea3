"""The clocks that count down to the next interruption: by the clock, by working time, by cases."""

from flowcore.kernel.clockwork.draws import wear_key
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import ClockBy, Whom
from flowcore.kernel.records.kinds import NONE, EventKind, MemberState, Rank
from flowcore.kernel.records.world import World


@rare
def wind_all_up(world: World) -> None:
    """Start every clock of every team."""
    for wear in range(len(world.wear)):
        wind_up(world, wear, 0.0)


@rare
def wind_up(world: World, wear: int, pause: float) -> None:
    """Let a clock start anew, after a pause: so long, or so many cases, until the next interruption."""
    clock = world.wear[wear]
    interrupt = world.plan.interrupts[clock.interrupt]
    left = sample(world.plan.numbers, world.plan.distributions[interrupt.after], wear_key(world, wear))
    clock.left = max(1.0, round(left)) if interrupt.measure == ClockBy.CASES else max(0.0, left)
    clock.token += 1
    clock.waits = 0
    clock.since = world.clock[0].now
    if interrupt.measure == ClockBy.CLOCK:
        schedule(world, clock.since + pause + clock.left, Rank.ROSTER, EventKind.INTERRUPTION_DUE, wear, clock.token)
    elif interrupt.measure == ClockBy.WORKING:
        run_on(world, wear)


@part
def run_on(world: World, wear: int) -> None:
    """Schedule when a clock of working time comes due, as fast as it runs now."""
    clock = world.wear[wear]
    plan = world.plan.interrupts[clock.interrupt]
    speed = world.teams[plan.team].working
    if clock.member != NONE:
        speed = int(world.members[clock.member].state == MemberState.WORKING)
    if speed > 0:
        due = world.clock[0].now + clock.left / speed
        schedule(world, due, Rank.ROSTER, EventKind.INTERRUPTION_DUE, wear, clock.token)


@part
def wear_of(world: World, member: int, interrupt: int) -> int:
    """Return the clock of one kind of interruption for a member."""
    plan = world.plan.interrupts[interrupt]
    first = world.plan.teams[plan.team].first_member
    return plan.first_wear + (member - first if plan.strikes == Whom.EACH else 0)


@rare
def change_working_clocks(world: World, member: int, before: int) -> None:
    """Let the clocks of working time run on: `before` of the team worked until now, and this member begins or ends."""
    team = world.plan.teams[world.members[member].team]
    now = world.clock[0].now
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        plan = world.plan.interrupts[number]
        if plan.measure != ClockBy.WORKING:
            continue
        wear = wear_of(world, member, number)
        clock = world.wear[wear]
        speed = before if plan.strikes == Whom.WHOLE_TEAM else int(world.members[member].state != MemberState.WORKING)
        clock.left = max(0.0, clock.left - (now - clock.since) * speed)
        clock.since = now
        clock.token += 1
        run_on(world, wear)


@rare
def wind_up_again(world: World, member: int) -> None:
    """Start anew those of a member's own clocks by the clock that wait for the end of an interruption."""
    team = world.plan.teams[world.members[member].team]
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        wear = wear_of(world, member, number)
        if world.plan.interrupts[number].strikes == Whom.EACH and world.wear[wear].waits:
            wind_up(world, wear, 0.0)


@part
def length_of(world: World, wear: int) -> float:
    """Return how long the interruption that is due lasts."""
    interrupt = world.plan.interrupts[world.wear[wear].interrupt]
    return max(0.0, sample(world.plan.numbers, world.plan.distributions[interrupt.length], wear_key(world, wear)))
