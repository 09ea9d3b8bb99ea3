"""Shifts, breaks and interruptions as they come due, and how long teams stay when work is left."""

from flowcore.kernel.absence import (
    be_interrupted,
    become_free,
    call_next_to_break,
    go_off,
    leave_for_break,
)
from flowcore.kernel.causes import settle_cause, touch
from flowcore.kernel.compiled import part
from flowcore.kernel.draws import wear_key
from flowcore.kernel.events import do_next, schedule
from flowcore.kernel.kinds import (
    BREAK_DUE,
    CAME_BACK,
    CLEARS_LINE,
    EMPTIES,
    HAND_OVER,
    INTERRUPTED,
    MEMBER_BACK,
    NEVER,
    NONE,
    NOT_IN_OVERTIME,
    OFF,
    ON_BREAK,
    ON_UNPAID_BREAK,
    ONLY_IN_OVERTIME,
    OPEN,
    OVERTIME_OVER,
    PAUSE,
    RANK_ROSTER,
    SERVE_POOL,
    SHIFT_BEGAN,
    SHUT_BY_HOURS,
    SHUT_BY_OVERTIME,
    SPREAD,
    TAKEN_IN_TURN,
    TOGETHER,
    WAITING,
    WHOLE_TEAM,
    WORKING,
)
from flowcore.kernel.ledger import note
from flowcore.kernel.members import is_absent, set_overtime, set_state
from flowcore.kernel.samples import sample
from flowcore.kernel.state import World
from flowcore.kernel.wear import owe_interruption, wind_up, wind_up_again
from flowcore.kernel.work import hand_back, pause_work, start_work


@part
def start_row(world: World, row: int, since: float, until: float) -> None:
    """Let the members of a roster row come to their shift, and plan their breaks."""
    plan = world.plan.rows[row]
    now = world.clock[0].now
    world.rows[row].on_shift = 1
    world.rows[row].until = until
    end_stay(world, row)
    for member in range(plan.first_member, plan.first_member + plan.members):
        who = world.members[member]
        who.on_shift = 1
        if who.state != OFF:
            who.shift_over = 0
            set_overtime(world, member, 0)
        elif who.late > 0.0:
            who.token += 1
            schedule(world, now + who.late, RANK_ROSTER, MEMBER_BACK, member, who.token)
        else:
            start_shift(world, member)
    for rest in range(plan.first_break, plan.first_break + plan.breaks):
        plan_break(world, rest, since, until)
    settle_overtime_pools(world, plan.team)


@part
def plan_break(world: World, rest: int, since: float, until: float) -> None:
    """Schedule a break of a row's shift: for all, for the first, or for each in a window."""
    clock = world.clock[0]
    plan = world.plan.rests[rest]
    row = world.plan.rows[plan.row]
    begins = since + plan.after
    if plan.at >= 0.0:
        begins = since + (plan.at - (world.plan.run[0].start_minute + since)) % 1440.0
    if begins < clock.now or begins >= until or row.members == 0:
        return
    if plan.taken == SPREAD:
        apart = max(0.0, plan.within - plan.length) / max(1, row.members - 1)
        for number in range(row.members):
            schedule(world, begins + number * apart, RANK_ROSTER, BREAK_DUE, rest, row.first_member + number)
    else:
        schedule(world, begins, RANK_ROSTER, BREAK_DUE, rest, NONE if plan.taken == TOGETHER else row.first_member)


@part
def start_shift(world: World, member: int) -> None:
    """Let a member begin its shift, and go on with the case that it left paused."""
    who = world.members[member]
    who.late = 0.0
    who.break_due = NEVER
    who.stop_due = NEVER
    note(world, SHIFT_BEGAN, NONE, NONE, member)
    if who.case == NONE:
        who.place = world.plan.teams[who.team].place
        become_free(world, member)
    else:
        take_up_again(world, member)


@part
def take_up_again(world: World, member: int) -> None:
    """Let a member who was away go on with its case."""
    case = world.members[member].case
    set_state(world, member, WORKING)
    who = world.cases[case]
    who.absent -= 1
    if who.absent == 0 and who.in_work and who.walking == 0 and who.state == WAITING:
        start_work(world, case)


@part
def end_row(world: World, row: int) -> None:
    """End the shift of a row: its members stay while their team's rule says so, else they leave."""
    plan = world.plan.rows[row]
    here = world.rows[row]
    team = world.plan.teams[plan.team]
    clock = world.clock[0]
    here.on_shift = 0
    for member in range(plan.first_member, plan.first_member + plan.members):
        who = world.members[member]
        who.on_shift = 0
        who.late = 0.0
        who.over_at = clock.now
        if who.state == OFF:
            who.token += 1
        else:
            set_overtime(world, member, 1)
    here.awaited = waiting_for(world, plan.team)
    here.cutoff = clock.turns
    stays = (team.stay == CLEARS_LINE and here.awaited > 0) or (team.stay == EMPTIES and clock.inside > 0)
    if stays and team.stay_at_most > 0.0:
        here.staying = 1
        world.teams[plan.team].staying += 1
        here.token += 1
        if team.stay_at_most < NEVER:
            schedule(world, clock.now + team.stay_at_most, RANK_ROSTER, OVERTIME_OVER, row, here.token)
    else:
        leave_row(world, row)
    settle_overtime_pools(world, plan.team)
    touch(world, plan.team)


@part
def waiting_for(world: World, team: int) -> int:
    """Return how many cases wait for a team, among others, and would be served in overtime."""
    count = 0
    ask = world.teams[team].first_ask
    while ask != NONE:
        pool = world.asks[ask].pool
        if world.plan.pools[pool].overtime != NOT_IN_OVERTIME:
            count += world.pools[pool].waiting
        ask = world.asks[ask].next
    return count


@part
def leave_row(world: World, row: int) -> None:
    """Let all members of a row leave, each by the hand-over rule for the case in hand."""
    plan = world.plan.rows[row]
    for member in range(plan.first_member, plan.first_member + plan.members):
        if world.members[member].state != OFF:
            leave_shift(world, member)


@part
def leave_shift(world: World, member: int) -> None:
    """Let a member leave at the end of its shift."""
    who = world.members[member]
    rule = world.plan.teams[who.team].at_shift_end
    who.shift_over = 1
    if who.case == NONE:
        go_off(world, member)
    elif rule == PAUSE:
        was_away = is_absent(who.state)
        go_off(world, member)
        if not was_away:
            world.cases[who.case].absent += 1
        pause_work(world, who.case)
    elif rule == HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)


@part
def end_stay(world: World, row: int) -> None:
    """Let a row's staying be over."""
    here = world.rows[row]
    if here.staying:
        here.staying = 0
        here.token += 1
        world.teams[world.plan.rows[row].team].staying -= 1


@part
def look_at_stays(world: World, team: int) -> None:
    """Let those rows of a team leave that stayed for cases of which none is left."""
    plan = world.plan.teams[team]
    for row in range(plan.first_row, plan.first_row + plan.rows):
        here = world.rows[row]
        if here.staying == 0:
            continue
        done = here.awaited <= 0 if plan.stay == CLEARS_LINE else world.clock[0].inside == 0
        if done:
            end_stay(world, row)
            stop_staying(world, row)


@part
def stop_staying(world: World, row: int) -> None:
    """Let the members of a row leave who stayed after their shift; none of them is late for the next."""
    plan = world.plan.rows[row]
    end_stay(world, row)
    for member in range(plan.first_member, plan.first_member + plan.members):
        if world.members[member].state != OFF and world.members[member].on_shift == 0:
            world.members[member].over_at = world.clock[0].now
    leave_row(world, row)
    settle_overtime_pools(world, plan.team)


@part
def settle_overtime_pools(world: World, team: int) -> None:
    """Open or close the pools that are served only, or not, while a team is in overtime."""
    for ask in range(len(world.asks)):
        if world.asks[ask].team == team:
            settle_pool(world, world.asks[ask].pool)


@part
def in_overtime(world: World, pool: int) -> bool:
    """Say whether someone whom a pool asks is there and nobody of that team is on regular shift."""
    asks = world.plan.pools[pool]
    for ask in range(asks.first_ask, asks.first_ask + asks.asks):
        team = world.plan.teams[world.asks[ask].team]
        regular = team.rows == 0
        for row in range(team.first_row, team.first_row + team.rows):
            regular = regular or world.rows[row].on_shift == 1
        if not regular and world.teams[world.asks[ask].team].rostered > 0:
            return True
    return False


@part
def settle_pool(world: World, pool: int) -> None:
    """Find whether a pool is open: by its hours, and by what it says of overtime."""
    here = world.pools[pool]
    mode = world.plan.pools[pool].overtime
    closed = OPEN
    if here.shut:
        closed = SHUT_BY_HOURS
    elif (mode == NOT_IN_OVERTIME and in_overtime(world, pool)) or (
        mode == ONLY_IN_OVERTIME and not in_overtime(world, pool)
    ):
        closed = SHUT_BY_OVERTIME
    if closed != here.closed:
        here.closed = closed
        asks = world.plan.pools[pool]
        for ask in range(asks.first_ask, asks.first_ask + asks.asks):
            touch(world, world.asks[ask].team)
        if asks.asks == 0:
            settle_cause(world, pool)
            do_next(world, SERVE_POOL, pool)


@part
def take_break(world: World, rest: int, member: int) -> None:
    """Let one member, or (NONE) the whole row, go on a break that is due."""
    row = world.plan.rows[world.plan.rests[rest].row]
    if member != NONE:
        go_on_break(world, rest, member)
        return
    for each in range(row.first_member, row.first_member + row.members):
        go_on_break(world, rest, each)


@part
def go_on_break(world: World, rest: int, member: int) -> None:
    """Let a member leave for its break now, or owe it until it is free."""
    who = world.members[member]
    plan = world.plan.rests[rest]
    now = world.clock[0].now
    away = who.state == OFF or who.state == ON_BREAK or who.state == ON_UNPAID_BREAK
    if who.on_shift == 0 or away or who.break_due < NEVER:
        if who.on_shift == 1 and plan.taken == TAKEN_IN_TURN:
            who.rest = rest
            call_next_to_break(world, member)
        return
    who.rest = rest
    who.break_due = now
    who.break_length = plan.length
    rule = world.plan.teams[who.team].at_break
    if who.state == INTERRUPTED:
        return
    if who.case == NONE:
        leave_for_break(world, member, now + plan.length)
    elif rule == PAUSE:
        leave_for_break(world, member, now + plan.length)
        world.cases[who.case].absent += 1
        pause_work(world, who.case)
    elif rule == HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)


@part
def come_back(world: World, member: int) -> None:
    """Let a member come back from a break or an interruption, or late to its shift."""
    who = world.members[member]
    if who.state == OFF:
        start_shift(world, member)
        return
    was_on_break = who.state != INTERRUPTED
    note(world, CAME_BACK, NONE, NONE, member)
    if who.case != NONE:
        take_up_again(world, member)
    else:
        become_free(world, member)
    if was_on_break:
        call_next_to_break(world, member)
    else:
        wind_up_again(world, member)


@part
def strike(world: World, wear: int) -> None:
    """Let an interruption that is due strike its member, or all of its team for the same time."""
    clock = world.wear[wear]
    interrupt = world.plan.interrupts[clock.interrupt]
    if interrupt.strikes != WHOLE_TEAM:
        if can_be_struck(world, clock.member):
            owe_interruption(world, clock.member, wear)
            answer_interruption(world, clock.member)
        else:
            wind_up(world, wear, 0.0)
        return
    length = sample(world.plan.numbers, world.plan.distributions[interrupt.length], wear_key(world, wear))
    team = world.plan.teams[interrupt.team]
    for member in range(team.first_member, team.first_member + team.members):
        if can_be_struck(world, member):
            who = world.members[member]
            who.stop_due = world.clock[0].now
            who.stop_length = length
            who.stop_rule = interrupt.rule
            who.first_wear = NONE
            answer_interruption(world, member)
    wind_up(world, wear, length)


@part
def can_be_struck(world: World, member: int) -> bool:
    """Say whether a member is there to be interrupted."""
    return not is_absent(world.members[member].state) and world.members[member].stop_due == NEVER


@part
def answer_interruption(world: World, member: int) -> None:
    """Let a member follow an interruption that it owes: at once, or when its case is finished."""
    who = world.members[member]
    ends = world.clock[0].now + who.stop_length
    if who.case == NONE:
        be_interrupted(world, member, ends)
    elif who.stop_rule == PAUSE:
        be_interrupted(world, member, ends)
        world.cases[who.case].absent += 1
        pause_work(world, who.case)
    elif who.stop_rule == HAND_OVER and who.step == world.cases[who.case].step:
        hand_back(world, who.case)
