"""Rules as byte code: each test sends on to the next one or to the verdict."""

from flowcore.kernel.accounts.minutes import visit_wait_of, waited
from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import RULE_HOLDS, Comparison, Fact, StepKind
from flowcore.kernel.records.kinds import NONE
from flowcore.kernel.records.world import World


@part
def waiting_at(world: World, step: int) -> int:
    """Return how many wait at a step of the document, at all of its places."""
    here = world.plan.steps[step]
    total = 0
    for number in range(here.first_place, here.first_place + here.places):
        line = world.plan.steps[world.plan.lists[number]].line
        if line == NONE:
            continue
        room = world.plan.lines[line].room
        if here.kind != StepKind.SERVE:
            total += world.lines[line].count
        elif room < world.plan.run[0].rooms:
            return world.rooms[room].length
        else:
            total += world.rooms[room].length
    return total


@part
def waiting_at_place(world: World, step: int) -> int:
    """Return how many wait at one place of a step."""
    here = world.plan.steps[step]
    if here.kind == StepKind.SERVE:
        return world.steps[step].waiting
    return 0 if here.line == NONE else world.lines[here.line].count


@part
def fact_of(world: World, case_id: int, fact: int, about: int) -> float:
    """Return a fact about a case or the service as a number."""
    clock = world.clock[0]
    case = world.cases[case_id]
    if fact == Fact.TYPE:
        return float(case.type)
    if fact == Fact.TRAIT:
        return world.traits_and_marks[case_id, about]
    if fact == Fact.IN_SYSTEM:
        return clock.now - case.arrived_at
    if fact == Fact.WAITED_HERE:
        return case.last_wait + visit_wait_of(world, case_id)
    if fact == Fact.WAITED:
        return waited(world, case_id)
    if fact == Fact.VISITS:
        return float(world.memory[case_id, world.plan.run[0].remembered + about])
    if fact == Fact.LINE:
        return float(waiting_at(world, about))
    if fact == Fact.FREE:
        return float(world.teams[about].idle)
    if fact == Fact.MESSAGE:
        return float(world.memory[case_id, world.memory.shape[1] - 1])
    minute = world.plan.run[0].start_minute + clock.now
    if fact == Fact.TIME_OF_DAY:
        return minute % 1440.0
    return float((int(minute // 1440.0) + world.plan.run[0].first_weekday) % 7)


@part
def holds(world: World, test: int, value: float) -> bool:
    """Say whether a test's comparison holds for a value."""
    here = world.plan.tests[test]
    wanted = world.plan.numbers[here.first]
    if here.is_ == Comparison.EQUAL:
        return value == wanted
    if here.is_ == Comparison.NOT:
        return value != wanted
    if here.is_ == Comparison.UNDER:
        return value < wanted
    if here.is_ == Comparison.AT_MOST:
        return value <= wanted
    if here.is_ == Comparison.OVER:
        return value > wanted
    if here.is_ == Comparison.AT_LEAST:
        return value >= wanted
    if here.is_ == Comparison.IN:
        for number in range(here.first, here.first + here.count):
            if world.plan.numbers[number] == value:
                return True
    return False


@part
def rule_holds(world: World, case_id: int, rule: int) -> bool:
    """Say whether the rule that begins at a test holds for a case now."""
    test = rule
    while test >= 0:
        here = world.plan.tests[test]
        test = here.yes if holds(world, test, fact_of(world, case_id, here.fact, here.about)) else here.no
    return test == RULE_HOLDS
