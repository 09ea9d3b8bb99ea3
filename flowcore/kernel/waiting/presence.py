"""Who is there: which members may do what is asked, and how many of a team are idle."""

from flowcore.kernel.compiling.compiled import part
from flowcore.kernel.records.choices import WhenDone
from flowcore.kernel.records.kinds import NONE, MemberState
from flowcore.kernel.records.world import World


@part
def is_off(state: int) -> bool:
    """Say whether a member in this state is not there: it has no shift, or misses it."""
    return state == MemberState.OFF or state == MemberState.ABSENT


@part
def is_absent(state: int) -> bool:
    """Say whether a member in this state cannot work now."""
    return (
        is_off(state)
        or state == MemberState.ON_BREAK
        or state == MemberState.ON_UNPAID_BREAK
        or state == MemberState.INTERRUPTED
    )


@part
def is_kept(world: World, member_id: int, document_step: int) -> bool:
    """Say whether a case keeps a member when it leaves a step."""
    keep_until = world.members[member_id].keep_until
    return keep_until != NONE and keep_until != document_step


@part
def serves_in(world: World, member_id: int, overtime: int) -> bool:
    """Say whether a member may do what is done always, or not in overtime, or only there.

    Those of teams without shifts are never in overtime, and may do it all.
    """
    member = world.members[member_id]
    if overtime == WhenDone.ALWAYS or world.plan.teams[member.team].rows == 0:
        return True
    return (member.in_overtime == 0) == (overtime == WhenDone.NOT_IN_OVERTIME)


@part
def of_overtime(world: World, team: int, overtime: int, all_: int, beyond: int) -> int:
    """Return how many of a team's members may do what is done always, or not in overtime, or only there.

    `all_` are so many in some state, and `beyond` of them in overtime. Teams without shifts have none.
    """
    if overtime == WhenDone.ALWAYS or world.plan.teams[team].rows == 0:
        return all_
    return all_ - beyond if overtime == WhenDone.NOT_IN_OVERTIME else beyond


@part
def idle_for(world: World, team: int, overtime: int) -> int:
    """Return how many members of a team are idle and may do what is asked."""
    here = world.teams[team]
    return of_overtime(world, team, overtime, here.idle, here.idle_in_overtime)


@part
def available(world: World, team: int, overtime: int) -> int:
    """Return how many members of a team are idle, may do what is asked, and are not held back for someone else."""
    here = world.teams[team]
    return min(idle_for(world, team, overtime), here.idle - here.held_back)
