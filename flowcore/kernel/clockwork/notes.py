"""Notes for the log, where one is kept."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE
from flowcore.kernel.records.world import World


@part
def note(world: World, kind: int, case: int, step: int, member: int) -> None:
    """Write a line of the log, where one is kept and the case and the time are asked for."""
    if world.clock[0].tracing:
        write_note(world, kind, case, step, member)


@rare
def write_note(world: World, kind: int, case: int, step: int, member: int) -> None:
    """Write a line of the log if the case and the time are asked for."""
    clock = world.clock[0]
    if clock.now < clock.trace_from or clock.now > clock.trace_until:
        return
    number = world.cases[case].number if case != NONE else 0
    if clock.trace_case > 0 and number != clock.trace_case:
        return
    row = world.notes[clock.notes]
    clock.notes += 1
    row.at = clock.now
    row.case = number
    row.kind = kind
    row.step = world.plan.steps[step].document if step != NONE else NONE
    row.member = member
    row.type = world.cases[case].type if case != NONE else NONE
