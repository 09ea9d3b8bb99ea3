"""Work at steps: it begins when all needs are met, and its end lets others begin."""

from flowcore.kernel.compiled import small
from flowcore.kernel.draws import key_for, sample
from flowcore.kernel.events import schedule
from flowcore.kernel.ledger import write_visit
from flowcore.kernel.levels import change_inside_step
from flowcore.kernel.lines import first_in_pool, join_line, leave_line, turn_of
from flowcore.kernel.members import needs_can_be_met, release_members, take_members
from flowcore.kernel.records import END_OF_WORK, FOR_WORK, NONE, RANK_WORK, World


@small
def begin_work(world: World, case: int) -> None:
    """Begin the work on a case at its step; whoever does it is taken by now."""
    now = world.clock[0].now
    who = world.cases[case]
    step = world.plan.steps[who.step]
    who.began_at = now
    who.waited += now - who.joined_at
    distribution = world.plan.distributions[world.plan.times[step.times + who.type]]
    duration = sample(distribution, key_for(world, case, step.key, FOR_WORK))
    schedule(world, now + duration, RANK_WORK, END_OF_WORK, case)


@small
def ask_for_work(world: World, case: int, step: int) -> None:
    """Begin at once where nobody is needed or the needs can be met, else wait in line."""
    pool = world.plan.steps[step].pool
    if pool != NONE:
        if not needs_can_be_met(world, pool):
            join_line(world, case, step)
            return
        take_members(world, case, pool)
    begin_work(world, case)


@small
def next_to_serve(world: World, freed: int) -> int:
    """Return the step with the earliest case that the freed members can serve, or NONE.

    Only the first lines of the pools that ask for one of the freed teams are looked at.
    """
    chosen = NONE
    earliest = world.clock[0].joined + 1
    asks = world.plan.pools[freed]
    for number in range(asks.first_need, asks.first_need + asks.needs):
        team = world.plan.teams[world.plan.needs[number].team]
        for entry in range(team.first_pool, team.first_pool + team.pools):
            pool = world.plan.team_pools[entry]
            step = first_in_pool(world, pool)
            if step == NONE or turn_of(world, step) >= earliest or not needs_can_be_met(world, pool):
                continue
            chosen = step
            earliest = turn_of(world, step)
    return chosen


@small
def serve_waiting(world: World, freed: int) -> None:
    """Let everyone begin whom the members that a pool's case held can now serve."""
    step = next_to_serve(world, freed)
    while step != NONE:
        case = leave_line(world, step)
        take_members(world, case, world.plan.steps[step].pool)
        begin_work(world, case)
        step = next_to_serve(world, freed)


@small
def end_work(world: World, case: int) -> None:
    """End the work on a case and let its members turn to others."""
    who = world.cases[case]
    who.worked += world.clock[0].now - who.began_at
    write_visit(world, case)
    change_inside_step(world, who.step, -1)
    pool = world.plan.steps[who.step].pool
    if pool != NONE:
        release_members(world, case)
        serve_waiting(world, pool)
