"""Laws that must hold in every replication, and sameness of the luck."""

from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from flowcore.simulate import Stopped, simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import exit_step, exponential, serve, single_line, study


@st.composite
def small_studies(draw: st.DrawFn) -> StudyDocument:
    """A few steps in a row with random times, teams, ways back and ways out."""
    count = draw(st.integers(1, 4))
    works = st.sampled_from(
        [
            "1 min",
            exponential(1.5),
            {"dist": "uniform", "low": "0 min", "high": "3 min"},
            {"dist": "normal", "mean": "1 min", "sd": "1 min"},
        ]
    )
    steps: list[dict[str, Any]] = []
    for number in range(count):
        onward = f"s{number + 1}" if number + 1 < count else "out"
        back = draw(st.sampled_from([0.0, 0.1, 0.3]))
        ways = {onward: 1 - back} | ({f"s{draw(st.integers(0, number))}": back} if back else {})
        team = draw(st.sampled_from(["ones", "twos", None]))
        steps.append(serve(f"s{number}", draw(works), team, ways))
    return study(
        [*steps, exit_step()],
        {"ones": 3, "twos": 2},
        draw(st.sampled_from([exponential(2.0), "1.7 min"])),
        length="1 d",
        warm_up="0 min",
        replications=2,
        seed=draw(st.integers(0, 2**40)),
    )


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(small_studies())
def test_conservation_and_time_add_up(of: StudyDocument) -> None:
    for replication in simulate(of).replications:
        figures = replication.figures
        inside = figures["type/all/inside/end"]
        assert figures["type/all/arrived"] == figures["type/all/completed"] + figures["type/all/abandoned"] + inside
        for step in of.steps[:-1]:
            here = figures[f"step/{step.id}/arrived"] - figures[f"step/{step.id}/served"]
            assert here == figures[f"step/{step.id}/inside/end"]
        parts = sum(figures[f"type/all/{quantity}/mean"] for quantity in ("wait", "work", "travel"))
        assert figures["type/all/total/mean"] == pytest.approx(parts) or np.isnan(parts)
        for team in of.teams:
            assert 0 <= figures[f"team/{team.id}/utilisation"] <= 1 + 1e-12


def test_littles_law_where_the_system_empties() -> None:
    """All cases have left at the end, so Little's law holds to the last digit but rounding."""
    of = single_line(exponential(2.4), 3, 1.0, length="365 d", warm_up="0 min", replications=1)
    figures = simulate(of).replications[0].figures
    minutes = 365 * 1440
    waited = figures["step/desk/wait/mean"] * figures["step/desk/served"]
    assert figures["step/desk/line/mean"] * minutes == pytest.approx(waited, rel=1e-3)
    present = figures["type/all/total/mean"] * figures["type/all/completed"]
    assert figures["type/all/inside/mean"] * minutes == pytest.approx(present, rel=1e-3)


def test_same_seed_same_bits_and_another_seed_others() -> None:
    of = single_line(exponential(2.4), 3, 1.0, length="3 d", warm_up="0 min", replications=4)
    first, again = simulate(of), simulate(of)
    assert first.replications == again.replications
    other = of.model_copy(update={"run": of.run.model_copy(update={"seed": 12})})
    assert simulate(other).values["step/desk/wait/mean"][0] != first.values["step/desk/wait/mean"][0]


def test_threads_and_cuts_change_nothing() -> None:
    of = single_line(exponential(2.4), 3, 1.0, length="3 d", warm_up="1 h", replications=6)
    whole = simulate(of).replications
    assert simulate(of, threads=2).replications == whole
    assert [*simulate(of, numbers=[4, 5]).replications, *simulate(of, numbers=[0]).replications] == [
        whole[4],
        whole[5],
        whole[0],
    ]


def test_luck_hangs_on_the_case_and_the_step_alone() -> None:
    """With endless servers, one more step in between changes no draw at the others."""
    plain = [serve("first", exponential(2), None, {"last": 1}), serve("last", exponential(3), None, {"out": 1})]
    longer = [
        serve("first", exponential(2), None, {"between": 1}),
        serve("between", "0 min", None, {"last": 1}),
        serve("last", exponential(3), None, {"out": 1}),
    ]
    run = {"length": "2 d", "warm_up": "0 min", "replications": 1}
    one, other = (simulate(study([*steps, exit_step()], {}, exponential(1), **run)) for steps in (plain, longer))
    for address in ("step/first/work/mean", "step/last/work/mean", "type/all/work/p90", "type/all/completed"):
        assert one.values[address][0] == other.values[address][0]


def test_laps_of_a_loop_have_luck_of_their_own() -> None:
    of = study(
        [serve("work", exponential(2), None, {"work": 0.5, "out": 0.5}), exit_step()],
        {},
        exponential(1),
        length="30 d",
        warm_up="0 min",
        replications=6,
    )
    figures = simulate(of)
    laps = figures.values["step/work/served"] / figures.values["type/all/completed"]
    assert laps.mean() == pytest.approx(2, rel=0.02)
    assert figures.figure("type/all/work/sd").mean == pytest.approx(4.0, rel=0.05)


def test_a_stop_is_obeyed() -> None:
    of = single_line(exponential(2.4), 3, 1.0, length="3000 d", replications=50)
    looks = iter([False, False, True])
    with pytest.raises(Stopped):
        simulate(of, should_stop=lambda: next(looks))


def test_an_overloaded_line_grows_without_limit() -> None:
    of = single_line("10 min", 1, 0.1, length="30 d", warm_up="0 min", replications=1)
    figures = simulate(of).replications[0].figures
    assert figures["step/desk/line/end"] > 400_000
    assert figures["team/clerks/utilisation"] == pytest.approx(1, abs=1e-4)


def test_warm_up_is_forgotten() -> None:
    """Arrivals each minute, one minute of work: after a warm-up of an hour, 60 cases are counted, not 120."""
    of = single_line("30 s", 1, 1.0, length="2 h", warm_up="1 h", replications=1)
    regular = read_study({**of.model_dump(), "streams": [{**of.streams[0].model_dump(), "gap": "1 min"}]})
    figures = simulate(regular).replications[0].figures
    assert figures["type/all/arrived"] == 60
    assert figures["team/clerks/utilisation"] == pytest.approx(0.5)
    assert figures["cost/total/per:day"] == 0
