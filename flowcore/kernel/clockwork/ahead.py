"""What the next events are about, brought near the processor before they happen.

Where there are many steps their records are too many to be at hand. Most events are the end of a case's work: the case
leads to its step, this to its pool, team and way on, and that to the next step. With each event that happens one link
of this chain is followed for each of the next ones, so that all of it is near by the time it is needed.
"""

from flowcore.kernel.clockwork.events import kind_of
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.compiling.tables import fetch
from flowcore.kernel.records.kinds import NONE, EventKind
from flowcore.kernel.records.world import World

MANY_STEPS = 150
_LINKS = 5


@rare
def bring_near(world: World) -> None:
    """Have what is known of the next few events brought near."""
    last = world.clock[0].soon - 1
    for ahead in range(min(_LINKS, last + 1)):
        event = world.soon[last - ahead]
        if kind_of(event.order) == EventKind.END_OF_WORK:
            if ahead == _LINKS - 1:
                fetch(world.cases, event.subject)
                fetch(world.minutes, event.subject)
            elif world.cases[event.subject].stamp == event.stamp:
                bring_link(world, event.subject, ahead)


@part
def bring_link(world: World, case_id: int, ahead: int) -> None:
    """Have brought near what is needed of a case, near itself, whose work ends so many events after the next one."""
    case = world.cases[case_id]
    if ahead == 3:
        fetch(world.plan.steps, case.step)
        fetch(world.steps, case.step)
        if case.first_held != NONE:
            fetch(world.members, case.first_held)
            fetch(world.member_time, case.first_held)
        return
    step = world.plan.steps[case.step]
    if ahead == 2:
        bring_step(world, case.step)
        if step.links > 0:
            fetch(world.plan.links, step.first_link)
            fetch(world.links, step.first_link)
        return
    if ahead == 1 and step.pool != NONE and world.plan.pools[step.pool].only_team != NONE:
        team = world.plan.pools[step.pool].only_team
        fetch(world.plan.teams, team)
        fetch(world.teams, team)
    if step.links > 0:
        to = world.plan.links[step.first_link].to
        if ahead == 1:
            fetch(world.plan.steps, to)
            fetch(world.steps, to)
        else:
            bring_step(world, to)


@part
def bring_step(world: World, number: int) -> None:
    """Have brought near what is counted at a step that is near itself, and its line and pool."""
    step = world.plan.steps[number]
    fetch(world.levels, 2 * step.document)
    fetch(world.levels, 2 * step.document + 1)
    fetch(world.step_tally, step.document)
    fetch(world.cause_minutes, step.document)
    if step.pool != NONE:
        fetch(world.plan.pools, step.pool)
        fetch(world.pools, step.pool)
        fetch(world.plan.lines, step.line)
        fetch(world.lines, step.line)
