"""The agenda: what is to be done at this instant, in a ring."""

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.world import World


@part
def push_back(world: World, kind: int, subject: int) -> None:
    """Put something on the agenda of this instant, behind what is there."""
    clock = world.clock[0]
    item = world.agenda[(clock.agenda_start + clock.agenda_length) & (len(world.agenda) - 1)]
    item.kind = kind
    item.subject = subject
    clock.agenda_length += 1


@part
def push_front(world: World, kind: int, subject: int) -> None:
    """Put something on the agenda of this instant, before all else."""
    clock = world.clock[0]
    clock.agenda_start = (clock.agenda_start - 1) & (len(world.agenda) - 1)
    item = world.agenda[clock.agenda_start]
    item.kind = kind
    item.subject = subject
    clock.agenda_length += 1


@part
def is_next(world: World) -> bool:
    """Say whether what would be put on the agenda now is done next: then whoever would put it there just returns it."""
    clock = world.clock[0]
    return clock.agenda_length == 0 and clock.serve_first == 0
