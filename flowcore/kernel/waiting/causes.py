"""Why cases wait: what is missing for a pool, and whose it is."""

from flowcore.kernel.accounts.minutes import book_pool
from flowcore.kernel.clockwork.agenda import push_back
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import TeamKind, WhenDone
from flowcore.kernel.records.kinds import NONE, Account, Agenda, Closed, Look, MemberState
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.presence import available, idle_for, of_overtime


@part
def touch(world: World, team: int) -> None:
    """Mark a team whose members have changed: whoever waits for it is looked at again at this instant."""
    here = world.teams[team]
    if here.touched == 0:
        here.next_touched = world.clock[0].first_touched
        world.clock[0].first_touched = team
    here.touched = Look.TOUCHED


@part
def touch_where_awaited(world: World, team: int) -> None:
    """Mark a team of which a member is free, unless nobody waits for it, nor stays until others have gone."""
    clock = world.clock[0]
    if is_awaited(world, team) or clock.stalled > 0 or clock.first_reserving != NONE:
        touch(world, team)


@part
def is_awaited(world: World, team: int) -> bool:
    """Say whether someone waits for a team or for one of its members, or some of it stay until others have gone."""
    here = world.teams[team]
    return here.first_incidence != NONE or here.first_attending != NONE or here.staying > 0


@part
def touch_teams_of(world: World, pool: int) -> None:
    """Mark every team that a pool asks; one that asks nobody is looked at by itself."""
    pool_plan = world.plan.pools[pool]
    if pool_plan.incidences == 0:
        push_back(world, Agenda.SERVE_POOL, pool)
    for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
        touch(world, world.incidences[incidence].team)


@part
def needs_can_be_met(world: World, pool: int) -> bool:
    """Say whether everything that a pool asks for is there at once."""
    if world.pools[pool].closed != Closed.OPEN:
        return False
    pool_plan = world.plan.pools[pool]
    if pool_plan.only_team != NONE:
        return available(world, pool_plan.only_team, pool_plan.overtime) >= pool_plan.only_count
    for number in range(pool_plan.first_condition, pool_plan.first_condition + pool_plan.conditions):
        if not condition_holds(world, number, pool_plan.overtime):
            return False
    return True


@rare
def condition_holds(world: World, number: int, overtime: int) -> bool:
    """Say whether so many of a condition's teams are available as it asks for."""
    condition = world.plan.conditions[number]
    there = 0
    for place in range(condition.first_team, condition.first_team + condition.teams):
        there += available(world, world.plan.lists[place], overtime)
    return there >= condition.count


@part
def attribute_wait(world: World, pool: int) -> None:
    """Find what a pool waits for now, and whose team that is."""
    book_pool(world, pool)
    here = world.pools[pool]
    pool_plan = world.plan.pools[pool]
    before = here.cause
    if here.closed != Closed.OPEN:
        here.team = NONE
        here.cause = Account.CLOSED if here.closed == Closed.BY_HOURS else Account.OFF_SHIFT
    elif pool_plan.only_team != NONE:
        here.team = pool_plan.only_team
        here.cause = what_a_team_lacks(world, pool_plan.only_team, pool_plan.overtime, pool_plan.only_count)
    else:
        here.cause = what_is_missing(world, pool)
    here.changes += int(here.cause != before)


@part
def what_a_team_lacks(world: World, team: int, overtime: int, count: int) -> int:
    """Return what those who ask for so many of one team wait for: see `what_is_missing`."""
    if idle_for(world, team, overtime) >= count:
        return Account.BUSY
    if overtime == WhenDone.ALWAYS and nobody_is_away(world, team):
        return Account.BUSY if are_people(world, team) else Account.PLACE
    if there_with(world, team, overtime, MemberState.INTERRUPTED) >= count:
        return Account.INTERRUPTION
    if there_with(world, team, overtime, MemberState.ON_BREAK) >= count:
        return Account.BREAK
    if there_with(world, team, overtime, MemberState.ABSENT) >= count:
        return Account.ABSENCE
    if there_with(world, team, overtime, MemberState.OFF) >= count:
        return Account.OFF_SHIFT
    return Account.BUSY if are_people(world, team) else Account.PLACE


@part
def nobody_is_away(world: World, team: int) -> bool:
    """Say whether all of a team whom the roster has at its fullest are idle or at work."""
    here = world.teams[team]
    return here.interrupted + here.on_break + here.absent == 0 and here.rostered >= world.plan.teams[team].peak


@part
def are_people(world: World, team: int) -> bool:
    """Say whether a team's members are people or equipment, which are busy where places are full."""
    kind = world.plan.teams[team].kind
    return kind == TeamKind.PEOPLE or kind == TeamKind.EQUIPMENT


@rare
def what_is_missing(world: World, pool: int) -> int:
    """Return what an open pool waits for, and note whose team: the first need that lacks, if the absent would suffice.

    Where those who are interrupted would suffice that is the cause, then those on break as well, then those
    who miss their shift, then those whom the roster has at its fullest; only then that all are busy.
    """
    here = world.pools[pool]
    pool_plan = world.plan.pools[pool]
    here.team = world.incidences[pool_plan.first_incidence].team if pool_plan.incidences > 0 else NONE
    lacking = first_lacking(world, pool, MemberState.IDLE, pool_plan.first_condition + pool_plan.conditions)
    if lacking == NONE:
        return Account.BUSY
    here.team = world.plan.lists[world.plan.needs[world.plan.conditions[lacking].last].first_team]
    if first_lacking(world, pool, MemberState.INTERRUPTED, lacking) == NONE:
        return Account.INTERRUPTION
    if first_lacking(world, pool, MemberState.ON_BREAK, lacking) == NONE:
        return Account.BREAK
    if first_lacking(world, pool, MemberState.ABSENT, lacking) == NONE:
        return Account.ABSENCE
    if first_lacking(world, pool, MemberState.OFF, lacking) == NONE:
        return Account.OFF_SHIFT
    return Account.BUSY if are_people(world, here.team) else Account.PLACE


@part
def first_lacking(world: World, pool: int, state: int, until: int) -> int:
    """Return the first condition that does not hold, as far as those for the need of one; NONE where they hold.

    Looked at are those who are idle, and with `state` interrupted, on break, absent or off also the interrupted,
    then those on break, then the absent, then those whom the roster has at its fullest.
    """
    pool_plan = world.plan.pools[pool]
    for number in range(pool_plan.first_condition, pool_plan.first_condition + pool_plan.conditions):
        condition = world.plan.conditions[number]
        if number > until and condition.last != world.plan.conditions[until].last:
            return NONE
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            there += there_with(world, world.plan.lists[place], pool_plan.overtime, state)
        if there < condition.count:
            return number
    return NONE


@part
def there_with(world: World, team: int, overtime: int, state: int) -> int:
    """Return how many of a team are idle, or would be with who is away for a reason; see `first_lacking`."""
    here = world.teams[team]
    there = idle_for(world, team, overtime)
    if state == MemberState.IDLE:
        return there
    there += of_overtime(world, team, overtime, here.interrupted, here.interrupted_in_overtime)
    if state == MemberState.INTERRUPTED:
        return there
    there += of_overtime(world, team, overtime, here.on_break, here.on_break_in_overtime)
    if state == MemberState.ON_BREAK:
        return there
    absent = of_overtime(world, team, overtime, here.absent, 0)
    if state == MemberState.ABSENT:
        return there + absent
    rostered = of_overtime(world, team, overtime, here.rostered, here.rostered_in_overtime)
    return there + max(absent, world.plan.teams[team].peak - rostered)
