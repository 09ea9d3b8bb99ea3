"""Numbers of cases over time: lines and cases inside, by step and by case type."""

import numpy as np

from flowcore.kernel.compiled import small
from flowcore.kernel.records import INSIDE_LEVEL, LINE_LEVEL, World


@small
def change_level(level: np.record, now: float, change: int) -> None:
    """Let a level rise or fall at this instant."""
    level.area += level.now * (now - level.since)
    level.since = now
    level.now += change
    level.highest = max(level.highest, level.now)


@small
def change_line(world: World, case: int, change: int) -> None:
    """A case joins or leaves the line of the step where it is."""
    now = world.clock[0].now
    change_level(world.step_levels[world.cases[case].step, LINE_LEVEL], now, change)
    change_level(world.type_levels[world.cases[case].type, LINE_LEVEL], now, change)


@small
def change_inside_step(world: World, step: int, change: int) -> None:
    """A case comes to a step or leaves it."""
    change_level(world.step_levels[step, INSIDE_LEVEL], world.clock[0].now, change)


@small
def change_inside(world: World, case: int, change: int) -> None:
    """A case comes into the service or leaves it."""
    change_level(world.type_levels[world.cases[case].type, INSIDE_LEVEL], world.clock[0].now, change)
