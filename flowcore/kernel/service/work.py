"""Work at steps: it begins when all needs are met, may be stopped and resumed, and ends."""

from flowcore.kernel.accounts.deadlines import meet_deadlines
from flowcore.kernel.accounts.minutes import turn_to
from flowcore.kernel.clockwork.draws import key_for
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import TeamKind, TravelKind
from flowcore.kernel.records.kinds import (
    NEVER,
    NONE,
    Account,
    CaseState,
    DrawFor,
    EventKind,
    MemberState,
    Note,
    Rank,
    Stand,
)
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.freeing import be_let_go
from flowcore.kernel.staff.interruptions import count_case
from flowcore.kernel.staff.members import release, remember, set_state
from flowcore.kernel.staff.taking import take_member, take_pool
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.lines import work_distribution
from flowcore.kernel.waiting.own_people import line_for
from flowcore.kernel.waiting.presence import is_absent, is_kept
from flowcore.kernel.waiting.stands import join_line, leave_stand, take_a_stand


@part
def begin(world: World, case_id: int) -> None:
    """Give a case what it needs at its step, all at once, and let the work begin."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.coverable:
        let_kept_cover(world, case_id)
        take_persons(world, case_id)
    pool = world.plan.lines[case.line].pool
    if pool != NONE:
        take_pool(world, case_id, pool)
    if step.met > 0:
        meet_deadlines(world, case_id, step.first_met, step.met)
    case.in_work = 1
    world.clock[0].begun += 1
    case.begun = world.clock[0].begun
    start_work(world, case_id)


@rare
def take_persons(world: World, case_id: int) -> None:
    """Give a case the particular members whom it asks for and does not have."""
    step = world.plan.steps[world.cases[case_id].step]
    for number in range(step.first_need, step.first_need + step.needs):
        slot = world.plan.needs[number].same_as
        if slot == NONE:
            continue
        member_id = world.memory[case_id, slot]
        if member_id != NONE and world.members[member_id].state == MemberState.IDLE:
            take_member(world, case_id, member_id, number)


@rare
def let_kept_cover(world: World, case_id: int) -> None:
    """Let the people whom a case has kept be known by the names of the needs that they meet, and kept as those say."""
    line_for(world, case_id, world.cases[case_id].step)
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        member = world.members[member_id]
        if member.covers != NONE:
            need = world.plan.needs[member.covers]
            if need.slot != NONE:
                member.slot = need.slot
                remember(world, case_id, need.slot, member_id)
            if need.keep_until != NONE:
                member.keep_until = need.keep_until
        member_id = member.next_held


@part
def start_work(world: World, case_id: int) -> None:
    """Let the work on a case begin or go on, unless one of its members is away or still walks to it."""
    case = world.cases[case_id]
    if case.absent > 0 or case.walking > 0:
        cause = cause_of_absence(world, case_id) if case.absent > 0 else Account.BUSY
        turn_to(world, case_id, CaseState.WAITING, cause)
        return
    is_new = case.work_left < 0.0
    if is_new:
        case.work_left = draw_work(world, case_id)
    pace = pace_of(world, case_id)
    if world.clock[0].first_reserving != NONE:
        touch_teams_of_people(world, case_id)
    turn_to(world, case_id, CaseState.AT_WORK, NONE)
    note(world, Note.BEGAN if is_new else Note.RESUMED, case_id, case.step, case.first_held)
    case.stamp += 1
    case.ends_at = world.clock[0].now + case.work_left / pace
    schedule(world, case.ends_at, Rank.WORK, EventKind.END_OF_WORK, case_id, case.stamp)


@rare
def touch_teams_of_people(world: World, case_id: int) -> None:
    """Look again at the teams of a case's people: one who waits may displace it."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        touch(world, world.members[member_id].team)
        member_id = world.members[member_id].next_held


@part
def pace_of(world: World, case_id: int) -> float:
    """Return the pace of the slowest person who works on a case."""
    slowest = NEVER
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        team = world.plan.teams[world.members[member_id].team]
        if team.kind == TeamKind.PEOPLE:
            slowest = min(slowest, team.pace)
        member_id = world.members[member_id].next_held
    return 1.0 if slowest == NEVER else slowest


@part
def draw_work(world: World, case_id: int) -> float:
    """Return how long the work on a case takes here, with the changeover where the case before was different."""
    case = world.cases[case_id]
    step = world.plan.steps[case.step]
    if step.travel_kind == TravelKind.WALKED:
        return walk_minutes(world, case.place, step.place)
    distribution = world.plan.distributions[work_distribution(world, case_id)]
    duration = sample(world.plan.numbers, distribution, key_for(world, case_id, step.key, DrawFor.WORK))
    changes = step.changeover != NONE or step.changeover_cost > 0.0
    if changes and comes_after_another_type(world, case_id):
        world.step_tally[step.document].changeover += step.changeover_cost
        if step.changeover != NONE:
            changeover = world.plan.distributions[step.changeover]
            duration += sample(world.plan.numbers, changeover, key_for(world, case_id, step.key, DrawFor.CHANGEOVER))
    return max(0.0, duration)


@part
def walk_minutes(world: World, start: int, end: int) -> float:
    """Return the minutes of walking between two places, none where one is not known."""
    if start == NONE or end == NONE:
        return 0.0
    run = world.plan.run[0]
    return world.plan.numbers[run.walks + start * run.places + end]


@rare
def comes_after_another_type(world: World, case_id: int) -> bool:
    """Say whether someone who works on a case had a case of another type before."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        before = world.members[member_id].last_type
        if before != NONE and before != world.cases[case_id].type:
            return True
        member_id = world.members[member_id].next_held
    return False


@part
def stop_work(world: World, case_id: int) -> None:
    """Stop the work on a case and keep what is left of it."""
    case = world.cases[case_id]
    case.work_left = (case.ends_at - world.clock[0].now) * pace_of(world, case_id)
    case.stamp += 1


@rare
def arrive_at_case(world: World, member_id: int) -> None:
    """Let a member who walked to its case be there; the last one lets the work begin."""
    member = world.members[member_id]
    case_id = member.case
    case = world.cases[case_id]
    case.walking -= 1
    member.walk_left = 0.0
    set_state(world, member_id, MemberState.WORKING)
    if case.in_work:
        start_work(world, case_id)


@rare
def pause_work(world: World, case_id: int) -> None:
    """Stop the work on a case that one of its members leaves for a while; it keeps the others."""
    case = world.cases[case_id]
    if case.state == CaseState.AT_WORK:
        stop_work(world, case_id)
        note(world, Note.PAUSED_WORK, case_id, case.step, NONE)
    if case.in_work:
        turn_to(world, case_id, CaseState.WAITING, cause_of_absence(world, case_id))


@rare
def cause_of_absence(world: World, case_id: int) -> int:
    """Return why the work on a case is paused, by the first taken of its members who is away."""
    cause = Account.OFF_SHIFT
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        state = world.members[member_id].state
        if state == MemberState.OFF:
            cause = Account.OFF_SHIFT
        elif state == MemberState.ABSENT:
            cause = Account.ABSENCE
        elif state == MemberState.INTERRUPTED:
            cause = Account.INTERRUPTION
        elif is_absent(state):
            cause = Account.BREAK
        member_id = world.members[member_id].next_held
    return cause


@rare
def charge_for_absence(world: World, member_id: int) -> None:
    """Let the case of a member who is away, if it waits for its work to go on, be charged for why that is so now."""
    case_id = world.members[member_id].case
    if case_id != NONE and world.cases[case_id].in_work and world.cases[case_id].state == CaseState.WAITING:
        turn_to(world, case_id, CaseState.WAITING, cause_of_absence(world, case_id))


@rare
def hand_back(world: World, case_id: int) -> None:
    """Stop the work on a case and put it back at the head of its line with what is left.

    A case whose work is done already, and that is only blocked, just lets its people go.
    """
    case = world.cases[case_id]
    if case.in_work == 0:
        let_go_of(world, case_id, world.plan.steps[case.step].document, True)
        if case.stands == Stand.IN_LINE:
            leave_stand(world, case_id)
            take_a_stand(world, case_id)
        return
    if case.state == CaseState.AT_WORK:
        stop_work(world, case_id)
    case.in_work = 0
    note(world, Note.HANDED_BACK, case_id, case.step, NONE)
    turn_to(world, case_id, CaseState.MOVING, NONE)
    member_id = case.first_held
    while member_id != NONE:
        after = world.members[member_id].next_held
        if world.members[member_id].step == case.step:
            release(world, member_id)
            be_let_go(world, member_id)
        member_id = after
    case.line = line_for(world, case_id, case.step)
    join_line(world, case_id, True)


@part
def let_go_of(world: World, case_id: int, kept_by: int, only_people: bool) -> None:
    """Let a case's members go, but for those it keeps beyond a step of the document (NONE: for none)."""
    member_id = world.cases[case_id].first_held
    while member_id != NONE:
        after = world.members[member_id].next_held
        team = world.plan.teams[world.members[member_id].team]
        stays = kept_by != NONE and is_kept(world, member_id, kept_by)
        if not stays and (team.kind == TeamKind.PEOPLE or not only_people):
            release(world, member_id)
            if team.interruptions:
                count_case(world, member_id)
            be_let_go(world, member_id)
        member_id = after
