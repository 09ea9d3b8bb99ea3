"""Notes for the log, where one is kept."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE
from flowcore.kernel.records.world import World


@part
def note(world: World, kind: int, case_id: int, step: int, member_id: int) -> None:
    """Write a line of the log, where one is kept and the case and the time are asked for."""
    if world.clock[0].tracing:
        write_note(world, kind, case_id, step, member_id)


@rare
def write_note(world: World, kind: int, case_id: int, step: int, member_id: int) -> None:
    """Write a line of the log if the case and the time are asked for."""
    clock = world.clock[0]
    if clock.now < clock.trace_from or clock.now > clock.trace_until:
        return
    number = world.cases[case_id].number if case_id != NONE else 0
    if clock.trace_case > 0 and number != clock.trace_case:
        return
    row = world.notes[clock.notes]
    clock.notes += 1
    row.at = clock.now
    row.case = number
    row.kind = kind
    row.step = world.plan.steps[step].document if step != NONE else NONE
    row.member = member_id
    row.type = world.cases[case_id].type if case_id != NONE else NONE
