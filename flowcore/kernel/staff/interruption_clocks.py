"""The clocks that count down to the next interruption: by the clock, by working time, by cases."""

from flowcore.kernel.clockwork.draws import clock_key
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import ClockBy, Whom
from flowcore.kernel.records.kinds import NONE, EventKind, MemberState, Rank
from flowcore.kernel.records.world import World


@rare
def start_all_clocks(world: World) -> None:
    """Start every clock of every team."""
    for clock_id in range(len(world.interruption_clocks)):
        start_clock(world, clock_id, 0.0)


@rare
def start_clock(world: World, clock_id: int, pause: float) -> None:
    """Let a clock start anew, after a pause: so long, or so many cases, until the next interruption."""
    clock = world.interruption_clocks[clock_id]
    interrupt = world.plan.interruptions[clock.interrupt]
    left = sample(world.plan.numbers, world.plan.distributions[interrupt.after], clock_key(world, clock_id))
    clock.left = max(1.0, round(left)) if interrupt.measure == ClockBy.CASES else max(0.0, left)
    clock.stamp += 1
    clock.waits = 0
    clock.since = world.clock[0].now
    if interrupt.measure == ClockBy.CLOCK:
        schedule(
            world, clock.since + pause + clock.left, Rank.ROSTER, EventKind.INTERRUPTION_DUE, clock_id, clock.stamp
        )
    elif interrupt.measure == ClockBy.WORKING:
        run_on(world, clock_id)


@part
def run_on(world: World, clock_id: int) -> None:
    """Schedule when a clock of working time comes due, as fast as it runs now."""
    clock = world.interruption_clocks[clock_id]
    plan = world.plan.interruptions[clock.interrupt]
    speed = world.teams[plan.team].working
    if clock.member != NONE:
        speed = int(world.members[clock.member].state == MemberState.WORKING)
    if speed > 0:
        due = world.clock[0].now + clock.left / speed
        schedule(world, due, Rank.ROSTER, EventKind.INTERRUPTION_DUE, clock_id, clock.stamp)


@part
def clock_of(world: World, member_id: int, interrupt: int) -> int:
    """Return the clock of one kind of interruption for a member."""
    plan = world.plan.interruptions[interrupt]
    first = world.plan.teams[plan.team].first_member
    return plan.first_clock + (member_id - first if plan.comes_to == Whom.EACH else 0)


@rare
def change_working_clocks(world: World, member_id: int, before: int) -> None:
    """Let the clocks of working time run on: `before` of the team worked until now, and this member begins or ends."""
    team = world.plan.teams[world.members[member_id].team]
    now = world.clock[0].now
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        plan = world.plan.interruptions[number]
        if plan.measure != ClockBy.WORKING:
            continue
        clock_id = clock_of(world, member_id, number)
        clock = world.interruption_clocks[clock_id]
        speed = (
            before if plan.comes_to == Whom.WHOLE_TEAM else int(world.members[member_id].state != MemberState.WORKING)
        )
        clock.left = max(0.0, clock.left - (now - clock.since) * speed)
        clock.since = now
        clock.stamp += 1
        run_on(world, clock_id)


@rare
def restart_own_clocks(world: World, member_id: int) -> None:
    """Start anew those of a member's own clocks by the clock that wait for the end of an interruption."""
    team = world.plan.teams[world.members[member_id].team]
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        clock_id = clock_of(world, member_id, number)
        if world.plan.interruptions[number].comes_to == Whom.EACH and world.interruption_clocks[clock_id].waits:
            start_clock(world, clock_id, 0.0)


@part
def draw_interruption_length(world: World, clock_id: int) -> float:
    """Return how long the interruption that is due lasts."""
    interrupt = world.plan.interruptions[world.interruption_clocks[clock_id].interrupt]
    return max(0.0, sample(world.plan.numbers, world.plan.distributions[interrupt.length], clock_key(world, clock_id)))
