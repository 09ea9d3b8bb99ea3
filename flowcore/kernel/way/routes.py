"""Which way a case takes, and which of the places at its end."""

import numpy as np

from flowcore.kernel.accounts.minutes import clear_all_minutes
from flowcore.kernel.accounts.rules import rule_holds, waiting_at, waiting_at_place
from flowcore.kernel.clockwork.draws import key_for, uniform
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import PlacePick, StepKind, TravelKind, WayPick
from flowcore.kernel.records.kinds import NONE, DrawFor
from flowcore.kernel.records.world import World
from flowcore.kernel.service.work import walk_minutes


@part
def first_share_above(numbers: object, first: int, count: int, draw: float) -> int:
    """Return which of `count` cumulative shares, from `first` on, a draw falls under."""
    chosen = 0
    while chosen < count - 1 and draw >= numbers[first + chosen]:  # type: ignore[index]
        chosen += 1
    return chosen


@part
def end_of_way(world: World, step: int) -> int:
    """Return the step that a way leads to: one with an escort is itself a step of the plan."""
    return (
        world.plan.links[world.plan.steps[step].first_link].to
        if world.plan.steps[step].travel_kind != TravelKind.NONE
        else step
    )


@part
def is_shorter(world: World, one: int, other: int) -> bool:
    """Say whether fewer wait at one step than at another, or as many and fewer are there."""
    one, other = end_of_way(world, one), end_of_way(world, other)
    waiting, than = waiting_at(world, one), waiting_at(world, other)
    if waiting != than:
        return waiting < than
    return inside_of(world, one) < inside_of(world, other)


@part
def inside_of(world: World, step: int) -> int:
    """Return how many cases wait or are served at a step of the document, at all its places; a batch is one."""
    here = world.plan.steps[step]
    total = 0
    for number in range(here.first_place, here.first_place + here.places):
        total += world.steps[world.plan.lists[number]].here
    return total


@part
def choose_link(world: World, case_id: int) -> int:
    """Return the way on that a case takes from its step."""
    step = world.plan.steps[world.cases[case_id].step]
    if step.links == 1:
        return step.first_link
    if step.pick == WayPick.SHARE:
        return link_by_share(world, case_id)
    return choose_otherwise(world, case_id)


@part
def link_by_share(world: World, case_id: int) -> int:
    """Return a way on drawn by the shares of the case's type."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    draw = uniform(key_for(world, case_id, step.key, DrawFor.WAY), 0)
    return step.first_link + first_share_above(
        world.plan.numbers, step.shares + case.type * step.links, step.links, draw
    )


@rare
def choose_otherwise(world: World, case_id: int) -> int:
    """Return the way on by the shortest line, in turn, or by the first rule that holds."""
    at = world.cases[case_id].step
    step = world.plan.steps[at]
    if step.pick == WayPick.LINE:
        chosen = step.first_link
        for link in range(step.first_link + 1, step.first_link + step.links):
            if is_shorter(world, world.plan.links[link].to, world.plan.links[chosen].to):
                chosen = link
        return chosen
    if step.pick == WayPick.IN_TURN:
        world.steps[at].round_robin += 1
        return step.first_link + (world.steps[at].round_robin - 1) % step.links
    for link in range(step.first_link, step.first_link + step.links):
        rule = world.plan.links[link].rule
        if rule != NONE and rule_holds(world, case_id, rule):
            return link
    return link_by_share(world, case_id)


@part
def at_one_place(world: World, case_id: int, step: int) -> int:
    """Return where a case that is to come to a step comes: the step at the place that it picks."""
    here = world.plan.steps[step]
    if here.places <= 1:
        return step
    return world.plan.lists[here.first_place + pick_place(world, case_id, end_of_way(world, step))]


@rare
def pick_place(world: World, case_id: int, step: int) -> int:
    """Return which of the places of a step a case picks."""
    here = world.plan.steps[step]
    first = here.first_place
    if here.place_pick == PlacePick.SHARE:
        draw = uniform(key_for(world, case_id, here.key, DrawFor.PLACE), 0)
        return first_share_above(world.plan.numbers, here.place_shares, here.places, draw)
    if here.place_pick == PlacePick.IN_TURN:
        world.steps[step].place_round_robin += 1
        return (world.steps[step].place_round_robin - 1) % here.places
    chosen = 0
    for number in range(1, here.places):
        one, other = world.plan.lists[first + number], world.plan.lists[first + chosen]
        if here.place_pick == PlacePick.LINE:
            closer = is_shorter_at(world, one, other)
        else:
            start = world.cases[case_id].place
            closer = walk_minutes(world, start, world.plan.steps[one].place) < walk_minutes(
                world, start, world.plan.steps[other].place
            )
        if closer:
            chosen = number
    return chosen


@part
def is_shorter_at(world: World, one: int, other: int) -> bool:
    """Say whether fewer wait at one place of a step than at another, or as many and fewer are there."""
    waiting, than = waiting_at_place(world, one), waiting_at_place(world, other)
    if waiting != than:
        return waiting < than
    return world.steps[one].here < world.steps[other].here


@part
def choose_route(world: World, case_id: int) -> None:
    """Choose a case's way on from its step, and the place at its end; ways chosen ahead are taken as they are.

    `goal` is the nearest step at which it may have to wait, as far as that decides whether it is blocked.
    """
    case = world.cases[case_id]
    if case.ways_taken == case.ways_chosen:
        case.ways_taken, case.ways_chosen = 0, 0
        if world.plan.steps[case.step].looks_ahead:
            choose_ahead(world, case_id)
    if case.ways_taken < case.ways_chosen:
        column = first_way_column(world) + 2 * case.ways_taken
        case.link = world.memory[case_id, column]
        case.to = world.memory[case_id, column + 1]
        case.ways_taken += 1
        return
    case.link = first_way(world, case_id)
    case.to = end_of_link(world, case_id, case.link)
    case.goal = case.to


@part
def end_of_link(world: World, case_id: int, link: int) -> int:
    """Return the step of the plan to which a case comes along a link; an escort leads to a certain place."""
    to = world.plan.links[link].to
    return (
        to
        if world.plan.steps[world.cases[case_id].step].travel_kind != TravelKind.NONE
        else at_one_place(world, case_id, to)
    )


@part
def first_way_column(world: World) -> int:
    """Return where in a case's memory the ways lie that it has chosen ahead: each a link and its end."""
    run = world.plan.run[0]
    return run.remembered + run.counters + run.awaiting


@rare
def choose_ahead(world: World, case_id: int) -> None:
    """Choose a case's ways through all that takes no time, as far as the nearest step where it may wait.

    A shadow of the case goes ahead: it counts its visits and has its traits set on the way as the case will.
    """
    shadow = world.clock[0].free_case
    stamp = world.cases[shadow].stamp
    world.cases[shadow] = world.cases[case_id]
    copy_row(world.minutes, case_id, shadow)
    copy_row(world.traits_and_marks, case_id, shadow)
    copy_row(world.memory, case_id, shadow)
    ahead = world.cases[shadow]
    case = world.cases[case_id]
    column = first_way_column(world)
    while True:
        link = first_way(world, shadow)
        if link == NONE:
            break
        to = end_of_link(world, shadow, link)
        world.memory[case_id, column + 2 * case.ways_chosen] = link
        world.memory[case_id, column + 2 * case.ways_chosen + 1] = to
        case.ways_chosen += 1
        case.goal = to
        ahead.laps += world.plan.links[link].back
        ahead.step = to
        step = world.plan.steps[to]
        if step.kind != StepKind.CHOOSE and step.kind != StepKind.SET and step.kind != StepKind.FORK:
            break
        pass_in_no_time(world, shadow)
    ahead.stamp = stamp
    ahead.weight = 0
    clear_all_minutes(world, shadow)


@part
def copy_row(table: np.ndarray, origin: int, to: int) -> None:
    """Copy a row of a table of numbers onto another."""
    for column in range(table.shape[1]):
        table[to, column] = table[origin, column]


@part
def first_way(world: World, case_id: int) -> int:
    """Return the way that a case itself takes from its step: of a fork the first that is taken, NONE for none."""
    step = world.plan.steps[world.cases[case_id].step]
    if step.kind != StepKind.FORK:
        return choose_link(world, case_id)
    for link in range(step.first_link, step.first_link + step.links):
        if is_taken(world, case_id, link):
            return link
    return NONE


@part
def is_taken(world: World, case_id: int, link: int) -> bool:
    """Say whether a case that forks takes a way."""
    plan = world.plan.links[link]
    return plan.chance >= 1.0 or uniform(key_for(world, case_id, plan.key, DrawFor.WAY), 0) < plan.chance


@part
def pass_in_no_time(world: World, case_id: int) -> None:
    """Let a case's loop, place, visits and traits be as they are behind a step that takes no time."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.loop != case.loop:
        case.loop = step.loop
        case.laps = 0
    if step.place != NONE:
        case.place = step.place
    if step.visit_counter != NONE:
        world.memory[case_id, world.plan.run[0].remembered + step.visit_counter] += 1
    if step.kind == StepKind.SET:
        set_traits(world, case_id, step.first_start, step.starts)


@rare
def set_traits(world: World, case_id: int, first: int, count: int) -> None:
    """Write traits of a case, as a list of STARTs says."""
    for number in range(first, first + count):
        start = world.plan.starts[number]
        value = start.value
        if start.distribution != NONE:
            key = key_for(world, case_id, start.key, DrawFor.TRAIT)
            value = sample(world.plan.numbers, world.plan.distributions[start.distribution], key)
        if start.add:
            value += world.traits_and_marks[case_id, start.trait]
        world.traits_and_marks[case_id, start.trait] = value


@part
def is_instant(kind: int) -> bool:
    """Say whether a step of this kind takes no time and keeps no visits."""
    return kind == StepKind.CHOOSE or kind == StepKind.FORK or kind == StepKind.SET or kind == StepKind.SCATTER
