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
def begin(world: World, case: int) -> None:
    """Give a case what it needs at its step, all at once, and let the work begin."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.coverable:
        let_kept_cover(world, case)
        take_persons(world, case)
    pool = world.plan.lines[who.line].pool
    if pool != NONE:
        take_pool(world, case, pool)
    if step.met > 0:
        meet_deadlines(world, case, step.first_met, step.met)
    who.in_work = 1
    world.clock[0].begun += 1
    who.begun = world.clock[0].begun
    start_work(world, case)


@rare
def take_persons(world: World, case: int) -> None:
    """Give a case the particular members whom it asks for and does not have."""
    step = world.plan.steps[world.cases[case].step]
    for number in range(step.first_need, step.first_need + step.needs):
        slot = world.plan.needs[number].same_as
        if slot == NONE:
            continue
        member = world.memory[case, slot]
        if member != NONE and world.members[member].state == MemberState.IDLE:
            take_member(world, case, member, number)


@rare
def let_kept_cover(world: World, case: int) -> None:
    """Let the people whom a case has kept be known by the names of the needs that they meet, and kept as those say."""
    line_for(world, case, world.cases[case].step)
    member = world.cases[case].first_held
    while member != NONE:
        who = world.members[member]
        if who.covers != NONE:
            need = world.plan.needs[who.covers]
            if need.slot != NONE:
                who.slot = need.slot
                remember(world, case, need.slot, member)
            if need.keep_until != NONE:
                who.keep_until = need.keep_until
        member = who.next_held


@part
def start_work(world: World, case: int) -> None:
    """Let the work on a case begin or go on, unless one of its members is away or still walks to it."""
    who = world.cases[case]
    if who.absent > 0 or who.walking > 0:
        turn_to(world, case, CaseState.WAITING, cause_of_absence(world, case) if who.absent > 0 else Account.BUSY)
        return
    is_new = who.work_left < 0.0
    if is_new:
        who.work_left = draw_work(world, case)
    pace = pace_of(world, case)
    if world.clock[0].first_reserving != NONE:
        touch_teams_of_people(world, case)
    turn_to(world, case, CaseState.AT_WORK, NONE)
    note(world, Note.BEGAN if is_new else Note.RESUMED, case, who.step, who.first_held)
    who.stamp += 1
    who.ends_at = world.clock[0].now + who.work_left / pace
    schedule(world, who.ends_at, Rank.WORK, EventKind.END_OF_WORK, case, who.stamp)


@rare
def touch_teams_of_people(world: World, case: int) -> None:
    """Look again at the teams of a case's people: one who waits may displace it."""
    member = world.cases[case].first_held
    while member != NONE:
        touch(world, world.members[member].team)
        member = world.members[member].next_held


@part
def pace_of(world: World, case: int) -> float:
    """Return the pace of the slowest person who works on a case."""
    slowest = NEVER
    member = world.cases[case].first_held
    while member != NONE:
        team = world.plan.teams[world.members[member].team]
        if team.kind == TeamKind.PEOPLE:
            slowest = min(slowest, team.pace)
        member = world.members[member].next_held
    return 1.0 if slowest == NEVER else slowest


@part
def draw_work(world: World, case: int) -> float:
    """Return how long the work on a case takes here, with the changeover where the case before was different."""
    who = world.cases[case]
    step = world.plan.steps[who.step]
    if step.travel_kind == TravelKind.WALKED:
        return walk_minutes(world, who.place, step.place)
    distribution = world.plan.distributions[work_distribution(world, case)]
    duration = sample(world.plan.numbers, distribution, key_for(world, case, step.key, DrawFor.WORK))
    changes = step.changeover != NONE or step.changeover_cost > 0.0
    if changes and comes_after_another_type(world, case):
        world.step_tally[step.document].changeover += step.changeover_cost
        if step.changeover != NONE:
            changeover = world.plan.distributions[step.changeover]
            duration += sample(world.plan.numbers, changeover, key_for(world, case, step.key, DrawFor.CHANGEOVER))
    return max(0.0, duration)


@part
def walk_minutes(world: World, start: int, end: int) -> float:
    """Return the minutes of walking between two places, none where one is not known."""
    if start == NONE or end == NONE:
        return 0.0
    run = world.plan.run[0]
    return world.plan.numbers[run.walks + start * run.places + end]


@rare
def comes_after_another_type(world: World, case: int) -> bool:
    """Say whether someone who works on a case had a case of another type before."""
    member = world.cases[case].first_held
    while member != NONE:
        before = world.members[member].last_type
        if before != NONE and before != world.cases[case].type:
            return True
        member = world.members[member].next_held
    return False


@part
def stop_work(world: World, case: int) -> None:
    """Stop the work on a case and keep what is left of it."""
    who = world.cases[case]
    who.work_left = (who.ends_at - world.clock[0].now) * pace_of(world, case)
    who.stamp += 1


@rare
def arrive_at_case(world: World, member: int) -> None:
    """Let a member who walked to its case be there; the last one lets the work begin."""
    who = world.members[member]
    case = who.case
    here = world.cases[case]
    here.walking -= 1
    who.walk_left = 0.0
    set_state(world, member, MemberState.WORKING)
    if here.in_work:
        start_work(world, case)


@rare
def pause_work(world: World, case: int) -> None:
    """Stop the work on a case that one of its members leaves for a while; it keeps the others."""
    who = world.cases[case]
    if who.state == CaseState.AT_WORK:
        stop_work(world, case)
        note(world, Note.PAUSED_WORK, case, who.step, NONE)
    if who.in_work:
        turn_to(world, case, CaseState.WAITING, cause_of_absence(world, case))


@rare
def cause_of_absence(world: World, case: int) -> int:
    """Return why the work on a case is paused, by the first taken of its members who is away."""
    cause = Account.OFF_SHIFT
    member = world.cases[case].first_held
    while member != NONE:
        state = world.members[member].state
        if state == MemberState.OFF:
            cause = Account.OFF_SHIFT
        elif state == MemberState.ABSENT:
            cause = Account.ABSENCE
        elif state == MemberState.INTERRUPTED:
            cause = Account.INTERRUPTION
        elif is_absent(state):
            cause = Account.BREAK
        member = world.members[member].next_held
    return cause


@rare
def hand_back(world: World, case: int) -> None:
    """Stop the work on a case and put it back at the head of its line with what is left.

    A case whose work is done already, and that is only blocked, just lets its people go.
    """
    who = world.cases[case]
    if who.in_work == 0:
        let_go_of(world, case, world.plan.steps[who.step].document, True)
        if who.stands == Stand.IN_LINE:
            leave_stand(world, case)
            take_a_stand(world, case)
        return
    if who.state == CaseState.AT_WORK:
        stop_work(world, case)
    who.in_work = 0
    note(world, Note.HANDED_BACK, case, who.step, NONE)
    turn_to(world, case, CaseState.MOVING, NONE)
    member = who.first_held
    while member != NONE:
        after = world.members[member].next_held
        if world.members[member].step == who.step:
            release(world, member)
            be_let_go(world, member)
        member = after
    who.line = line_for(world, case, who.step)
    join_line(world, case, True)


@part
def let_go_of(world: World, case: int, kept_by: int, only_people: bool) -> None:
    """Let a case's members go, but for those it keeps beyond a step of the document (NONE: for none)."""
    member = world.cases[case].first_held
    while member != NONE:
        after = world.members[member].next_held
        team = world.plan.teams[world.members[member].team]
        stays = kept_by != NONE and is_kept(world, member, kept_by)
        if not stays and (team.kind == TeamKind.PEOPLE or not only_people):
            release(world, member)
            if team.interruptions:
                count_case(world, member)
            be_let_go(world, member)
        member = after
