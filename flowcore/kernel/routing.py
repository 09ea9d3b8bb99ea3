"""The way from step to step: which way is taken, whether there is room at its end, and the travel."""

import numpy as np

from flowcore.kernel.accounts import change_inside_step, turn_to
from flowcore.kernel.compiled import part, rare
from flowcore.kernel.deadlines import pass_point
from flowcore.kernel.draws import key_for, uniform
from flowcore.kernel.events import do_first, do_next, schedule
from flowcore.kernel.kinds import (
    NONE,
    Agenda,
    CaseState,
    DrawFor,
    EventKind,
    Expected,
    Note,
    PlacePick,
    Rank,
    StepKind,
    WayPick,
    WhenFull,
)
from flowcore.kernel.ledger import write_visit
from flowcore.kernel.lines import line_for, stand_blocked, waiting_at, waiting_at_place
from flowcore.kernel.members import bring_people, is_kept, pay_all
from flowcore.kernel.notes import note
from flowcore.kernel.queues import unchain
from flowcore.kernel.rules import rule_holds
from flowcore.kernel.samples import sample
from flowcore.kernel.serving import can_begin_at_once, someone_may_be_next
from flowcore.kernel.state import World
from flowcore.kernel.work import let_go_of, walk_minutes


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
    return world.plan.links[world.plan.steps[step].first_link].to if world.plan.steps[step].is_travel > 0 else step


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
def choose_link(world: World, case: int) -> int:
    """Return the way on that a case takes from its step."""
    step = world.plan.steps[world.cases[case].step]
    if step.links == 1:
        return step.first_link
    if step.pick == WayPick.SHARE:
        return link_by_share(world, case)
    return choose_otherwise(world, case)


@part
def link_by_share(world: World, case: int) -> int:
    """Return a way on drawn by the shares of the case's type."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    draw = uniform(key_for(world, case, step.key, DrawFor.WAY), 0)
    return step.first_link + first_share_above(
        world.plan.numbers, step.shares + who.type * step.links, step.links, draw
    )


@rare
def choose_otherwise(world: World, case: int) -> int:
    """Return the way on by the shortest line, in turn, or by the first rule that holds."""
    at = world.cases[case].step
    step = world.plan.steps[at]
    if step.pick == WayPick.LINE:
        chosen = step.first_link
        for link in range(step.first_link + 1, step.first_link + step.links):
            if is_shorter(world, world.plan.links[link].to, world.plan.links[chosen].to):
                chosen = link
        return chosen
    if step.pick == WayPick.IN_TURN:
        world.steps[at].turn += 1
        return step.first_link + (world.steps[at].turn - 1) % step.links
    for link in range(step.first_link, step.first_link + step.links):
        rule = world.plan.links[link].rule
        if rule != NONE and rule_holds(world, case, rule):
            return link
    return link_by_share(world, case)


@part
def at_one_place(world: World, case: int, step: int) -> int:
    """Return where a case that is to come to a step comes: the step at the place that it picks."""
    here = world.plan.steps[step]
    if here.places <= 1:
        return step
    return world.plan.lists[here.first_place + pick_place(world, case, end_of_way(world, step))]


@rare
def pick_place(world: World, case: int, step: int) -> int:
    """Return which of the places of a step a case picks."""
    here = world.plan.steps[step]
    first = here.first_place
    if here.place_pick == PlacePick.SHARE:
        draw = uniform(key_for(world, case, here.key, DrawFor.PLACE), 0)
        return first_share_above(world.plan.numbers, here.place_shares, here.places, draw)
    if here.place_pick == PlacePick.IN_TURN:
        world.steps[step].place_turn += 1
        return (world.steps[step].place_turn - 1) % here.places
    chosen = 0
    for number in range(1, here.places):
        one, other = world.plan.lists[first + number], world.plan.lists[first + chosen]
        if here.place_pick == PlacePick.LINE:
            closer = is_shorter_at(world, one, other)
        else:
            start = world.cases[case].place
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
def is_instant(kind: int) -> bool:
    """Say whether a step of this kind takes no time and keeps no visits."""
    return kind == StepKind.CHOOSE or kind == StepKind.FORK or kind == StepKind.SET or kind == StepKind.SCATTER


@part
def settle_way(world: World, case: int) -> None:
    """Choose a case's way on from its step, and the place at its end; ways chosen ahead are taken as they are.

    `goal` is the nearest step at which it may have to wait, as far as that decides whether it is blocked.
    """
    who = world.cases[case]
    if who.ways_taken == who.ways_chosen:
        who.ways_taken, who.ways_chosen = 0, 0
        if world.plan.steps[who.step].looks_ahead:
            choose_ahead(world, case)
    if who.ways_taken < who.ways_chosen:
        column = first_way_column(world) + 2 * who.ways_taken
        who.link = world.memory[case, column]
        who.to = world.memory[case, column + 1]
        who.ways_taken += 1
        return
    who.link = first_way(world, case)
    who.to = end_of_link(world, case, who.link)
    who.goal = who.to


@part
def end_of_link(world: World, case: int, link: int) -> int:
    """Return the step of the plan to which a case comes along a link; an escort leads to a certain place."""
    to = world.plan.links[link].to
    return to if world.plan.steps[world.cases[case].step].is_travel > 0 else at_one_place(world, case, to)


@part
def first_way_column(world: World) -> int:
    """Return where in a case's memory the ways lie that it has chosen ahead: each a link and its end."""
    run = world.plan.run[0]
    return run.names + run.counters + run.awaiting


@rare
def choose_ahead(world: World, case: int) -> None:
    """Choose a case's ways through all that takes no time, as far as the nearest step where it may wait.

    A shadow of the case goes ahead: it counts its visits and has its traits set on the way as the case will.
    """
    shadow = world.clock[0].free_case
    follower, token = world.cases[shadow].next, world.cases[shadow].token
    world.cases[shadow] = world.cases[case]
    copy_row(world.minutes, case, shadow)
    copy_row(world.extras, case, shadow)
    copy_row(world.memory, case, shadow)
    ahead = world.cases[shadow]
    here = world.cases[case]
    column = first_way_column(world)
    while True:
        link = first_way(world, shadow)
        if link == NONE:
            break
        to = end_of_link(world, shadow, link)
        world.memory[case, column + 2 * here.ways_chosen] = link
        world.memory[case, column + 2 * here.ways_chosen + 1] = to
        here.ways_chosen += 1
        here.goal = to
        ahead.laps += world.plan.links[link].back
        ahead.step = to
        step = world.plan.steps[to]
        if step.kind != StepKind.CHOOSE and step.kind != StepKind.SET and step.kind != StepKind.FORK:
            break
        pass_in_no_time(world, shadow)
    ahead.next = follower
    ahead.token = token
    ahead.weight = 0


@part
def copy_row(table: np.ndarray, origin: int, to: int) -> None:
    """Copy a row of a table of numbers onto another."""
    for column in range(table.shape[1]):
        table[to, column] = table[origin, column]


@part
def first_way(world: World, case: int) -> int:
    """Return the way that a case itself takes from its step: of a fork the first that is taken, NONE for none."""
    step = world.plan.steps[world.cases[case].step]
    if step.kind != StepKind.FORK:
        return choose_link(world, case)
    for link in range(step.first_link, step.first_link + step.links):
        if is_taken(world, case, link):
            return link
    return NONE


@part
def is_taken(world: World, case: int, link: int) -> bool:
    """Say whether a case that forks takes a way."""
    plan = world.plan.links[link]
    return plan.chance >= 1.0 or uniform(key_for(world, case, plan.key, DrawFor.WAY), 0) < plan.chance


@part
def pass_in_no_time(world: World, case: int) -> None:
    """Let a case's loop, place, visits and traits be as they are behind a step that takes no time."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.circle != who.circle:
        who.circle = step.circle
        who.laps = 0
    if step.place != NONE:
        who.place = step.place
    if step.visit_counter != NONE:
        world.memory[case, world.plan.run[0].names + step.visit_counter] += 1
    if step.kind == StepKind.SET:
        set_traits(world, case, step.first_start, step.starts)


@rare
def set_traits(world: World, case: int, first: int, count: int) -> None:
    """Write traits of a case, as a list of STARTs says."""
    for number in range(first, first + count):
        start = world.plan.starts[number]
        value = start.value
        if start.distribution != NONE:
            key = key_for(world, case, start.key, DrawFor.TRAIT)
            value = sample(world.plan.numbers, world.plan.distributions[start.distribution], key)
        if start.add:
            value += world.extras[case, start.trait]
        world.extras[case, start.trait] = value


@part
def is_full(world: World, case: int, line: int) -> bool:
    """Say whether a line has no room for one more, who would have to wait."""
    rules = world.plan.lines[line]
    if rules.most == NONE:
        return False
    room = world.rooms[rules.room]
    return room.length + room.coming >= rules.most and not can_begin_at_once(world, case, line)


@part
def go_on(world: World, case: int) -> None:
    """Let a case that is done at its step go on, unless it is blocked by a full line."""
    who = world.cases[case]
    if who.link == NONE:
        settle_way(world, case)
    target = world.plan.steps[who.goal]
    if who.expected == 0 and target.kind == StepKind.SERVE and world.plan.lines[target.line].most != NONE:
        line = line_for(world, case, who.goal)
        rules = world.plan.lines[line]
        if rules.when_full == WhenFull.BLOCKS and (is_full(world, case, line) or would_ask_back(world, case, line)):
            if someone_may_be_next(world):
                do_first(world, Agenda.GO_ON, case)
                world.clock[0].serve_first = 1
                return
            block(world, case, line)
            return
        if rules.when_full == WhenFull.BLOCKS:
            who.expected = Expected.PLACE_KEPT
            world.rooms[rules.room].coming += 1
    go_through(world, case)


@rare
def would_ask_back(world: World, case: int, line: int) -> bool:
    """Say whether a case comes to a line without room for one whom it lets go as it leaves its step."""
    rules = world.plan.lines[line]
    step = world.plan.steps[rules.step]
    room = world.rooms[rules.room]
    if step.coverable == 0 or room.length + room.coming < rules.most:
        return False
    left = world.plan.steps[world.cases[case].step].document
    for number in range(step.first_need, step.first_need + step.needs):
        name = world.plan.needs[number].same_as
        member = NONE if name == NONE else world.memory[case, name]
        if member != NONE and world.members[member].case == case and not is_kept(world, member, left):
            return True
    return False


@rare
def block(world: World, case: int, line: int) -> None:
    """Let a case stay where it is, with its places, and with its people only if the step says so."""
    who = world.cases[case]
    note(world, Note.WAS_BLOCKED, case, who.step, NONE)
    step = world.plan.steps[who.step]
    if step.keeps_people == 0 and who.is_outside == 0:
        let_go_of(world, case, step.document, True)
    stand_blocked(world, case, line)


@part
def most_at_goal(world: World, case: int) -> int:
    """Return how many have room in the line before which a case is blocked."""
    return world.plan.lines[line_for(world, case, world.cases[case].goal)].most


@rare
def let_in_blocked(world: World, room: int) -> None:
    """Let the first of those who are blocked before a waiting room go on, where a place is free."""
    here = world.rooms[room]
    if here.length + here.coming >= here.most:
        return
    case = here.first
    while case != NONE and here.length + here.coming >= most_at_goal(world, case):
        case = world.cases[case].next
    if case == NONE:
        return
    unchain(world.cases, here, case)
    here.coming += 1
    world.cases[case].expected = Expected.PLACE_KEPT
    turn_to(world, case, CaseState.MOVING, NONE)
    do_next(world, Agenda.LET_IN, room)
    leave_blocked(world, case)


@rare
def leave_blocked(world: World, case: int) -> None:
    """Let a case that was blocked go on its way: from its step, or from outside the doors."""
    who = world.cases[case]
    if who.is_outside:
        who.is_outside = 0
        who.link = NONE
        who.step = who.goal
        do_first(world, Agenda.ENTER, case)
    else:
        do_first(world, Agenda.GO_THROUGH, case)


@part
def go_through(world: World, case: int) -> None:
    """Let a case leave its step by the way that it has chosen."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if who.visit_over:
        who.visit_over = 0
    elif not is_instant(step.kind):
        end_visit(world, case)
    else:
        end_step(world, case)
    follow(world, case)


@part
def end_visit(world: World, case: int) -> None:
    """End a case's visit to its step: it is written down, and its members are free."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if who.state != CaseState.MOVING:
        turn_to(world, case, CaseState.MOVING, NONE)
    note(world, Note.ENDED_WORK, case, who.step, who.first_held)
    if step.is_travel > 0:
        bring_people(world, case, step.place)
    if who.first_held != NONE:
        let_go_of(world, case, step.document, False)
        pay_all(world, case)
    write_visit(world, case)
    if step.is_travel == 0:
        change_inside_step(world, case, -1)
    world.steps[who.step].here -= 1
    end_step(world, case)


@part
def end_step(world: World, case: int) -> None:
    """Raise the signals, and pass the points, that a case's end at its step is for others."""
    step = world.plan.steps[world.cases[case].step]
    for number in range(step.first_raised, step.first_raised + step.raised):
        cleared = world.plan.lists[number]
        clear_signal(world, cleared)
    if step.span_point != NONE:
        pass_point(world, case, 1)


@rare
def clear_signal(world: World, step: int) -> None:
    """Let the cases at a signal go, all or as many as it lets go, before anything else happens."""
    if set_quota(world, step) > 0:
        do_first(world, Agenda.LET_GO, step)


@rare
def set_quota(world: World, step: int) -> int:
    """Say how many of those at a signal go now: this one, and those just before it."""
    here = world.steps[step]
    if here.shut:
        return 0
    lets_go = world.plan.steps[step].lets_go
    waiting = world.lines[world.plan.steps[step].line].count
    here.quota = min(waiting, here.quota + lets_go) if lets_go > 0 else waiting
    return int(here.quota)


@part
def follow(world: World, case: int) -> None:
    """Send a case along its way: it is there at once or after its travel."""
    who = world.cases[case]
    link = world.plan.links[who.link]
    travel = 0.0
    if link.walks:
        travel = walk_minutes(world, who.place, world.plan.steps[who.to].place)
    elif link.travel != NONE:
        key = key_for(world, case, link.key, DrawFor.TRAVEL)
        travel = max(0.0, sample(world.plan.numbers, world.plan.distributions[link.travel], key))
    state = world.links[who.link]
    state.taken += who.together
    state.travel += travel * who.together
    who.laps += link.back
    who.step = who.to
    who.link = NONE
    who.visit_travel = 0.0
    if travel <= 0.0 and who.expected == Expected.CALLED:
        do_first(world, Agenda.ENTER, case)
        return
    if travel <= 0.0:
        do_next(world, Agenda.ENTER, case)
        return
    note(world, Note.SET_OUT, case, who.step, NONE)
    turn_to(world, case, CaseState.ON_THE_WAY, NONE)
    schedule(world, world.clock[0].now + travel, Rank.WORK, EventKind.END_OF_TRAVEL, case, 0)
