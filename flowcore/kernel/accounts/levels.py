"""How many stand where, over time: levels, their integrals, and how long each value held."""

import numpy as np

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.ledger import EXACT_BINS, INSIDE_LEVEL, LEAST_OF_WIDE_BINS
from flowcore.kernel.records.world import World

_LEAST = np.array(LEAST_OF_WIDE_BINS, np.int64)


@part
def bin_of(value: int) -> int:
    """Return which bin of the distribution over time a value falls into."""
    if value < EXACT_BINS:
        return value
    return wide_bin_of(value)


@rare
def wide_bin_of(value: int) -> int:
    """Return which of the ever wider bins a value falls into."""
    below, above = 0, len(_LEAST) - 1
    while below < above:
        middle = (below + above + 1) // 2
        if value >= _LEAST[middle]:
            below = middle
        else:
            above = middle - 1
    return EXACT_BINS + below


@part
def book_level(world: World, level: int) -> None:
    """Bring a level's integral up to now."""
    here = world.levels[level]
    elapsed = world.clock[0].now - here.since
    if elapsed > 0.0:
        here.area += here.now * elapsed
        if world.clock[0].is_overtime:
            here.overtime += here.now * elapsed
        world.level_minutes[level, bin_of(here.now)] += elapsed
    here.since = world.clock[0].now


@part
def change_level(world: World, level: int, change: int) -> None:
    """Let a level rise or fall at this instant."""
    book_level(world, level)
    here = world.levels[level]
    here.now += change
    here.highest = max(here.highest, here.now)


@part
def step_level(world: World, step: int, column: int) -> int:
    """Return which level counts the cases at a step of the plan."""
    return 2 * world.plan.steps[step].document + column


@part
def type_level(world: World, case_id: int, column: int) -> int:
    """Return which level counts the cases of a case's type."""
    return world.plan.sections[0].type_levels + 2 * world.cases[case_id].type + column


@part
def room_level(world: World, room: int) -> int:
    """Return which level counts the cases in a shared waiting room."""
    return world.plan.sections[0].room_levels + room


@rare
def book_all_levels(world: World) -> None:
    """Bring all levels up to now: what follows counts as overtime, or no longer does."""
    for level in range(len(world.levels)):
        book_level(world, level)


@part
def change_inside_step(world: World, case_id: int, change: int) -> None:
    """A case, with all who travel with it, comes to its step or leaves it."""
    case = world.cases[case_id]
    change_level(world, step_level(world, case.step, INSIDE_LEVEL), change * case.together)


@part
def change_inside(world: World, case_id: int, change: int) -> None:
    """A case comes into the service or leaves it."""
    change_level(world, type_level(world, case_id, INSIDE_LEVEL), change)
