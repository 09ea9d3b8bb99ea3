"""Going on: a case leaves its step, unless it is blocked there, and travels."""

from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.agenda import is_next, push_back, push_front
from flowcore.kernel.clockwork.draws import key_for
from flowcore.kernel.clockwork.events import schedule_with
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import unchain
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import StepKind, WhenFull
from flowcore.kernel.records.kinds import NONE, Agenda, CaseState, DrawFor, EventKind, Expected, Note, Rank
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import someone_may_be_next
from flowcore.kernel.service.plain import can_end_plainly
from flowcore.kernel.service.work import let_go_of, walk_minutes
from flowcore.kernel.waiting.own_people import line_for
from flowcore.kernel.waiting.presence import is_kept
from flowcore.kernel.waiting.stands import stand_blocked
from flowcore.kernel.way.routes import choose_route, is_instant
from flowcore.kernel.way.visits import end_plainly, end_step, end_visit, is_full


@part
def go_on(world: World, case_id: int) -> int:
    """Let a case that is done at its step go on, unless it is blocked by a full line; return whom to `enter` next."""
    case = world.cases[case_id]
    if case.link == NONE:
        choose_route(world, case_id)
    target = world.plan.steps[case.goal]
    if case.expected == 0 and target.kind == StepKind.SERVE and world.plan.lines[target.line].most != NONE:
        line = line_for(world, case_id, case.goal)
        rules = world.plan.lines[line]
        if rules.when_full == WhenFull.BLOCKS and (
            is_full(world, case_id, line) or would_ask_back(world, case_id, line)
        ):
            if someone_may_be_next(world):
                push_front(world, Agenda.GO_ON, case_id)
                world.clock[0].serve_first = 1
                return NONE
            block(world, case_id, line)
            return NONE
        if rules.when_full == WhenFull.BLOCKS:
            case.expected = Expected.PLACE_KEPT
            world.rooms[rules.room].coming += 1
    return go_through(world, case_id)


@rare
def would_ask_back(world: World, case_id: int, line: int) -> bool:
    """Say whether a case comes to a line without room for one whom it lets go as it leaves its step."""
    rules = world.plan.lines[line]
    step = world.plan.steps[rules.step]
    room = world.rooms[rules.room]
    if step.coverable == 0 or room.length + room.coming < rules.most:
        return False
    left = world.plan.steps[world.cases[case_id].step].document
    for number in range(step.first_need, step.first_need + step.needs):
        slot = world.plan.needs[number].same_as
        member_id = NONE if slot == NONE else world.memory[case_id, slot]
        if member_id != NONE and world.members[member_id].case == case_id and not is_kept(world, member_id, left):
            return True
    return False


@rare
def block(world: World, case_id: int, line: int) -> None:
    """Let a case stay where it is, with its places, and with its people only if the step says so."""
    case = world.cases[case_id]
    note(world, Note.WAS_BLOCKED, case_id, case.step, NONE)
    step = world.plan.steps[case.step]
    if step.keeps_people == 0 and case.is_outside == 0:
        let_go_of(world, case_id, step.document, True)
    stand_blocked(world, case_id, line)


@part
def most_at_goal(world: World, case_id: int) -> int:
    """Return how many have room in the line before which a case is blocked."""
    return world.plan.lines[line_for(world, case_id, world.cases[case_id].goal)].most


@rare
def let_in_blocked(world: World, room: int) -> None:
    """Let the first of those who are blocked before a waiting room go on, where a place is free."""
    here = world.rooms[room]
    if here.length + here.coming >= here.most:
        return
    case_id = here.first
    while case_id != NONE and here.length + here.coming >= most_at_goal(world, case_id):
        case_id = world.turns[case_id].next
    if case_id == NONE:
        return
    unchain(world.turns, here, case_id)
    here.coming += 1
    world.cases[case_id].expected = Expected.PLACE_KEPT
    turn_to(world, case_id, CaseState.MOVING, NONE)
    push_back(world, Agenda.LET_IN, room)
    leave_blocked(world, case_id)


@rare
def leave_blocked(world: World, case_id: int) -> None:
    """Let a case that was blocked go on its way: from its step, or from outside the doors."""
    case = world.cases[case_id]
    if case.is_outside:
        case.is_outside = 0
        case.link = NONE
        case.step = case.goal
        push_front(world, Agenda.ENTER, case_id)
    else:
        push_front(world, Agenda.GO_THROUGH, case_id)


@part
def go_through(world: World, case_id: int) -> int:
    """Let a case leave its step by the way that it has chosen; return whom to `enter` next."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if case.visit_over:
        case.visit_over = 0
    elif can_end_plainly(world, case_id):
        end_plainly(world, case_id)
    elif not is_instant(step.kind):
        end_visit(world, case_id)
    else:
        end_step(world, case_id)
    return follow(world, case_id)


@part
def follow(world: World, case_id: int) -> int:
    """Send a case along its way: it is there at once or after its travel; return it where it is to `enter` next."""
    case = world.cases[case_id]
    link = world.plan.links[case.link]
    travel = 0.0
    if link.walks:
        travel = walk_minutes(world, case.place, world.plan.steps[case.to].place)
    elif link.travel != NONE:
        key = key_for(world, case_id, link.key, DrawFor.TRAVEL)
        travel = max(0.0, sample(world.plan.numbers, world.plan.distributions[link.travel], key))
    state = world.links[case.link]
    state.taken += case.together
    case.laps += link.back
    came_from = case.step
    case.step = case.to
    case.link = NONE
    case.visit_travel = 0.0
    if travel > 0.0:
        state.travel += travel * case.together
        note(world, Note.SET_OUT, case_id, case.step, NONE)
        turn_to(world, case_id, CaseState.ON_THE_WAY, NONE)
        there_at = world.clock[0].now + travel
        schedule_with(world, there_at, Rank.WORK, EventKind.END_OF_TRAVEL, case_id, came_from)
    elif is_next(world):
        return case_id
    elif case.expected == Expected.CALLED:
        push_front(world, Agenda.ENTER, case_id)
    else:
        push_back(world, Agenda.ENTER, case_id)
    return NONE
