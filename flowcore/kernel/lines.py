"""Waiting lines, and the order in which the lines that ask for the same are served."""

from flowcore.kernel.compiled import small
from flowcore.kernel.levels import change_line
from flowcore.kernel.records import NONE, World


@small
def turn_of(world: World, step: int) -> int:
    """Return the turn of the first case in a step's line."""
    return world.cases[world.lines[step].first].order


@small
def first_in_pool(world: World, pool: int) -> int:
    """Return the step whose line has the pool's next case, or NONE."""
    if world.waiting[pool] == 0:
        return NONE
    return world.places[world.plan.pools[pool].first_place]


@small
def join_line(world: World, case: int, step: int) -> None:
    """Put a case at the end of a step's line."""
    clock = world.clock[0]
    clock.joined += 1
    world.cases[case].order = clock.joined
    world.cases[case].next = NONE
    line = world.lines[step]
    if line.first == NONE:
        line.first = case
        line.last = case
        add_line(world, step)
    else:
        world.cases[line.last].next = case
        line.last = case
    change_line(world, case, 1)


@small
def leave_line(world: World, step: int) -> int:
    """Take the first case out of the line that is first in its pool."""
    line = world.lines[step]
    case = line.first
    line.first = world.cases[case].next
    settle_first_line(world, world.plan.steps[step].pool)
    change_line(world, case, -1)
    return case


@small
def add_line(world: World, step: int) -> None:
    """Enter a line that has its first case among its pool's; it is the latest, so it comes last."""
    pool = world.plan.steps[step].pool
    world.places[world.plan.pools[pool].first_place + world.waiting[pool]] = step
    world.waiting[pool] += 1


@small
def settle_first_line(world: World, pool: int) -> None:
    """Move the pool's first line, whose first case has left, to where it now belongs."""
    base = world.plan.pools[pool].first_place
    step = world.places[base]
    if world.lines[step].first == NONE:
        world.waiting[pool] -= 1
        step = world.places[base + world.waiting[pool]]
    count = world.waiting[pool]
    if count == 0:
        return
    turn = turn_of(world, step)
    place = 0
    below = 1
    while below < count:
        left = turn_of(world, world.places[base + below])
        if below + 1 < count:
            right = turn_of(world, world.places[base + below + 1])
            if right < left:
                below += 1
                left = right
        if turn < left:
            break
        world.places[base + place] = world.places[base + below]
        place = below
        below = 2 * place + 1
    world.places[base + place] = step
