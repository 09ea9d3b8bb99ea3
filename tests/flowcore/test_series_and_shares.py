"""Figures by interval, by hour of the week, in overtime, and shares: worked by hand and from the log."""

import numpy as np
import pytest

from flowcore.reports.event_log import event_log
from flowcore.results.counts import least_of_bins
from flowcore.results.series import INSIDE, by_week
from flowcore.simulate import replications, simulate
from tests.flowcore.builders import exponential, single_line
from tests.flowcore.days import EVERY_DAY, cases_at, clock, day, desk, figures, shift, team


def test_series_by_the_hour() -> None:
    """Cases at 10, 70 and 75 with ten minutes of work each; the last waits from 75 to 80."""
    of = day([cases_at([10, 70, 75])], [desk()], [team()])
    series = simulate(of).series()
    assert series["stream/cases/arrived"][:4].tolist() == [1, 2, 0, 0]
    assert series["type/all/completed"][:4].tolist() == [1, 2, 0, 0]
    assert series["team/clerks/working"][:4] == pytest.approx([10 / 60, 20 / 60, 0, 0])
    assert series["team/clerks/present"][:4] == pytest.approx([1, 1, 1, 1])
    assert series["step/desk/line"][:4] == pytest.approx([0, 5 / 60, 0, 0])
    assert series["type/all/inside"][:4] == pytest.approx([10 / 60, 25 / 60, 0, 0])
    assert series["type/all/wait"][:2].tolist() == [0, 2.5]
    assert np.isnan(series["type/all/wait"][2])


def test_what_happens_on_the_hour_belongs_to_the_hour_that_begins() -> None:
    """Cases at 60 and 120 with an hour of work each; the run ends at 180, with the second case."""
    of = day([cases_at([60, 120])], [desk(work="60 min")], [team()], length="3 h")
    series = simulate(of).series()
    assert series["stream/cases/arrived"][:3].tolist() == [0, 1, 1]
    assert series["type/all/completed"][:3].tolist() == [0, 0, 2]
    assert series["team/clerks/working"][:3] == pytest.approx([0, 1, 1])


def test_levels_by_the_share_of_the_time() -> None:
    """In four hours one waits for 5 minutes; inside are none for 210, one for 25, two for 5."""
    of = day([cases_at([10, 70, 75])], [desk()], [team()])
    levels = simulate(of).levels()
    assert levels["step/desk/line"][:3] == pytest.approx([235 / 240, 5 / 240, 0])
    assert levels["step/desk/inside"][:4] == pytest.approx([210 / 240, 25 / 240, 5 / 240, 0])


def test_high_levels_share_a_bin() -> None:
    """Forty cases at once, nobody ever serves them: all of the time 40 are in line, in the bin from 36 on."""
    of = day([cases_at([0] * 40)], [desk()], [team(roster=[shift(239, 240)])], length="2 h")
    shares = simulate(of).levels()["step/desk/line"]
    assert {least: share for least, share in zip(least_of_bins(), shares, strict=True) if share > 0} == {36: 1.0}


def test_each_members_states() -> None:
    """The first clerk works 20 of 60 minutes and has a break of 6; the run ends with the shift."""
    pause = {"after": "30 min", "length": "6 min"}
    clerks = team(roster=[shift(0, 60, breaks=[pause])])
    found = figures(day([cases_at([0, 10])], [desk()], [clerks], length="1 h"))
    states = {name: found[f"member/clerks:1/state:{name}"] for name in ("working", "idle", "break", "off")}
    assert states == pytest.approx({"working": 20 / 60, "idle": 34 / 60, "break": 6 / 60, "off": 0})


def test_series_by_the_quarter_hour_begin_on_the_clocks_quarter() -> None:
    """The run starts at 8:00; at 15 minutes an interval the case at 10 is in the first, its end in the second."""
    of = day([cases_at([10])], [desk()], [team()], run={"interval": "15 min"})
    series = simulate(of).series()
    assert series["type/all/completed"][:3].tolist() == [0, 1, 0]
    assert series["team/clerks/working"][:3] == pytest.approx([5 / 15, 5 / 15, 0])


def test_means_by_the_hour_of_the_week() -> None:
    """A case on two Mondays at 8:10, one of them waits: the run is two weeks long and starts on a Monday at 8."""
    of = day([cases_at([10, 10080 + 10, 10080 + 10])], [desk()], [team()], length="2 wk")
    series = simulate(of).series()
    arrived = by_week(of, series["stream/cases/arrived"])
    assert (len(arrived), arrived[8], arrived[9]) == (168, 1.5, 0)
    assert by_week(of, series["type/all/wait"])[8] == pytest.approx((0 + 5) / 2)


def test_regular_time_and_overtime_apart() -> None:
    """The shift ends at 60 and the clerk stays until the case that came at 55 is done at 75: 15 minutes overtime."""
    of = day([cases_at([55])], [desk("20 min")], [team(roster=[shift(0, 60)], at_shift_end="finish")])
    found = figures(of)
    assert found["team/clerks/working:overtime"] == pytest.approx(1)
    assert found["team/clerks/utilisation:regular"] == pytest.approx(5 / 60)
    assert found["step/desk/inside:overtime/mean"] == pytest.approx(1)
    assert found["step/desk/inside:regular/mean"] == pytest.approx(5 / (240 - 15))


def test_the_share_within_a_time() -> None:
    """Waits are 0, 5, 10 and 15 minutes."""
    targets = [{"figure": f"step/desk/wait/within:{limit}", "at_least": 0.8} for limit in ("5min", "14min", "15min")]
    of = day([cases_at([0, 5, 10, 15])], [desk()], [team()], targets=targets)
    found = figures(of)
    assert [found[f"step/desk/wait/within:{limit}"] for limit in ("5min", "14min", "15min")] == [0.5, 0.75, 1]
    assert found["step/desk/wait/none"] == 0.25


def test_percentiles_are_those_of_the_log() -> None:
    of = single_line(exponential(2.4), 3, 1.0, length="3 d", warm_up="0 min", replications=1)
    joined: dict[int, float] = {}
    waits: dict[int, float] = {}
    for entry in event_log(of, 0):
        if entry.event == "came" and entry.step == "Desk":
            joined[entry.case] = entry.minute
        if entry.event == "work began":
            waits[entry.case] = entry.minute - joined[entry.case]
        if entry.event == "left":
            joined.pop(entry.case)
    served = np.array([wait for case, wait in waits.items() if case not in joined])
    found = figures(of)
    assert found["step/desk/served"] == len(served)
    for percentile in (5, 50, 90, 99):
        assert found[f"step/desk/wait/p{percentile}"] == pytest.approx(np.percentile(served, percentile), abs=1e-9)
    assert found["step/desk/wait/max"] == pytest.approx(served.max())


def test_a_long_run_keeps_an_ordinary_week() -> None:
    """One case at 8:10 on every day for 60 years: too many intervals to keep each, so weeks are laid on each other."""
    daily = {"days": EVERY_DAY, "from": clock(10), "to": clock(15), "every": "10 min"}
    booked = {"id": "cases", "name": "Cases", "kind": "appointments", "to": "desk", "sessions": [daily]}
    of = day([booked], [desk()], [team()], length="3120 wk", run={"interval": "15 min"})
    series = simulate(of).series()
    assert len(series["type/all/completed"]) == 7 * 24 * 4
    assert series["stream/cases/arrived"][:4] == pytest.approx([1, 0, 0, 0])
    assert by_week(of, series["type/all/completed"])[8 * 4 : 8 * 4 + 3] == pytest.approx([0, 1, 0])
    assert by_week(of, series["team/clerks/working"])[8 * 4 : 8 * 4 + 3] == pytest.approx([5 / 15, 5 / 15, 0])


@pytest.mark.parametrize("threads", [1, 2])
def test_of_the_course_of_many_replications_only_the_means_are_kept(threads: int) -> None:
    study = single_line(exponential(10.0), 2, 7.0, warm_up="0 min", length="5 h", replications=4)
    each, found = list(replications(study)), simulate(study, threads=threads)
    for address in ("type/all/wait", "step/desk/line", "team/clerks/working"):
        assert found.series()[address] == pytest.approx(
            np.nanmean([row.series[address] for row in each], axis=0), nan_ok=True
        )
    assert found.levels()["step/desk/line"] == pytest.approx(
        np.mean([row.levels["step/desk/line"] for row in each], axis=0)
    )
    for kept, whole in zip(found.replications, each, strict=True):
        assert list(kept.series) == [INSIDE]
        assert not kept.levels
        assert np.array_equal(kept.series[INSIDE], whole.series[INSIDE], equal_nan=True)
        assert kept.week["type/all/wait"] == pytest.approx(whole.week["type/all/wait"], rel=1e-6, nan_ok=True)
