"""Cases for which a roster row stays after its shift."""

from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import WhenDone
from flowcore.kernel.records.kinds import NONE, Stand
from flowcore.kernel.records.world import World
from flowcore.kernel.waiting.causes import touch
from flowcore.kernel.waiting.own_people import asks_for_one_of, asks_for_one_who_is_off


@part
def mark_awaited(world: World, row: int) -> None:
    """Mark and count the cases that wait for a row's team as its shift ends, and would be served in overtime."""
    slot = world.plan.rows[row].slot
    for case_id in range(len(world.cases)):
        is_awaited = waits_for(world, case_id, row)
        mark(world, case_id, slot, is_awaited)
        world.rows[row].awaited += int(is_awaited)


@part
def waits_for(world: World, case_id: int, row: int) -> bool:
    """Say whether a case waits for a row's people in overtime too: in the line, for its minimum time, for one of them.

    Nobody stays for a case that also asks for a particular member who is not there: it could not be served.
    """
    case = world.cases[case_id]
    if case.stands == Stand.NOWHERE or case.stands == Stand.AT_SIGNAL:
        return False
    pool = world.plan.lines[case.line].pool
    if pool == NONE or world.plan.pools[pool].overtime == WhenDone.NOT_IN_OVERTIME:
        return False
    if asks_for_one_who_is_off(world, case_id, case.line):
        return False
    pool_plan = world.plan.pools[pool]
    for incidence in range(pool_plan.first_incidence, pool_plan.first_incidence + pool_plan.incidences):
        if world.incidences[incidence].team == world.plan.rows[row].team:
            return True
    return asks_for_one_of(world, case_id, case.line, row)


@rare
def mark(world: World, case_id: int, slot: int, is_awaited: bool) -> None:
    """Note whether a row stays for a case: one bit of the case's memory for each row that may."""
    run = world.plan.run[0]
    column = run.remembered + run.counters + (slot >> 5)
    bit = 1 << (slot & 31)
    marks = world.memory[case_id, column]
    world.memory[case_id, column] = (marks | bit) if is_awaited else (marks & ~bit)


@rare
def be_awaited_no_more(world: World, case_id: int) -> None:
    """Let the rows that stay for a case know that it is done, or gone."""
    run = world.plan.run[0]
    for column in range(run.awaiting):
        place = run.remembered + run.counters + column
        if world.memory[case_id, place] == 0:
            continue
        for row in range(len(world.rows)):
            slot = world.plan.rows[row].slot
            if slot != NONE and slot >> 5 == column and (world.memory[case_id, place] >> (slot & 31)) & 1:
                world.rows[row].awaited -= 1
                touch(world, world.plan.rows[row].team)
        world.memory[case_id, place] = 0
