"""Which idle members a case takes, one for each of its needs."""

from flowcore.kernel.clockwork.draws import key_for, uniform
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import MemberPick, TravelKind
from flowcore.kernel.records.kinds import NONE, DrawFor, MemberState
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import remember, walk_on
from flowcore.kernel.waiting.presence import available, idle_for, serves_in


@part
def take_pool(world: World, case: int, pool: int) -> None:
    """Give a case all that its pool asks for."""
    pool_plan = world.plan.pools[pool]
    if pool_plan.mixed:
        for position in range(pool_plan.needs):
            world.unmet_needs[position] = world.plan.needs[world.plan.lists[pool_plan.first_need + position]].count
    for position in range(pool_plan.needs):
        need = world.plan.lists[pool_plan.first_need + position]
        for _ in range(world.plan.needs[need].count):
            team = choose_team(world, pool, position)
            take_member(world, case, first_idle(world, case, team, pool_plan.overtime), need)
            if pool_plan.mixed:
                world.unmet_needs[position] -= 1


@part
def choose_team(world: World, pool: int, position: int) -> int:
    """Return the preferred team for one more member of a pool's need that leaves enough for the others."""
    pool_plan = world.plan.pools[pool]
    if pool_plan.only_team != NONE:
        return int(pool_plan.only_team)
    need_plan = world.plan.needs[world.plan.lists[pool_plan.first_need + position]]
    for place in range(need_plan.first_team, need_plan.first_team + need_plan.teams):
        team = world.plan.lists[place]
        if available(world, team, pool_plan.overtime) > 0 and (
            pool_plan.mixed == 0 or leaves_enough(world, pool, position, team)
        ):
            return team
    return NONE


@rare
def leaves_enough(world: World, pool: int, position: int, team: int) -> bool:
    """Say whether what is still to be taken can be had once a team has given one for a need.

    `World.unmet_needs` has how many each need of the pool still lacks.
    """
    pool_plan = world.plan.pools[pool]
    for number in range(pool_plan.first_condition, pool_plan.first_condition + pool_plan.conditions):
        condition = world.plan.conditions[number]
        there = 0
        for place in range(condition.first_team, condition.first_team + condition.teams):
            other = world.plan.lists[place]
            there += available(world, other, pool_plan.overtime) - int(other == team)
        lacking = 0
        for other_need in range(pool_plan.needs):
            if (condition.mask >> other_need) & 1:
                lacking += world.unmet_needs[other_need] - int(other_need == position)
        if there < lacking:
            return False
    return True


@part
def first_idle(world: World, case: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next of those who may do what is asked."""
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if all_may and world.plan.teams[team].picks != MemberPick.RANDOM:
        return world.teams[team].first
    return first_who_may(world, case, team, overtime)


@rare
def first_who_may(world: World, case: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next where some may not, or one is picked at random."""
    picks = world.plan.teams[team].picks
    skip = 0
    if picks == MemberPick.RANDOM:
        key = key_for(world, case, world.plan.steps[world.cases[case].step].key, DrawFor.MEMBER)
        skip = int(uniform(key, team) * idle_for(world, team, overtime))
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if not all_may and (picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED):
        return first_of_team(world, team, overtime)
    member = world.teams[team].first
    while skip > 0 or not serves_in(world, member, overtime):
        skip -= int(serves_in(world, member, overtime))
        member = world.members[member].next
    return member


@rare
def first_of_team(world: World, team: int, overtime: int) -> int:
    """Return the first by rank of a team's idle members who may do what is asked, looking at all."""
    plan = world.plan.teams[team]
    chosen = NONE
    for member in range(plan.first_member, plan.first_member + plan.members):
        who = world.members[member]
        may = who.state == MemberState.IDLE and serves_in(world, member, overtime)
        if may and (chosen == NONE or who.rank < world.members[chosen].rank):
            chosen = member
    return chosen


@part
def take_member(world: World, case: int, member: int, need: int) -> None:
    """Give a member to a case; one that has to walk comes to the case first."""
    who = world.members[member]
    need_plan = world.plan.needs[need]
    here = world.cases[case]
    team = world.plan.teams[who.team]
    step = world.plan.steps[here.step]
    place = here.place if step.travel_kind != TravelKind.NONE else step.place
    walk = 0.0
    if team.walks and place != NONE and who.place != NONE and who.place != place:
        run = world.plan.run[0]
        walk = world.plan.numbers[run.walks + who.place * run.places + place]
    who.walk_left = walk
    here.walking += int(walk > 0.0)
    walk_on(world, member)
    if place != NONE:
        who.place = place
    who.case = case
    who.step = here.step
    who.charged_at = world.clock[0].now
    who.keep_until = need_plan.keep_until
    who.slot = need_plan.slot
    who.next_held = here.first_held
    here.first_held = member
    if need_plan.slot != NONE:
        remember(world, case, need_plan.slot, member)
    world.teams[who.team].uses += 1
