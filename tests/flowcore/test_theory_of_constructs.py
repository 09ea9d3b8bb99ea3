"""Limits, patience, priorities, breakdowns, groups, forks and varying rates against exact formulas."""

from typing import Any

import numpy as np
import pytest

from flowcore.study import StudyDocument, read_study
from flowcore.theory import (
    abandon_mmcm,
    erlang_b,
    load_over_time,
    loss_mmck,
    times_preemptive,
    wait_forked,
    wait_mg1_breakdowns,
    waits_priorities,
)
from tests.flowcore.builders import document, exit_step, exponential, serve, study
from tests.flowcore.test_theory import assert_holds

LEFT = exit_step("left", abandoned=True)


def limited(work: Any, servers: int, gap: float, **line: Any) -> StudyDocument:
    desk = serve("desk", work, "clerks", {"out": 1}, line=line)
    return study([desk, exit_step(), LEFT], {"clerks": servers}, exponential(gap))


def test_line_with_few_places() -> None:
    """M/M/2 with three places to wait."""
    of = limited(exponential(2), 2, 1.0, max=3, when_full="turn-away", full_to="left")
    lost, waiting = loss_mmck(2, 3, 2.0)
    assert_holds(of, "step/desk/line/mean", waiting)
    assert_holds(of, "team/clerks/utilisation", 2.0 * (1 - lost) / 2)


def test_loss_does_not_depend_on_the_shape_of_work() -> None:
    """Erlang B with log-normal work."""
    of = limited(
        {"dist": "lognormal", "mean": "4 min", "sd": "6 min"}, 5, 1.0, max=0, when_full="turn-away", full_to="left"
    )
    assert_holds(of, "team/clerks/utilisation", 4 * (1 - erlang_b(5, 4.0)) / 5)


def test_patience() -> None:
    """Erlang A."""
    of = limited(exponential(3), 3, 0.9, patience=exponential(4), gives_up_to="left")
    share, waiting = abandon_mmcm(3, 1 / 0.9, 3.0, 4.0)
    assert_holds(of, "step/desk/line/mean", waiting)
    assert_holds(of, "team/clerks/utilisation", 3 / 0.9 * (1 - share) / 3)


def two_classes(**more: Any) -> StudyDocument:
    desk = serve("desk", exponential(0.7), "clerks", {"out": 1}, line={"discipline": "priority"}, **more)
    of = document([desk, exit_step()], {"clerks": 1}, exponential(1.0))
    of["case_types"] = [{"id": "calm", "name": "Calm"}, {"id": "urgent", "name": "Urgent", "priority": 1}]
    of["streams"][0]["mix"] = [{"type": "calm", "share": 0.7}, {"type": "urgent", "share": 0.3}]
    return read_study(of)


def test_two_priorities() -> None:
    urgent, calm = waits_priorities([0.3, 0.7], [0.7, 0.7], [0.7, 0.7])
    of = two_classes()
    assert_holds(of, "type/urgent/wait/mean", urgent)
    assert_holds(of, "type/calm/wait/mean", calm)


def test_two_priorities_with_pre_emption() -> None:
    urgent, calm = times_preemptive([0.3, 0.7], [0.7, 0.7], [0.7, 0.7])
    of = two_classes(preempts=True)
    assert_holds(of, "type/urgent/total/mean", urgent)
    assert_holds(of, "type/calm/total/mean", calm)


def test_breakdowns_of_a_working_server() -> None:
    """M/D/1 whose server fails after 5 minutes of work on average, for 1 minute, and goes on with the case."""
    of = document([serve("desk", "0.6 min", "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(1.0))
    fault = {"name": "Fault", "after": {"working": exponential(5)}, "length": exponential(1), "strikes": "each"}
    of["teams"][0]["interruptions"] = [fault | {"work": "pause"}]
    completion = 0.6 * (1 + 1 / 5)
    truth = wait_mg1_breakdowns(1.0, 0.6, 0.0, 5.0, 1.0, 1.0) + completion
    assert_holds(read_study(of), "type/all/total/mean", truth)


def test_groups_of_arrivals() -> None:
    """Groups of one to three: L = ρ(1 + E[X²]/E[X]) / (2(1 − ρ)) in M^X/M/1 (Gross and Harris, section 3.1)."""
    of = document(
        [serve("desk", exponential(0.35), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(1.0)
    )
    of["streams"][0]["group"] = {"dist": "discrete", "values": [1, 2, 3], "weights": [1, 1, 1]}
    load = 0.35 * 2
    assert_holds(read_study(of), "step/desk/inside/mean", load * (1 + (14 / 3) / 2) / (2 * (1 - load)))


def test_fork_and_join_of_two_servers() -> None:
    steps = [
        {"id": "part", "name": "P", "kind": "fork", "join": "meet", "next": [{"to": "one"}, {"to": "other"}]},
        serve("one", exponential(0.6), "ones", {"meet": 1}),
        serve("other", exponential(0.6), "others", {"meet": 1}),
        {"id": "meet", "name": "M", "kind": "join", "next": [{"to": "out"}]},
        exit_step(),
    ]
    of = study(steps, {"ones": 1, "others": 1}, exponential(1.0))
    assert_holds(of, "type/all/total/mean", wait_forked(1.0, 0.6))


def test_load_of_endless_servers_at_a_varying_rate() -> None:
    """Half a day at 20 an hour and half a day at 60; the mean number in service over each hour of the day."""
    day = [20.0] * 12 + [60.0] * 12
    of = document(
        [serve("desk", exponential(90), None, {"out": 1}), exit_step()], {}, "1 min", length="28 d", warm_up="2 d"
    )
    week = {name: day for name in ("mon", "tue", "wed", "thu", "fri", "sat", "sun")}
    of["streams"] = [{"id": "s", "name": "S", "kind": "profile", "interval": "60 min", "week": week, "to": "desk"}]
    of["start"] = "2027-03-01T00:00"
    found = read_study(of)
    minute_rates = np.repeat(np.array(day) / 60, 60)
    loads = load_over_time(minute_rates, 1.0, 90.0)
    assert_holds(found, "type/all/inside/mean", float(loads.mean()))
    assert loads.reshape(24, 60).mean(axis=1)[11] == pytest.approx(30, abs=0.1)
