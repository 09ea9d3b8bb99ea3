"""The agenda: what is to be done at this instant, in a ring."""

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.world import World


@part
def do_next(world: World, kind: int, subject: int) -> None:
    """Put something on the agenda of this instant, behind what is there."""
    clock = world.clock[0]
    doing = world.agenda[(clock.first_doing + clock.doings) & (len(world.agenda) - 1)]
    doing.kind = kind
    doing.subject = subject
    clock.doings += 1


@part
def do_first(world: World, kind: int, subject: int) -> None:
    """Put something on the agenda of this instant, before all else."""
    clock = world.clock[0]
    clock.first_doing = (clock.first_doing - 1) & (len(world.agenda) - 1)
    doing = world.agenda[clock.first_doing]
    doing.kind = kind
    doing.subject = subject
    clock.doings += 1
