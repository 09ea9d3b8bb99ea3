"""Measures of the analyst's own: asked of cases that leave, of visits that end, and of every stretch of time."""

import math

from flowcore.kernel.accounts.minutes import next_aboard
from flowcore.kernel.accounts.rules import rule_holds
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import AboutWhom, LevelOf
from flowcore.kernel.records.kinds import NONE, MemberState
from flowcore.kernel.records.world import World

SAME_INSTANT = 1e-9


@rare
def measure_departure(world: World, case_id: int) -> None:
    """Ask the measures of cases about one that leaves."""
    for number in range(world.plan.run[0].of_visits):
        ask(world, number, case_id)


@rare
def measure_visit(world: World, leader: int) -> None:
    """Ask the measures of visits about a visit that ends, of a case and of each that travels with it."""
    run = world.plan.run[0]
    for number in range(run.of_visits, run.of_time):
        case_id = leader
        while case_id != NONE:
            ask(world, number, case_id)
            case_id = next_aboard(world, leader, case_id)


@part
def ask(world: World, number: int, case_id: int) -> None:
    """Ask a measure's rule about a case, if it is of it."""
    measure = world.plan.measures[number]
    case = world.cases[case_id]
    if measure.whom == AboutWhom.TYPE and case.type != measure.about:
        return
    if measure.whom == AboutWhom.STREAM and case.stream != measure.about:
        return
    if measure.whom == AboutWhom.STEP and world.plan.steps[case.step].document != measure.about:
        return
    here = world.measured[number]
    here.among += 1.0
    if rule_holds(world, case_id, measure.rule):
        here.held += 1.0


@rare
def measure_time(world: World, until: float) -> None:
    """Ask the measures of the time about the stretch since the last look, in which nothing has happened."""
    clock = world.clock[0]
    begin = clock.measured_until
    if until <= begin:
        return
    now = clock.now
    for number in range(world.plan.run[0].of_time, len(world.plan.measures)):
        at = begin
        while at < until:
            end = min(until, next_edge(world, number, at))
            clock.now = (at + end) / 2.0
            ask_of_stretch(world, number, end - at)
            at = end
    clock.now = now
    clock.measured_until = until


@part
def ask_of_stretch(world: World, number: int, length: float) -> None:
    """Ask a measure's rule now, in the midst of a stretch of time in which its answer does not change."""
    measure = world.plan.measures[number]
    here = world.measured[number]
    here.among += length
    if measure.rule == NONE or rule_holds(world, 0, measure.rule):
        level = level_now(world, measure.level_of, measure.level)
        here.held += length
        here.area += level * length
        here.highest = max(here.highest, level)


@part
def next_edge(world: World, number: int, at: float) -> float:
    """Return the next time at which the time of day may change a measure's answer."""
    measure = world.plan.measures[number]
    if measure.edges == 0:
        return math.inf
    minute = (world.plan.run[0].start_minute + at) % 1440.0
    for entry in range(measure.first_edge, measure.first_edge + measure.edges):
        if world.plan.numbers[entry] > minute + SAME_INSTANT:
            return at + world.plan.numbers[entry] - minute
    return at + 1440.0 - minute + world.plan.numbers[measure.first_edge]


@part
def level_now(world: World, level_of: int, level: int) -> float:
    """Return a level: cases at a step or of a type, all cases inside, members of a team present or at work."""
    if level_of == LevelOf.CASES:
        return float(world.levels[level].now)
    if level_of == LevelOf.ALL_INSIDE:
        return float(world.clock[0].inside)
    if level_of != LevelOf.MEMBERS_PRESENT and level_of != LevelOf.MEMBERS_WORKING:
        return 0.0
    team = world.plan.teams[level]
    many = 0
    for member_id in range(team.first_member, team.first_member + team.members):
        state = world.members[member_id].state
        if level_of == LevelOf.MEMBERS_PRESENT:
            many += int(state != MemberState.OFF and state != MemberState.ABSENT)
        else:
            many += int(state == MemberState.WORKING or state == MemberState.WALKING)
    return float(many)
