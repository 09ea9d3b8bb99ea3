"""Replications one after another in the same memory: each is as if it were the first."""

import numpy as np

from flowcore.kernel.records.world import World
from flowcore.kernel.run.worlds import Worlds, go_until
from flowcore.plan.compile import compile_study
from flowcore.study import StudyDocument
from tests.flowcore.days import day, desk, team


def with_ways(share: float) -> StudyDocument:
    """Return a busy day of which a share walks to the desk a second time."""
    come = {"id": "in", "name": "In", "kind": "random", "gap": {"dist": "exponential", "mean": "0.2 min"}, "to": "desk"}
    again = {"to": "again", "share": share, "travel": "3 min"}
    first = desk("0.1 min", next=[again, {"to": "out", "share": 1 - share}])
    return day([come], [first, desk("0.2 min", id="again")], [team(3)], length="4 wk")


def ledger_of(world: World) -> list[bytes]:
    """Return what a replication has written down of its visits."""
    many = int(world.clock[0].visits)
    return [np.array(rows[:many]).tobytes() for rows in (world.visits, world.visit_extras)]


def test_each_is_as_if_it_were_the_first() -> None:
    """The second is left unkept; what it has written lies behind the rows with which the third begins."""
    plan = compile_study(with_ways(0.3))
    worlds = Worlds(plan)
    for number, length in enumerate((1000.0, 5000.0, 7000.0)):
        world, _ = go_until(worlds.begin(1, number), length)
        alone, _ = go_until(Worlds(plan).begin(1, number), length)
        assert ledger_of(world) == ledger_of(alone)
        if number != 1:
            worlds.keep(world)
