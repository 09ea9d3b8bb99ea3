"""The queues and the event list, against lists that are put in order."""

import random
from operator import itemgetter
from typing import Any

import numpy as np
import pytest

from flowcore.kernel.clockwork.events import drop_first, kind_of, next_event, schedule
from flowcore.kernel.clockwork.queues import put_in, put_in_grade, take_from_grade, take_out
from flowcore.kernel.compiling.compiled import entry
from flowcore.kernel.records.kinds import NONE, EventKind, Rank
from flowcore.kernel.records.record import blank
from flowcore.kernel.records.state import LineState, Turn
from flowcore.kernel.records.world import MOST_SOON, World
from flowcore.kernel.run.worlds import new_world
from flowcore.plan.compile import compile_study
from tests.flowcore.days import cases_at, day, desk, team

ITEMS, GRADES = 60, 3


@entry
def _put(nodes: Any, heads: Any, lasts: Any, item: int, grade: int) -> None:
    if grade == NONE:
        put_in(nodes, heads[0], item)
    else:
        put_in_grade(nodes, heads[0], lasts, 0, grade, item)


@entry
def _take(nodes: Any, heads: Any, lasts: Any, item: int, grade: int) -> None:
    if grade == NONE:
        take_out(nodes, heads[0], item)
    else:
        take_from_grade(nodes, heads[0], lasts, 0, grade, item)


def _comings_and_goings(luck: random.Random, graded: bool) -> None:
    """Put items in and take them out, from the front or anywhere, and look at who is first after each."""
    nodes, heads, lasts = blank(Turn, ITEMS), blank(LineState, 1), np.full((1, GRADES), NONE)
    heads.first[0] = heads.last[0] = NONE
    inside: dict[int, tuple[float, int]] = {}
    come, put_back = 0, 0
    for _ in range(400):
        if inside and (luck.random() < 0.45 or len(inside) == ITEMS):
            item = min(inside, key=inside.__getitem__) if luck.random() < 0.6 else luck.choice(list(inside))
            rank, _order = inside.pop(item)
            _take(nodes, heads, lasts, item, int(rank) if graded else NONE)
        else:
            item = luck.choice([item for item in range(ITEMS) if item not in inside])
            grade, came = luck.randrange(GRADES), luck.random()
            come, put_back = come + (came < 0.8), put_back - (came >= 0.9)
            orders = {order for _, order in inside.values()}
            late = next(order for order in range(come * 7 - 3, -10_000, -1) if order not in orders)
            nodes.rank[item] = grade
            nodes.order[item] = come * 7 if came < 0.8 else put_back if came >= 0.9 else late
            inside[item] = (float(grade), int(nodes.order[item]))
            _put(nodes, heads, lasts, item, grade if graded else NONE)
        expected = sorted(inside, key=inside.__getitem__)
        assert heads.first[0] == (expected[0] if expected else NONE)
        if graded:
            assert _chain(nodes, int(heads.first[0])) == expected
            assert heads.last[0] == (expected[-1] if expected else NONE)
            of_grades = [[item for item in expected if inside[item][0] == grade] for grade in range(GRADES)]
            assert lasts[0].tolist() == [items[-1] if items else NONE for items in of_grades]


def _chain(nodes: Any, item: int) -> list[int]:
    found = []
    while item != NONE:
        found.append(item)
        item = int(nodes.next[item])
    return found


@pytest.mark.parametrize("graded", [False, True])
def test_a_queue_is_in_order_whoever_comes_and_goes(graded: bool) -> None:
    for seed in range(20):
        _comings_and_goings(random.Random(seed), graded)


@entry
def _add(world: World, time: float, rank: int, kind: int, subject: int) -> None:
    schedule(world, time, rank, kind, subject, 0)


@entry
def _pop(world: World) -> tuple[float, int, int]:
    event = next_event(world)
    time, kind, subject = event.time, kind_of(event.order), event.subject
    drop_first(world)
    return time, kind, subject


@pytest.mark.parametrize("most", [5, MOST_SOON, 3 * MOST_SOON, 1000])
def test_events_come_by_time_then_rank_then_as_they_were_scheduled(most: int) -> None:
    luck = random.Random(most)
    world = new_world(compile_study(day([cases_at([0])], [desk()], [team(1)], length="1 h")), 1, 0)
    clock = world.clock[0]
    while clock.soon:
        _pop(world)
    listed: list[tuple[float, int, int, int]] = []
    now, number = 0.0, 0
    for _ in range(6 * most):
        grows = luck.random() < (0.7 if number < 3 * most else 0.4)
        if listed and (len(listed) == most or not grows):
            listed.sort(key=itemgetter(0, 1, 2))
            now, _, subject, kind = listed.pop(0)
            assert _pop(world) == (now, kind, subject)
        else:
            time, rank, kind = now + luck.randrange(50), luck.choice(list(Rank)), luck.choice(list(EventKind))
            _add(world, float(time), int(rank), int(kind), number)
            listed.append((float(time), int(rank), number, int(kind)))
            number += 1
        assert clock.soon + clock.later == len(listed)
    assert len(listed) > most // 4
