"""Which steps are plain: a visit is work by one of one team, and nothing else hangs on it."""

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import Plan


def plain_steps(plan: Plan) -> NDArray[np.bool_]:
    """Return for each step of a plan whether it is plain, shape (steps,); none is where people are held back."""
    holds_back = any(pool.reserve or pool.preempts for pool in plan.pools)
    found = [not holds_back and _is_plain(plan, number) for number in range(len(plan.steps))]
    return np.array(found, np.bool_)


def _is_plain(plan: Plan, number: int) -> bool:
    step = plan.steps[number]
    if step.kind != c.StepKind.SERVE or step.travel_kind != c.TravelKind.NONE:
        return False
    hangs_on_it = (step.place, step.changeover, step.span_point, step.visit_counter)
    counted = (step.coverable, step.trait_times, step.begun, step.met, step.raised, step.told, step.changeover_cost)
    return all(each == k.NONE for each in hangs_on_it) and not any(counted) and _waits_plainly(plan, step.line)


def _waits_plainly(plan: Plan, number: int) -> bool:
    line = plan.lines[number]
    rules = (line.most, line.balk_at, line.patience)
    is_shared = line.room < plan.run[0].rooms
    if line.discipline == c.Discipline.LAST_COME or is_shared or line.min_wait > 0.0 or line.pool == k.NONE:
        return False
    return all(rule == k.NONE for rule in rules) and _asks_plainly(plan, line.pool)


def _asks_plainly(plan: Plan, number: int) -> bool:
    pool = plan.pools[number]
    if pool.only_team == k.NONE or pool.only_count != 1 or pool.overtime != c.WhenDone.ALWAYS:
        return False
    team, need = plan.teams[pool.only_team], plan.needs[plan.lists[pool.first_need]]
    is_kept = need.slot != k.NONE or need.keep_until != k.NONE
    return not is_kept and team.picks != c.MemberPick.RANDOM
