"""Team members: who is idle, who works, and for how long."""

from flowcore.kernel.compiled import small
from flowcore.kernel.records import IDLE, NONE, WORKING, World


@small
def change_state(world: World, member: int, state: int) -> None:
    """Let a member turn to something else, and book the time of what it did."""
    now = world.clock[0].now
    who = world.members[member]
    world.member_time[member, who.state] += now - who.since
    who.since = now
    who.state = state


@small
def needs_can_be_met(world: World, pool: int) -> bool:
    """Say whether enough members of every team that the pool asks for are idle."""
    asks = world.plan.pools[pool]
    for number in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[number]
        if world.crews[need.team].idle < need.count:
            return False
    return True


@small
def take_member(world: World, case: int, team: int) -> None:
    """Give the longest idle member of a team to a case."""
    crew = world.crews[team]
    member = crew.first_idle
    who = world.members[member]
    crew.first_idle = who.next_idle
    crew.idle -= 1
    change_state(world, member, WORKING)
    who.next_held = world.cases[case].first_held
    world.cases[case].first_held = member


@small
def take_members(world: World, case: int, pool: int) -> None:
    """Give a case all that its pool asks for."""
    asks = world.plan.pools[pool]
    for number in range(asks.first_need, asks.first_need + asks.needs):
        need = world.plan.needs[number]
        for _ in range(need.count):
            take_member(world, case, need.team)


@small
def become_idle(world: World, member: int) -> None:
    """Let a member stand behind the idle members of its team."""
    change_state(world, member, IDLE)
    who = world.members[member]
    who.next_idle = NONE
    crew = world.crews[who.team]
    if crew.idle == 0:
        crew.first_idle = member
    else:
        world.members[crew.last_idle].next_idle = member
    crew.last_idle = member
    crew.idle += 1


@small
def release_members(world: World, case: int) -> None:
    """Let go of everyone whom a case holds."""
    member = world.cases[case].first_held
    while member != NONE:
        after = world.members[member].next_held
        become_idle(world, member)
        member = after
    world.cases[case].first_held = NONE
