"""People by the interval: against the formulas of Erlang, and the offered load against exact cases."""

import numpy as np
import pytest

from flowcore.results.aims import Aims
from flowcore.results.week_grid import interval_of
from flowcore.simulate import simulate
from flowcore.sizing.aiming.trials import run_trial
from flowcore.sizing.staffing.need import Settled, Staffed, least_by_theory, settle
from flowcore.sizing.staffing.pools import pools_of
from flowcore.study import StudyDocument
from flowcore.theory.lagging import Lagging
from flowcore.theory.queues import abandon_mmcm, wait_beyond_mmc, wait_beyond_mmcm
from flowcore.theory.varying import load_over_time
from tests.flowcore.builders import Part, exit_step, exponential, serve, single_line
from tests.flowcore.sizing.studies import WITHIN_A_MINUTE, always_open, busy_noon


def smallest(enough: "object") -> int:
    return next(servers for servers in range(1, 100) if enough(servers))  # type: ignore[operator]


def settled_for(study: StudyDocument) -> tuple[Settled, Settled]:
    """The need by theory, and as simulation settles it."""
    grid = interval_of(study)
    aims, pools = Aims(study, study.targets, grid), pools_of(study, grid)
    staffed = Staffed(study, pools, ["clerks"], grid)
    theory = least_by_theory(study, pools, aims.by_interval, margin=1.0)
    asking = settle(study, pools, aims.by_interval, staffed, theory, tuple(range(60)))
    trials = next(asking)
    while True:
        try:
            trials = asking.send([run_trial(study, aims, trial) for trial in trials])
        except StopIteration as end:
            return Settled(theory, True), end.value


LOAD = 6.4
PATIENCE = 3.0
GIVE_UP: Part = {"figure": "type/all/abandoned/of:arrived", "at_most": 0.04}


@pytest.mark.parametrize(
    ("target", "patience", "erlang"),
    [
        (WITHIN_A_MINUTE, None, smallest(lambda c: wait_beyond_mmc(c, LOAD / 4, 4.0, 1.0) <= 0.2)),
        (WITHIN_A_MINUTE, PATIENCE, smallest(lambda c: wait_beyond_mmcm(c, LOAD / 4, 4.0, PATIENCE, 1.0) <= 0.2)),
        (GIVE_UP, PATIENCE, smallest(lambda c: abandon_mmcm(c, LOAD / 4, 4.0, PATIENCE)[0] <= 0.04)),
    ],
)
def test_the_need_of_a_constant_load_is_the_number_of_erlang(target: Part, patience: float | None, erlang: int) -> None:
    theory, simulated = settled_for(always_open(LOAD, [target | {"by": "interval"}], patience))
    assert set(theory.need["clerks",].tolist()) == {erlang}
    of_the_week = simulated.need["clerks",]
    assert np.median(of_the_week) == erlang
    assert np.mean(of_the_week == erlang) > 0.9


def test_a_need_that_rises_at_noon_rises_after_the_arrivals() -> None:
    study = busy_noon()
    theory, simulated = settled_for(study)
    monday = theory.need["clerks",].reshape(7, 48)[0]
    assert monday[16] < monday[24]
    assert pools_of(study, interval_of(study))[0].load[16] < pools_of(study, interval_of(study))[0].load[17]
    assert monday[:16].sum() == 0
    assert simulated.need["clerks",].sum() == pytest.approx(theory.need["clerks",].sum(), rel=0.15)


def test_waits_beyond_a_time_are_those_of_simulation() -> None:
    study = always_open(LOAD, [WITHIN_A_MINUTE], PATIENCE, length="8 wk", replications=20)
    study = study.model_copy(update={"teams": [study.teams[0].model_copy(update={"size": 6})]})
    found = simulate(study).figure("step/desk/wait/within:1min")
    exact = 1 - wait_beyond_mmcm(6, LOAD / 4, 4.0, PATIENCE, 1.0)
    assert found.mean == pytest.approx(exact, abs=4 * (found.half_width or 0) / 2)


def test_patience_without_end_leaves_the_line_of_m_m_c() -> None:
    assert wait_beyond_mmcm(8, 1.6, 4.0, 1e7, 1.0) == pytest.approx(wait_beyond_mmc(8, 1.6, 4.0, 1.0), rel=1e-4)


def test_offered_load_lags_as_the_formula_for_exponential_work_says() -> None:
    study = busy_noon()
    fine = load_over_time(np.repeat(Lagging(study, 60.0).arrivals(0) / 60, 60), 1.0, 5.0).reshape(-1, 60).mean(axis=1)
    assert Lagging(study, 60.0).in_work(0) == pytest.approx(fine, abs=0.02)


@pytest.mark.parametrize("many", [40, 120])
def test_what_takes_a_minute_at_each_of_many_steps_comes_to_the_last_one_so_many_minutes_later(many: int) -> None:
    """Few steps are told by parts of five minutes, many by whole intervals: each time is shorter than these."""
    steps = [serve(f"step-{n}", exponential(1.0), "clerks", {f"step-{n + 1}": 1}) for n in range(many - 1)]
    steps += [serve(f"step-{many - 1}", exponential(1.0), "clerks", {"out": 1}), exit_step()]
    document = busy_noon().model_dump(mode="json") | {"steps": steps, "targets": [], "sizing": []}
    document["streams"][0]["to"] = "step-0"
    lagging = Lagging(StudyDocument.model_validate(document), 30.0)
    first, last = (lagging.arrivals(n)[:48] for n in (0, many - 1))
    middles = [float(each @ np.arange(48) * 30 / each.sum()) for each in (first, last)]
    assert middles[1] - middles[0] == pytest.approx(many - 1, abs=0.5)
    assert last.sum() == pytest.approx(first.sum())


def test_offered_load_of_a_loop_is_all_its_visits() -> None:
    steps = [serve("desk", exponential(6.0), "clerks", {"desk": 0.25, "out": 0.75}), exit_step()]
    study = single_line(exponential(6.0), 1, 2.0).model_copy()
    document = study.model_dump(mode="json") | {"steps": steps}
    lagging = Lagging(StudyDocument.model_validate(document), 60.0)
    assert lagging.arrivals(0) == pytest.approx(np.full(168, 30 / 0.75))
    assert lagging.in_work(0) == pytest.approx(np.full(168, 3 / 0.75))


def test_work_left_at_the_end_of_a_day_does_not_raise_the_need_of_those_who_stay_for_it() -> None:
    document = busy_noon().model_dump(mode="json")
    document["teams"][0]["closing"] = {"stay": "empty"}
    document["targets"] = [{"figure": "step/desk/wait/p90", "at_most": "10 min"}]
    _, simulated = settled_for(StudyDocument.model_validate(document))
    monday = simulated.need["clerks",].reshape(7, 48)[0]
    assert monday[31] <= monday[16:31].max()
    assert simulated.holds


def test_a_need_is_not_lowered_below_the_load_of_its_interval() -> None:
    document = busy_noon().model_dump(mode="json")
    document["targets"] = [{"figure": "step/desk/wait/p90", "at_most": "60 min"}]
    study = StudyDocument.model_validate(document)
    _, simulated = settled_for(study)
    [pool] = pools_of(study, interval_of(study))
    busy = pool.arrivals > 1
    assert (simulated.need["clerks",][busy] > pool.load[busy]).all()


def test_work_that_comes_when_nobody_may_be_there_waits_for_the_hours_in_which_somebody_may() -> None:
    study = busy_noon()
    [pool] = pools_of(study, interval_of(study))
    hours = np.zeros(336, bool)
    hours[20:24] = True
    moved = pool.within(hours)
    assert moved.load.sum() == pytest.approx(pool.load.sum())
    assert (moved.load[~hours] == 0).all()
    assert moved.load[23] / moved.load[20] == pytest.approx(pool.load[23] / pool.load[20])
    assert pool.within(np.ones(336, bool)) is pool
