"""Work at plain steps: a case asks for one of one team, in the order of a line, and nothing else.

What happens is what happens everywhere, in the same order and with the same bits: only what cannot matter at such a
step for a case that travels by itself is not asked. `Step.is_plain` says which steps are so.
"""

from flowcore.kernel.accounts.minutes import change_waiting, start_waiting, start_working, stop_waiting
from flowcore.kernel.clockwork.draws import key_for
from flowcore.kernel.clockwork.events import roster_goes_on, schedule
from flowcore.kernel.clockwork.notes import note
from flowcore.kernel.clockwork.queues import append, unchain
from flowcore.kernel.clockwork.samples import sample
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import Kept, TeamKind
from flowcore.kernel.records.kinds import NONE, CaseState, Closed, DrawFor, EventKind, MemberState, Note, Rank, Stand
from flowcore.kernel.records.world import World
from flowcore.kernel.service.meeting import someone_may_be_next
from flowcore.kernel.staff.freeing import become_free
from flowcore.kernel.staff.interruptions import count_case
from flowcore.kernel.staff.members import pay, turn_to_work
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.lines import leave_by_rank, rank_of, stand_by_rank
from flowcore.kernel.waiting.pools import join_pool, leave_pool, reposition_line


@part
def is_plain_for(world: World, case_id: int) -> bool:
    """Say whether a case's step is plain, and the case comes to it by itself and with nobody."""
    case = world.cases[case_id]
    return (
        world.plan.steps[case.step].is_plain > 0
        and case.batch == NONE
        and case.first_aboard == NONE
        and case.first_held == NONE
        and case.expected == 0
    )


@part
def ask_plainly(world: World, case_id: int) -> None:
    """Let a case that has come to a plain step begin at once, or wait."""
    case = world.cases[case_id]
    line = world.plan.steps[case.step].line
    case.line = line
    pool = world.plan.lines[line].pool
    is_next = world.clock[0].agenda_length == 0 and world.lines[line].first == NONE
    team = world.plan.pools[pool].only_team
    can_begin = is_next and world.pools[pool].closed == Closed.OPEN and world.teams[team].idle > 0
    if can_begin and not someone_may_be_next(world):
        begin_plainly(world, case_id, team)
        return
    world.clock[0].orders += 1
    world.turns[case_id].order = world.clock[0].orders
    note(world, Note.JOINED_LINE, case_id, case.step, NONE)
    change_waiting(world, case_id, 1)
    if can_begin and begins_at_this_instant(world, case_id):
        world.clock[0].ready = case_id
    else:
        join_plainly(world, case_id)


@part
def begins_at_this_instant(world: World, case_id: int) -> bool:
    """Say whether a case at a plain step has only to let others go first: nothing else happens, its team is there."""
    clock = world.clock[0]
    pool = world.plan.lines[world.cases[case_id].line].pool
    team = world.teams[world.plan.pools[pool].only_team]
    nothing_else = clock.agenda_length == 0 and clock.stalled == 0 and world.plan.run[0].stays == 0
    is_there = team.first_incidence == NONE and team.idle > 0 and world.pools[pool].closed == Closed.OPEN
    return nothing_else and is_there and not roster_goes_on(world)


@part
def begin_when_ready(world: World) -> None:
    """Let the case that was ready begin."""
    clock = world.clock[0]
    case_id = clock.ready
    clock.ready = NONE
    change_waiting(world, case_id, -1)
    begin_plainly(world, case_id, world.plan.pools[world.plan.lines[world.cases[case_id].line].pool].only_team)


@rare
def join_after_all(world: World) -> None:
    """Let the case that was ready wait in its line, where its turn puts it."""
    case_id = world.clock[0].ready
    world.clock[0].ready = NONE
    join_plainly(world, case_id)


@part
def join_plainly(world: World, case_id: int) -> None:
    """Let a case that has its turn wait at a plain step, where its rank puts it."""
    case = world.cases[case_id]
    line = case.line
    here, pool = world.lines[line], world.plan.lines[line].pool
    case.stamp += 1
    world.rooms[world.plan.lines[line].room].length += 1
    world.steps[case.step].waiting += 1
    before = here.first
    if world.plan.lines[line].kept == Kept.CHAIN:
        world.turns[case_id].rank = 0.0
        append(world.turns, here, case_id)
    else:
        world.turns[case_id].rank = rank_of(world, case_id)
        stand_by_rank(world, case_id)
    case.stands = Stand.IN_LINE
    reposition_line(world, line, before)
    join_pool(world, pool)
    start_waiting(world, case_id, pool)
    touch(world, world.plan.pools[pool].only_team)


@part
def call_plainly(world: World, case_id: int) -> None:
    """Let the first who waits at a plain step begin."""
    case = world.cases[case_id]
    line = case.line
    pool = world.plan.lines[line].pool
    if world.plan.lines[line].kept == Kept.CHAIN:
        unchain(world.turns, world.lines[line], case_id)
    else:
        leave_by_rank(world, case_id)
    reposition_line(world, line, case_id)
    leave_pool(world, pool)
    world.rooms[world.plan.lines[line].room].length -= 1
    world.steps[case.step].waiting -= 1
    case.stands = Stand.NOWHERE
    case.stamp += 1
    stop_waiting(world, case_id, pool)
    begin_plainly(world, case_id, world.plan.pools[pool].only_team)


@part
def begin_plainly(world: World, case_id: int, team: int) -> None:
    """Give a case the next member of a team, and let the work begin."""
    clock, case = world.clock[0], world.cases[case_id]
    member_id = world.teams[team].first
    turn_to_work(world, member_id)
    member = world.members[member_id]
    member.walk_left = 0.0
    member.case = case_id
    member.step = case.step
    member.charged_at = clock.now
    member.keep_until = NONE
    member.slot = NONE
    member.next_held = NONE
    case.first_held = member_id
    world.teams[team].uses += 1
    case.in_work = 1
    clock.begun += 1
    case.begun = clock.begun
    is_new = case.work_left < 0.0
    if is_new:
        step = world.plan.steps[case.step]
        distribution = world.plan.distributions[world.plan.lists[step.times + case.type]]
        duration = sample(world.plan.numbers, distribution, key_for(world, case_id, step.key, DrawFor.WORK))
        case.work_left = max(0.0, duration)
    start_working(world, case_id)
    note(world, Note.BEGAN if is_new else Note.RESUMED, case_id, case.step, member_id)
    case.stamp += 1
    pace = world.plan.teams[team].pace if world.plan.teams[team].kind == TeamKind.PEOPLE else 1.0
    case.ends_at = clock.now + case.work_left / pace
    schedule(world, case.ends_at, Rank.WORK, EventKind.END_OF_WORK, case_id, case.stamp)


@part
def can_end_plainly(world: World, case_id: int) -> bool:
    """Say whether a case's visit is to a plain step, and its end is the end of the work of the one whom it holds."""
    case = world.cases[case_id]
    if world.plan.steps[case.step].is_plain == 0 or case.first_aboard != NONE or case.state != CaseState.MOVING:
        return False
    if case.first_held == NONE:
        return False
    member = world.members[case.first_held]
    return member.next_held == NONE and member.keep_until == NONE and member.state == MemberState.WORKING


@part
def let_go_plainly(world: World, case_id: int) -> None:
    """Let the one go who has just worked on a case: see `let_go_of`."""
    case = world.cases[case_id]
    member_id = case.first_held
    pay(world, member_id)
    case.first_held = NONE
    member = world.members[member_id]
    member.last_type = case.type
    member.case = NONE
    if world.plan.teams[member.team].interruptions:
        count_case(world, member_id)
    become_free(world, member_id)
