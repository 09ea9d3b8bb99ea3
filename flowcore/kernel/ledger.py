"""What a replication leaves behind: a row per visit to a step and a row per case that left."""

from flowcore.kernel.compiled import small
from flowcore.kernel.records import World


@small
def write_visit(world: World, case: int) -> None:
    """Write down a case's visit to the step where it has just been served."""
    clock = world.clock[0]
    who = world.cases[case]
    world.step_tally[who.step].served += 1
    visit = world.visits[clock.visits]
    clock.visits += 1
    visit.joined_at = who.joined_at
    visit.wait = who.began_at - who.joined_at
    visit.work = clock.now - who.began_at
    visit.step = who.step
    visit.type = who.type
    visit.stream = who.stream


@small
def write_departure(world: World, case: int) -> None:
    """Write down a case's whole way at the exit where it leaves."""
    clock = world.clock[0]
    who = world.cases[case]
    row = world.departures[clock.departures]
    clock.departures += 1
    row.left_at = clock.now
    row.wait = who.waited
    row.work = who.worked
    row.travel = who.travelled
    row.total = clock.now - who.arrived_at
    row.step = who.step
    row.type = who.type
    row.stream = who.stream
