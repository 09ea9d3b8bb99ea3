"""The clocks that count down to a member's next interruption: by the clock, by working time, by cases."""

from flowcore.kernel.compiled import part
from flowcore.kernel.draws import wear_key
from flowcore.kernel.events import schedule
from flowcore.kernel.kinds import (
    BY_CASES,
    BY_CLOCK,
    BY_WORKING,
    EACH,
    INTERRUPTION_DUE,
    NONE,
    RANK_ROSTER,
    WHOLE_TEAM,
)
from flowcore.kernel.samples import sample
from flowcore.kernel.state import World


@part
def wind_up(world: World, wear: int, pause: float) -> None:
    """Let a clock start anew, after a pause: so long, or so many cases, until the next interruption."""
    clock = world.wear[wear]
    interrupt = world.plan.interrupts[clock.interrupt]
    left = sample(world.plan.numbers, world.plan.distributions[interrupt.after], wear_key(world, wear))
    clock.left = max(1.0, round(left)) if interrupt.measure == BY_CASES else left
    clock.token += 1
    clock.since = world.clock[0].now
    if interrupt.measure == BY_CLOCK:
        schedule(world, world.clock[0].now + pause + left, RANK_ROSTER, INTERRUPTION_DUE, wear, clock.token)


@part
def wear_of(world: World, member: int, interrupt: int) -> int:
    """Return the clock of one kind of interruption for a member."""
    plan = world.plan.interrupts[interrupt]
    first = world.plan.teams[plan.team].first_member
    return plan.first_wear + (member - first if plan.strikes == EACH else 0)


@part
def change_wear(world: World, member: int, measure: int, begins: bool) -> None:
    """Let the clocks that run while a member works go on or stand still."""
    team = world.plan.teams[world.members[member].team]
    now = world.clock[0].now
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        plan = world.plan.interrupts[number]
        if plan.measure != measure or plan.strikes != EACH:
            continue
        wear = wear_of(world, member, number)
        clock = world.wear[wear]
        clock.token += 1
        if begins:
            clock.since = now
            schedule(world, now + clock.left, RANK_ROSTER, INTERRUPTION_DUE, wear, clock.token)
        else:
            clock.left = max(0.0, clock.left - (now - clock.since))


@part
def team_wears_on(world: World, team: int, working: int) -> None:
    """Let the clocks of the whole team's working time run as fast as members work.

    `working` is 1 where a member has just begun and 0 where one has just ended.
    """
    plan = world.plan.teams[team]
    now = world.clock[0].now
    many = world.teams[team].working
    before = many - 1 if working else many + 1
    for number in range(plan.first_interruption, plan.first_interruption + plan.interruptions):
        interrupt = world.plan.interrupts[number]
        if interrupt.measure != BY_WORKING or interrupt.strikes != WHOLE_TEAM:
            continue
        clock = world.wear[interrupt.first_wear]
        clock.left = max(0.0, clock.left - (now - clock.since) * before)
        clock.since = now
        clock.token += 1
        if many > 0:
            schedule(world, now + clock.left / many, RANK_ROSTER, INTERRUPTION_DUE, interrupt.first_wear, clock.token)


@part
def count_case(world: World, member: int) -> None:
    """Count a case that a member has served; interruptions that come after so many cases come due."""
    team = world.plan.teams[world.members[member].team]
    for number in range(team.first_interruption, team.first_interruption + team.interruptions):
        if world.plan.interrupts[number].measure != BY_CASES:
            continue
        wear = wear_of(world, member, number)
        clock = world.wear[wear]
        clock.left -= 1.0
        if clock.left == 0.0 and world.plan.interrupts[number].strikes == EACH:
            owe_interruption(world, member, wear)
        elif clock.left == 0.0:
            clock.token += 1
            schedule(world, world.clock[0].now, RANK_ROSTER, INTERRUPTION_DUE, wear, clock.token)


@part
def owe_interruption(world: World, member: int, wear: int) -> None:
    """Let a member owe an interruption from now on, of a length that is drawn now."""
    who = world.members[member]
    interrupt = world.plan.interrupts[world.wear[wear].interrupt]
    length = world.plan.distributions[interrupt.length]
    who.stop_due = world.clock[0].now
    who.stop_length = sample(world.plan.numbers, length, wear_key(world, wear))
    who.stop_rule = interrupt.rule
    who.first_wear = wear


@part
def wind_all_up(world: World) -> None:
    """Start every clock of every team."""
    for wear in range(len(world.wear)):
        wind_up(world, wear, 0.0)


@part
def wind_up_again(world: World, member: int) -> None:
    """Start a member's clocks by the clock anew when an interruption of its own is over."""
    who = world.members[member]
    if who.first_wear != NONE:
        wind_up(world, who.first_wear, 0.0)
        who.first_wear = NONE
