"""What is seen of cases and members at the end of an instant, written down where it is another: what a replay draws."""

from flowcore.kernel.clockwork.events import kind_of, listed_event, next_event
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import Discipline
from flowcore.kernel.records.kinds import NEVER, NONE, CaseState, Doing, EventKind, MemberState, Stand
from flowcore.kernel.records.ledger import Seen
from flowcore.kernel.records.world import World


@rare
def watch(world: World) -> bool:
    """Write down who is seen otherwise than at the instant before; say whether there was room for it."""
    clock = world.clock[0]
    while clock.records_seen < len(world.cases) and world.cases[clock.records_seen].stamp != 0:
        clock.records_seen += 1
    if clock.changes + clock.records_seen + len(world.members) >= len(world.changes):
        return False
    for case_id in range(clock.records_seen):
        sketch = world.changes[clock.changes]
        sketch_case(world, case_id, sketch)
        if is_another(sketch, world.seen_cases[case_id]):
            world.seen_cases[case_id] = sketch
            clock.changes += 1
    for member_id in range(len(world.members)):
        sketch = world.changes[clock.changes]
        sketch_member(world, member_id, sketch)
        if is_another(sketch, world.seen_members[member_id]):
            world.seen_members[member_id] = sketch
            clock.changes += 1
    return True


@part
def is_instant_over(world: World) -> bool:
    """Say whether nothing more happens at this instant."""
    clock = world.clock[0]
    return clock.first_touched == NONE and (clock.soon == 0 or next_event(world).time > clock.now)


@part
def is_another(one: Seen, other: Seen) -> bool:
    """Say whether two differ in anything but their time."""
    return (
        one.doing != other.doing
        or one.number != other.number
        or one.step != other.step
        or one.with_ != other.with_
        or one.rank != other.rank
        or one.turn != other.turn
        or one.ends != other.ends
        or one.cause != other.cause
        or one.together != other.together
        or one.came_from != other.came_from
        or one.type != other.type
        or one.token != other.token
    )


@part
def sketch_case(world: World, case_id: int, sketch: Seen) -> None:
    """Write what is seen of a case's record now."""
    case = world.cases[case_id]
    sketch.at = world.clock[0].now
    sketch.who = case_id
    sketch.doing = doing_of(world, case_id)
    sketch.ends = NEVER
    sketch.rank = 0.0
    sketch.turn = 0.0
    sketch.came_from = NONE
    is_there = sketch.doing != Doing.NOTHING
    sketch.number = case.number if is_there else 0
    sketch.step = world.plan.steps[case.step].document if is_there else NONE
    sketch.with_ = case.first_held if is_there else NONE
    sketch.together = case.together if is_there else 0
    sketch.type = case.type if is_there else 0
    sketch.token = case.token_kind if is_there else 0
    sketch.cause = case.cause if is_there and case.state == CaseState.WAITING else NONE
    if sketch.doing == Doing.AT_WORK:
        sketch.ends = case.ends_at
    elif sketch.doing == Doing.ON_THE_WAY:
        sketch_way(world, case_id, sketch)
    elif sketch.doing == Doing.WAITING and case.stands != Stand.NOWHERE:
        sketch_turn(world, case_id, sketch)


@part
def doing_of(world: World, case_id: int) -> int:
    """Return what is seen of what a case does."""
    case = world.cases[case_id]
    if case.state == CaseState.AT_WORK:
        return Doing.AT_WORK
    if case.state == CaseState.ON_THE_WAY:
        return Doing.ON_THE_WAY
    if case.state == CaseState.BLOCKED:
        return Doing.BLOCKED
    if case.state == CaseState.MOVING:
        return Doing.NOTHING if case.leader == NONE else Doing.RIDING
    return Doing.WAITING


@rare
def sketch_way(world: World, case_id: int, sketch: Seen) -> None:
    """Write from where a case comes, and when it will be there: as long as it is on the same way, as it was written."""
    seen = world.seen_cases[case_id]
    if seen.doing == Doing.ON_THE_WAY and seen.number == sketch.number and seen.step == sketch.step:
        sketch.came_from = seen.came_from
        sketch.ends = seen.ends
        return
    clock = world.clock[0]
    for number in range(clock.soon + clock.later):
        event = listed_event(world, number)
        if event.subject == case_id and kind_of(event.order) == EventKind.END_OF_TRAVEL:
            sketch.ends = event.time
            sketch.came_from = world.plan.steps[event.argument].document
            return


@part
def sketch_turn(world: World, case_id: int, sketch: Seen) -> None:
    """Write when it is a waiting case's turn; where the last is first, who was put back at the head goes before."""
    case = world.cases[case_id]
    sketch.rank = world.turns[case_id].rank
    sketch.turn = world.turns[case_id].order
    if case.stands == Stand.AT_SIGNAL:
        sketch.rank = 0.0
    elif world.plan.lines[case.line].discipline == Discipline.LAST_COME:
        sketch.rank = -1.0 if world.turns[case_id].order < 0 else 0.0
        sketch.turn = world.turns[case_id].order if world.turns[case_id].order < 0 else -world.turns[case_id].order


@part
def sketch_member(world: World, member_id: int, sketch: Seen) -> None:
    """Write what is seen of a member now."""
    member = world.members[member_id]
    sketch.at = world.clock[0].now
    sketch.who = -1 - member_id
    sketch.doing = member.state
    sketch.number = member.case
    sketch.step = NONE if member.case == NONE else world.plan.steps[world.cases[member.case].step].document
    sketch.ends = member.walk_ends if member.state == MemberState.WALKING else NEVER
    sketch.rank = 0.0
    sketch.turn = 0.0
    sketch.came_from = NONE
    sketch.with_ = NONE
    sketch.together = 0
    sketch.cause = NONE
    sketch.type = 0
    sketch.token = member.in_overtime
