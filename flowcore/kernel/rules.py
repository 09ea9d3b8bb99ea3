"""Rules as byte code: each test sends on to the next one or to the verdict."""

from flowcore.kernel.accounts import visit_wait_of, waited
from flowcore.kernel.compiled import part
from flowcore.kernel.kinds import RULE_HOLDS, Comparison, Fact
from flowcore.kernel.lines import waiting_at
from flowcore.kernel.state import World


@part
def fact_of(world: World, case: int, fact: int, about: int) -> float:
    """Return a fact about a case or the service as a number."""
    clock = world.clock[0]
    who = world.cases[case]
    if fact == Fact.TYPE:
        return float(who.type)
    if fact == Fact.TRAIT:
        return world.extras[case, about]
    if fact == Fact.IN_SYSTEM:
        return clock.now - who.arrived_at
    if fact == Fact.WAITED_HERE:
        return who.last_wait + visit_wait_of(world, case)
    if fact == Fact.WAITED:
        return waited(world, case)
    if fact == Fact.VISITS:
        return float(world.memory[case, world.plan.run[0].names + about])
    if fact == Fact.LINE:
        return float(waiting_at(world, about))
    if fact == Fact.FREE:
        return float(world.teams[about].idle)
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
        for number in range(here.first, here.first + here.many):
            if world.plan.numbers[number] == value:
                return True
    return False


@part
def rule_holds(world: World, case: int, rule: int) -> bool:
    """Say whether the rule that begins at a test holds for a case now."""
    test = rule
    while test >= 0:
        here = world.plan.tests[test]
        test = here.yes if holds(world, test, fact_of(world, case, here.fact, here.about)) else here.no
    return test == RULE_HOLDS
