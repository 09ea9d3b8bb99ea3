"""Going on: a case leaves its step, unless it is blocked there, and travels."""

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.agenda import push_back, push_front
from flowcore.kernel.clockwork.draws import key_for
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import unchain
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind, WhenFull
from flowcore.kernel.records.kinds import NONE, Agenda, CaseState, DrawFor, EventKind, Expected, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import someone_may_be_next
from flowcore.kernel.service.work import let_go_of, walk_minutes
from flowcore.kernel.waiting.own_people import line_for
from flowcore.kernel.waiting.presence import is_kept
from flowcore.kernel.waiting.stands import stand_blocked
from flowcore.kernel.way.routes import choose_route, is_instant
from flowcore.kernel.way.visits import end_step, end_visit, is_full


@part
def go_on(world: World, case: int) -> None:
    """Let a case that is done at its step go on, unless it is blocked by a full line."""
    who = world.cases[case]
    if who.link == NONE:
        choose_route(world, case)
    target = world.plan.steps[who.goal]
    if who.expected == 0 and target.kind == StepKind.SERVE and world.plan.lines[target.line].most != NONE:
        line = line_for(world, case, who.goal)
        rules = world.plan.lines[line]
        if rules.when_full == WhenFull.BLOCKS and (is_full(world, case, line) or would_ask_back(world, case, line)):
            if someone_may_be_next(world):
                push_front(world, Agenda.GO_ON, case)
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
        slot = world.plan.needs[number].same_as
        member = NONE if slot == NONE else world.memory[case, slot]
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
    push_back(world, Agenda.LET_IN, room)
    leave_blocked(world, case)


@rare
def leave_blocked(world: World, case: int) -> None:
    """Let a case that was blocked go on its way: from its step, or from outside the doors."""
    who = world.cases[case]
    if who.is_outside:
        who.is_outside = 0
        who.link = NONE
        who.step = who.goal
        push_front(world, Agenda.ENTER, case)
    else:
        push_front(world, Agenda.GO_THROUGH, case)


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
        push_front(world, Agenda.ENTER, case)
        return
    if travel <= 0.0:
        push_back(world, Agenda.ENTER, case)
        return
    note(world, Note.SET_OUT, case, who.step, NONE)
    turn_to(world, case, CaseState.ON_THE_WAY, NONE)
    schedule(world, world.clock[0].now + travel, Rank.WORK, EventKind.END_OF_TRAVEL, case, 0)
