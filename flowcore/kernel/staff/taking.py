"""Which idle members a case takes, one for each of its needs."""

from flowcore.kernel.clockwork.draws import key_for, uniform
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import MemberPick, TravelKind
from flowcore.kernel.records.kinds import NONE, DrawFor, MemberState
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import remember, walk_on
from flowcore.kernel.waiting.presence import available, idle_for, serves_in


@part
def take_pool(world: World, case_id: int, pool: int) -> None:
    """Give a case all that its pool asks for."""
    pool_plan = world.plan.pools[pool]
    if pool_plan.only_team != NONE:
        need = world.plan.lists[pool_plan.first_need]
        for _ in range(pool_plan.only_count):
            take_member(world, case_id, first_idle(world, case_id, pool_plan.only_team, pool_plan.overtime), need)
    else:
        take_of_teams(world, case_id, pool)


@part
def take_of_teams(world: World, case_id: int, pool: int) -> None:
    """Give a case all that a pool asks for that has several needs, or teams to choose from."""
    pool_plan = world.plan.pools[pool]
    if pool_plan.mixed:
        for position in range(pool_plan.needs):
            world.unmet_needs[position] = world.plan.needs[world.plan.lists[pool_plan.first_need + position]].count
    for position in range(pool_plan.needs):
        need = world.plan.lists[pool_plan.first_need + position]
        for _ in range(world.plan.needs[need].count):
            team = choose_team(world, pool, position)
            take_member(world, case_id, first_idle(world, case_id, team, pool_plan.overtime), need)
            if pool_plan.mixed:
                world.unmet_needs[position] -= 1


@part
def choose_team(world: World, pool: int, position: int) -> int:
    """Return the preferred team for one more member of a pool's need that leaves enough for the others."""
    pool_plan = world.plan.pools[pool]
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
def first_idle(world: World, case_id: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next of those who may do what is asked."""
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if all_may and world.plan.teams[team].picks != MemberPick.RANDOM:
        return world.teams[team].first
    return first_who_may(world, case_id, team, overtime)


@rare
def first_who_may(world: World, case_id: int, team: int, overtime: int) -> int:
    """Return the idle member of a team who is picked next where some may not, or one is picked at random."""
    picks = world.plan.teams[team].picks
    skip = 0
    if picks == MemberPick.RANDOM:
        key = key_for(world, case_id, world.plan.steps[world.cases[case_id].step].key, DrawFor.MEMBER)
        skip = int(uniform(key, team) * idle_for(world, team, overtime))
    all_may = idle_for(world, team, overtime) == world.teams[team].idle
    if not all_may and (picks == MemberPick.LEAST_USED or picks == MemberPick.LISTED):
        return first_of_team(world, team, overtime)
    member_id = world.teams[team].first
    while skip > 0 or not serves_in(world, member_id, overtime):
        skip -= int(serves_in(world, member_id, overtime))
        member_id = world.members[member_id].next
    return member_id


@rare
def first_of_team(world: World, team: int, overtime: int) -> int:
    """Return the first by rank of a team's idle members who may do what is asked, looking at all."""
    plan = world.plan.teams[team]
    chosen = NONE
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        member = world.members[member_id]
        may = member.state == MemberState.IDLE and serves_in(world, member_id, overtime)
        if may and (chosen == NONE or member.rank < world.members[chosen].rank):
            chosen = member_id
    return chosen


@part
def take_member(world: World, case_id: int, member_id: int, need: int) -> None:
    """Give a member to a case; one that has to walk comes to the case first."""
    member = world.members[member_id]
    need_plan = world.plan.needs[need]
    case = world.cases[case_id]
    team = world.plan.teams[member.team]
    step = world.plan.steps[case.step]
    place = case.place if step.travel_kind != TravelKind.NONE else step.place
    walk = 0.0
    if team.walks and place != NONE and member.place != NONE and member.place != place:
        run = world.plan.run[0]
        walk = world.plan.numbers[run.walks + member.place * run.places + place]
    member.walk_left = walk
    case.walking += int(walk > 0.0)
    walk_on(world, member_id)
    if place != NONE:
        member.place = place
    member.case = case_id
    member.step = case.step
    member.charged_at = world.clock[0].now
    member.keep_until = need_plan.keep_until
    member.slot = need_plan.slot
    member.next_held = case.first_held
    case.first_held = member_id
    if need_plan.slot != NONE:
        remember(world, case_id, need_plan.slot, member_id)
    world.teams[member.team].uses += 1
