"""The way of a case: it arrives, goes from step to step, and leaves."""

from flowcore.kernel.compiled import small
from flowcore.kernel.draws import case_luck, chain, key_for, sample, uniform
from flowcore.kernel.events import schedule
from flowcore.kernel.ledger import write_departure
from flowcore.kernel.levels import change_inside, change_inside_step
from flowcore.kernel.records import (
    ARRIVAL,
    CHOOSE,
    END_OF_TRAVEL,
    EXIT,
    FOR_GAP,
    FOR_TRAVEL,
    FOR_TYPE,
    FOR_WAY,
    NONE,
    RANK_ARRIVAL,
    RANK_WORK,
    World,
)
from flowcore.kernel.work import ask_for_work


@small
def schedule_arrival(world: World, stream: int) -> None:
    """Schedule the next case of a stream a random gap from now."""
    source = world.plan.streams[stream]
    luck = case_luck(world, stream, world.sources[stream].created)
    gap = sample(world.plan.distributions[source.gap], chain(luck, FOR_GAP))
    schedule(world, world.clock[0].now + gap, RANK_ARRIVAL, ARRIVAL, stream)


@small
def first_share_above(shares: object, first: int, count: int, draw: float) -> int:
    """Return which of `count` cumulative shares, from `first` on, a draw falls under."""
    chosen = 0
    while chosen < count - 1 and draw >= shares[first + chosen]:  # type: ignore[index]
        chosen += 1
    return chosen


@small
def create_case(world: World, stream: int) -> int:
    """Bring a stream's next case into being, with its luck and its type."""
    clock = world.clock[0]
    source = world.plan.streams[stream]
    case = clock.free_case
    who = world.cases[case]
    clock.free_case = who.next
    clock.inside += 1
    clock.cases += 1
    who.number = clock.cases
    who.luck = case_luck(world, stream, world.sources[stream].created)
    world.sources[stream].created += 1
    draw = uniform(chain(who.luck, FOR_TYPE), 0)
    who.type = first_share_above(world.plan.mixes, source.mix, len(world.type_tally), draw)
    who.stream = stream
    who.arrived_at = clock.now
    who.waited = 0.0
    who.worked = 0.0
    who.travelled = 0.0
    who.laps = 0
    who.circle = NONE
    who.first_held = NONE
    return case


@small
def arrive(world: World, stream: int) -> int:
    """Let a stream's next case arrive, schedule the one after, and return the case, at its first step."""
    case = create_case(world, stream)
    world.stream_tally[stream].arrived += 1
    world.type_tally[world.cases[case].type].arrived += 1
    change_inside(world, case, 1)
    world.cases[case].step = world.plan.streams[stream].to
    schedule_arrival(world, stream)
    return case


@small
def enter_step(world: World, case: int) -> None:
    """Let a case come to its step; where ways part it goes straight on to the chosen one."""
    who = world.cases[case]
    while True:
        step = world.plan.steps[who.step]
        if step.circle != who.circle:
            who.circle = step.circle
            who.laps = 0
        world.step_tally[who.step].arrived += 1
        if step.kind != CHOOSE:
            break
        world.step_tally[who.step].served += 1
        if follow_link(world, case):
            return
    who.joined_at = world.clock[0].now
    if step.kind == EXIT:
        depart(world, case)
        return
    change_inside_step(world, who.step, 1)
    ask_for_work(world, case, who.step)


@small
def follow_link(world: World, case: int) -> bool:
    """Choose the way on and point the case to its end; say whether it has to travel there."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    chosen = 0
    if step.links > 1:
        draw = uniform(key_for(world, case, step.key, FOR_WAY), 0)
        chosen = first_share_above(world.plan.shares, step.shares + who.type * step.links, step.links, draw)
    link = world.plan.links[step.first_link + chosen]
    travel = 0.0
    if link.travel != NONE:
        duration = world.plan.distributions[link.travel]
        travel = sample(duration, key_for(world, case, link.key, FOR_TRAVEL))
    who.laps += link.back
    who.step = link.to
    if travel <= 0.0:
        return False
    who.travelled += travel
    schedule(world, world.clock[0].now + travel, RANK_WORK, END_OF_TRAVEL, case)
    return True


@small
def depart(world: World, case: int) -> None:
    """Let a case leave the service at its exit, and free its record."""
    clock = world.clock[0]
    who = world.cases[case]
    write_departure(world, case)
    change_inside(world, case, -1)
    tallies = (world.step_tally[who.step], world.type_tally[who.type], world.stream_tally[who.stream])
    gave_up = world.plan.steps[who.step].abandoned
    for tally in tallies:
        tally.completed += 1 - gave_up
        tally.abandoned += gave_up
    clock.inside -= 1
    who.next = clock.free_case
    clock.free_case = case
