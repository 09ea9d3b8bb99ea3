"""What is counted while anyone is in overtime: the tallies at its end less those at its beginning."""

from flowcore.kernel.accounts.levels import book_all_levels
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.ledger import Tally
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World


@rare
def change_overtime(world: World, change: int) -> None:
    """Let one more member, or one less, be in overtime; the service is while anyone is, to the end of that instant."""
    clock = world.clock[0]
    clock.in_overtime += change
    if clock.in_overtime > 0 and clock.is_overtime == 0:
        book_all_levels(world)
        clock.is_overtime = 1
        clock.overtime_since = clock.now
        count_in_overtime(world, -1)


@rare
def end_overtime(world: World) -> None:
    """Let the service be in overtime no more: nobody is, and the instant at which the last was is over."""
    clock = world.clock[0]
    book_all_levels(world)
    clock.is_overtime = 0
    clock.overtime_minutes += clock.now - clock.overtime_since
    count_in_overtime(world, 1)


@part
def count_in_overtime(world: World, sign: int) -> None:
    """Add all tallies and minutes as they stand to those of overtime, or take them away."""
    add_tallies(world.steps_in_overtime, world.step_tally, sign)
    add_tallies(world.types_in_overtime, world.type_tally, sign)
    add_tallies(world.streams_in_overtime, world.stream_tally, sign)
    for row in range(len(world.cause_minutes)):
        for account in range(world.cause_minutes.shape[1]):
            world.causes_in_overtime[row, account] += sign * world.cause_minutes[row, account]
    for team in range(len(world.teams)):
        world.teams[team].uses_in_overtime += sign * world.teams[team].uses


@part
def add_tallies(sums: Table[Tally], tallies: Table[Tally], sign: int) -> None:
    """Add tallies to others, or take them away."""
    for row in range(len(tallies)):
        to, tally = sums[row], tallies[row]
        to.arrived += sign * tally.arrived
        to.served += sign * tally.served
        to.completed += sign * tally.completed
        to.abandoned += sign * tally.abandoned
        to.turned_away += sign * tally.turned_away
        to.cost += sign * tally.cost
        to.changeover += sign * tally.changeover
