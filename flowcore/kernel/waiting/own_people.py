"""Whom of its own people a case brings to a step, and the particular ones for whom it asks there."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import NONE, MemberState
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.presence import is_kept, is_off, serves_in


@part
def line_for(world: World, case_id: int, at: int) -> int:
    """Return the line of a case at a step, by how much of each need its own people meet."""
    step = world.plan.steps[at]
    return step.line if step.coverable == 0 else line_beside_own_people(world, case_id, at)


@rare
def line_beside_own_people(world: World, case_id: int, at: int) -> int:
    """Return the line of a case at a step whose needs its own people may meet."""
    step = world.plan.steps[at]
    line = step.line
    let_nobody_cover(world, case_id)
    stride = 1
    for number in range(step.needs):
        if (step.coverable >> number) & 1:
            need = step.first_need + number
            line += stride * (cover_by_person(world, case_id, need) + cover_by_kept(world, case_id, at, need))
            stride *= world.plan.needs[need].most_covered + 1
    return line


@rare
def let_nobody_cover(world: World, case_id: int) -> None:
    """Let none of a case's people meet any need yet; those that are asked for by name are left for that."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        world.members[member_id].covers = NONE
        member_id = world.members[member_id].next_held


@part
def cover_by_person(world: World, case_id: int, need: int) -> int:
    """Let the particular person of a need meet one of it, and say how many that are."""
    slot = world.plan.needs[need].same_as
    if slot == NONE or world.memory[case_id, slot] == NONE:
        return 0
    member_id = world.memory[case_id, slot]
    if is_still_held(world, case_id, member_id):
        world.members[member_id].covers = need
    return 1


@part
def cover_by_kept(world: World, case_id: int, at: int, need: int) -> int:
    """Let those of a case's people who are of a need's teams, and meet none yet, meet it; say how many they are."""
    need_plan = world.plan.needs[need]
    wanted = min(need_plan.count, need_plan.most_covered)
    if need_plan.same_as != NONE and world.memory[case_id, need_plan.same_as] != NONE:
        wanted -= 1
    count = 0
    member_id = world.cases[case_id].first_held
    while member_id != NONE and count < wanted:
        free = world.members[member_id].covers == NONE and is_still_held(world, case_id, member_id)
        if free and is_of_teams(world, member_id, need) and not is_named(world, case_id, at, member_id):
            world.members[member_id].covers = need
            count += 1
        member_id = world.members[member_id].next_held
    return count


@part
def is_still_held(world: World, case_id: int, member_id: int) -> bool:
    """Say whether a case has a member, and keeps it if it is about to leave its step: its way on is chosen then."""
    member = world.members[member_id]
    if member.case != case_id:
        return False
    case = world.cases[case_id]
    return case.link == NONE or is_kept(world, member_id, world.plan.steps[case.step].document)


@part
def is_of_teams(world: World, member_id: int, need: int) -> bool:
    """Say whether a member is of one of a need's teams."""
    need_plan = world.plan.needs[need]
    for place in range(need_plan.first_team, need_plan.first_team + need_plan.teams):
        if world.plan.lists[place] == world.members[member_id].team:
            return True
    return False


@part
def is_named(world: World, case_id: int, at: int, member_id: int) -> bool:
    """Say whether a need of a step asks for this very member."""
    step = world.plan.steps[at]
    for need in range(step.first_need, step.first_need + step.needs):
        slot = world.plan.needs[need].same_as
        if slot != NONE and world.memory[case_id, slot] == member_id:
            return True
    return False


@part
def person_for(world: World, case_id: int, need: int) -> int:
    """Return the particular member whom a case asks for by a need and does not hold yet, or NONE."""
    slot = world.plan.needs[need].same_as
    if slot == NONE:
        return NONE
    member_id = world.memory[case_id, slot]
    return NONE if member_id == NONE or world.members[member_id].case == case_id else member_id


@part
def first_person(world: World, case_id: int, at: int) -> int:
    """Return the first particular person for whom a case asks at a step, or NONE."""
    return first_person_asked_for(world, case_id, at) if world.plan.steps[at].coverable else NONE


@rare
def first_person_asked_for(world: World, case_id: int, at: int) -> int:
    """Return the first particular person for whom a case asks at a step whose needs it may meet by its own, or NONE."""
    step = world.plan.steps[at]
    for need in range(step.first_need, step.first_need + step.needs):
        person = person_for(world, case_id, need)
        if person != NONE:
            return person
    return NONE


@part
def busy_person(world: World, case_id: int, line: int) -> int:
    """Return the first particular member whom a case asks for and who is not free to serve there, or NONE."""
    coverable = world.plan.steps[world.plan.lines[line].step].coverable
    return first_busy_person(world, case_id, line) if coverable else NONE


@rare
def first_busy_person(world: World, case_id: int, line: int) -> int:
    """Return the first particular member whom a case asks for at such a step and who is not free to serve there."""
    step = world.plan.steps[world.plan.lines[line].step]
    pool = world.plan.lines[line].pool
    for need in range(step.first_need, step.first_need + step.needs):
        member_id = person_for(world, case_id, need)
        if member_id == NONE:
            continue
        may_serve = pool == NONE or serves_in(world, member_id, world.plan.pools[pool].overtime)
        if world.members[member_id].state != MemberState.IDLE or not may_serve:
            return member_id
    return NONE


@rare
def asks_for_one_of(world: World, case_id: int, line: int, row: int) -> bool:
    """Say whether a case that waits in a line asks for a particular member of a row."""
    step = world.plan.steps[world.plan.lines[line].step]
    for need in range(step.first_need, step.first_need + step.needs):
        member_id = person_for(world, case_id, need)
        if member_id != NONE and world.members[member_id].row == row:
            return True
    return False


@rare
def asks_for_one_who_is_off(world: World, case_id: int, line: int) -> bool:
    """Say whether a case that waits in a line asks for a particular member who is not there."""
    step = world.plan.steps[world.plan.lines[line].step]
    for need in range(step.first_need, step.first_need + step.needs):
        member_id = person_for(world, case_id, need)
        if member_id != NONE and is_off(world.members[member_id].state):
            return True
    return False
