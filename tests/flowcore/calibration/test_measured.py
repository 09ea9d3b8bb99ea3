"""What a log measures is what the run from which it is says of itself; what is held against a run fits or does not."""

import json
from functools import cache
from pathlib import Path

import numpy as np
import pytest

from flowcore.calibration.arrivals import counted_days, profile
from flowcore.calibration.found import LogFound, found_in
from flowcore.calibration.proposals.matching import Matching
from flowcore.logs.moments import weekdays
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.reports.event_log import event_log, write_csv
from flowcore.reports.findings import Summary, summary_of
from flowcore.reports.log_check import LogCheck, checked, measures_of, weekly_quantities
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from flowcore.study.durations import DAY

DEMO = Path(__file__).resolve().parents[3] / "demo"
AS_IT_IS = Matching()
LENGTHS = {"residents-hall": "1 wk", "animal-clinic": "2 wk", "phone-line": "1 wk"}
MONDAY = 20_878
"""1 March 2027, in days since 1970."""


def demo(name: str) -> StudyDocument:
    """Return a demo study of which a replication is short and has whole weeks without a holiday."""
    study = read_study(json.loads((DEMO / f"{name}.json").read_text()))
    run = {"replications": 1, "warm_up": "0 min", "length": LENGTHS[name]}
    return study.model_copy(update={"run": study.run.model_copy(update=run)})


@cache
def logged(name: str, folder: Path) -> tuple[LogFound, Summary]:
    """Return what is found in the log of a replication of a demo, and what the run of that one says."""
    study, path = demo(name), folder / f"{name}.csv"
    write_csv(study, [(0, event_log(study, 0))], path)
    return found_in(read_log(path, recognised(path).reading)[0]), summary_of(study, simulate(study))


def check_of(name: str, folder: Path) -> LogCheck:
    study = demo(name)
    found, summary = logged(name, folder)
    observed = measures_of(study, found, AS_IT_IS, "log.csv")
    weeks = {quantity: week.model_dump() for quantity, week in summary.weeks.items()}
    return checked(study, observed, summary.figures, weeks, weekly_quantities(study, found, AS_IT_IS))


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("logs")


@pytest.mark.parametrize("name", ["residents-hall", "animal-clinic"])
def test_a_log_measures_what_its_run_says(name: str, folder: Path) -> None:
    """Of an owner who left the clinic, a vet may still be called: they are no more told from those who were served."""
    check = check_of(name, folder)
    times = [fit for fit in check.fits if "/wait/" in fit.address or "/total/" in fit.address]
    assert len(times) > 10
    for fit in times:
        assert fit.figure
        assert fit.observed == pytest.approx(fit.figure.mean, rel=1e-3, abs=2e-3), fit.address
        assert fit.fits, fit.address
    assert len(check.weeks) > 3
    for week in check.weeks:
        if (name, week.quantity) == ("animal-clinic", "type/all/completed"):
            continue
        seen, simulated = (np.array([each or 0.0 for each in side]) for side in (week.observed, week.simulated))
        assert seen == pytest.approx(simulated, rel=1e-3, abs=2e-3), week.quantity


def test_who_hangs_up_is_counted_apart(folder: Path) -> None:
    found, summary = logged("phone-line", folder)
    lost = next(each for each in found.measured.steps if each.name == "Lost property call").figures
    assert lost["abandoned"].many == summary.figures["step/lost-calls/abandoned"].mean
    assert lost["served"].many == summary.figures["step/lost-calls/served"].mean
    assert lost["served"].value == pytest.approx(lost["served"].many)
    assert found.measured.all["completed"].many == summary.figures["type/all/completed"].mean
    wait = lost["wait/mean"]
    assert wait.low < wait.value < wait.high


def test_another_model_does_not_fit(folder: Path) -> None:
    study = demo("residents-hall")
    found, _ = logged("residents-hall", folder)
    more = [team.model_copy(update={"pace": 3.0}) for team in study.teams]
    quick = study.model_copy(update={"teams": more})
    figures = simulate(quick).figures()
    observed = measures_of(quick, found, AS_IT_IS, "log.csv")
    fits = checked(quick, observed, figures, {}, {}).fits
    total = next(each for each in fits if each.address == "type/all/total/mean")
    assert total.fits is False
    assert "too low" in total.words


def test_names_without_a_place_in_the_study_are_not_held_against_it(folder: Path) -> None:
    study = demo("residents-hall")
    found, _ = logged("residents-hall", folder)
    known = {each.figure for each in measures_of(study, found, Matching(steps={"Counter": None}), "log.csv")}
    assert "step/greeter/wait/mean" in known
    assert not any(address.startswith("step/counter") for address in known)
    assert "step/counter/wait" not in weekly_quantities(study, found, Matching(steps={"Counter": None}))


def test_closed_days_do_not_count_and_quiet_ones_do() -> None:
    """Twenty come on each weekday but on the second Tuesday; on Saturdays one comes now and then."""
    days = [MONDAY + week * 7 + day for week in range(4) for day in range(5) if (week, day) != (1, 1)]
    day = np.array([each for each in days for _ in range(20)] + [MONDAY + 5, MONDAY + 26])
    kept = counted_days(np.sort(day))
    assert MONDAY + 8 not in kept
    assert set(weekdays(kept).tolist()) >= {5}, "Saturdays without anybody count: seldom somebody comes"
    assert len(kept) == 27 - 1
    week = profile(np.sort(day) * DAY + 600.0)
    assert week.week["tue"][10] == 20
    assert week.week["sat"][10] == pytest.approx(0.5)
    assert week.closed == 1
