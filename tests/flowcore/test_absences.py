"""Hand-over rules for breaks, shift ends and interruptions, minute by minute.

The pattern: one clerk, a case at minute 5 with 10 minutes of work, an absence of 20 minutes due at 10,
a second case at 12. Under each rule one can say with a pencil when either is done.
"""

from typing import Any

import pytest

from flowcore.simulate import simulate
from tests.flowcore.days import cases_at, day, desk, figures, shift, team

# rule: (wait of the first case, wait of the second)
# finish: done at 15, absent 15-35, the second from 35: waits 23.
# finish-short: done at 15, absent 15-30, the second from 30: waits 18.
# pause: stopped at 10 with 5 left, resumed at 30, done at 35: 20 waited; the second from 35: 23.
# hand-over with one clerk only: the same, since nobody else can go on.
OUTCOMES = {"finish": (0, 23), "finish-short": (0, 18), "pause": (20, 23), "hand-over": (20, 23)}


TYPES = [{"id": "first", "name": "First"}, {"id": "second", "name": "Second"}]


def two_cases() -> list[dict[str, Any]]:
    """Return a case of each type, at 5 and at 12."""
    return [
        cases_at([minute], id=kind, mix=[{"type": kind, "share": 1}]) for minute, kind in ((5, "first"), (12, "second"))
    ]


def wait_of_each(found: dict[str, float]) -> tuple[float, float]:
    """Return the waits of the first and the second case, which have a type each."""
    return found["type/first/wait/mean"], found["type/second/wait/mean"]


@pytest.mark.parametrize("rule", OUTCOMES)
def test_breaks(rule: str) -> None:
    rest = {"after": "10 min", "length": "20 min"}
    clerks = team(roster=[shift(0, 240, breaks=[rest])], at_break=rule)
    found = figures(day(two_cases(), [desk()], [clerks], case_types=TYPES))
    assert found["step/desk/served"] == 2
    assert wait_of_each(found) == OUTCOMES[rule]
    length = 15 if rule == "finish-short" else 20
    assert found["team/clerks/state:break"] == pytest.approx(length / 240)
    assert found["step/desk/work/mean"] == pytest.approx(10)


@pytest.mark.parametrize("rule", OUTCOMES)
def test_interruptions_strike_each(rule: str) -> None:
    call = {"name": "Call", "after": {"clock": "10 min"}, "length": "20 min", "strikes": "each", "work": rule}
    found = figures(day([cases_at([5, 12])], [desk()], [team(interruptions=[call])], length="34 min"))
    assert found["team/clerks/state:interrupted"] == pytest.approx(
        (19 if rule == "finish" else 20 - (rule == "finish-short") * 5) / 34
    )


@pytest.mark.parametrize("rule", OUTCOMES)
def test_shift_ends(rule: str) -> None:
    """A shift of ten minutes each day; work that is finished after its end is overtime, and the next begins on time."""
    clerks = team(roster=[shift(0, 10)], at_shift_end=rule)
    found = figures(day([cases_at([5])], [desk()], [clerks], length="3 d"))
    assert found["step/desk/served"] == 1
    waited = found["step/desk/wait/max"]
    if rule in ("finish", "finish-short"):
        assert waited == 0
        assert found["team/clerks/working:overtime"] == pytest.approx(1.0)
    else:
        assert waited == 1440 - 10
        assert found["step/desk/cause:off-shift/mean"] == pytest.approx(1430)
    present = found["team/clerks/present"] * 3 * 1440
    assert present == pytest.approx({"finish": 35, "finish-short": 35}.get(rule, 30))


def test_a_case_handed_over_goes_on_with_a_colleague() -> None:
    """Two clerks; the first leaves for good at 10 with 5 minutes left, the second comes at 10 and goes on."""
    clerks = team(roster=[shift(0, 10), shift(10, 120)], at_shift_end="hand-over")
    found = figures(day([cases_at([5])], [desk()], [clerks], length="2 h"))
    assert found["step/desk/wait/max"] == 0
    assert found["type/all/total/mean"] == pytest.approx(10)


@pytest.mark.parametrize(
    ("taken", "starts"), [("together", (60, 60, 60)), ("in-turn", (60, 70, 80)), ("spread", (60, 75, 90))]
)
def test_breaks_together_in_turn_and_spread(taken: str, starts: tuple[int, ...]) -> None:
    """Three clerks, a break of 10 minutes after an hour; spread over a window of 40 minutes.

    A case each minute of the break window asks for one clerk for 30 s: how many are idle then shows
    in who may serve two at once.
    """
    rest = {"after": "1 h", "length": "10 min", "taken": taken} | ({"within": "40 min"} if taken == "spread" else {})
    row = shift(0, 180, people=3, breaks=[rest])
    probes = [start + 5 for start in sorted(set(starts))]
    away = [sum(start <= probe < start + 10 for start in starts) for probe in probes]
    stream = cases_at([float(probe) for probe in probes for _ in range(3)])
    found = figures(day([stream], [desk("1 min")], [team(roster=[row])], length="3 h"))
    expected = [0.0] * (3 * len(probes))
    none = sum(3 - gone for gone in away) / len(expected)
    assert found["step/desk/wait/none"] == pytest.approx(none)
    assert found["team/clerks/state:break"] == pytest.approx(30 / 540)


def test_an_interruption_of_the_whole_team_stops_all_and_of_each_only_one() -> None:
    """Two clerks work from 0 to 20; a call comes at 10 for 5 minutes and stops both, or each of them."""

    def call(strikes: str, after: Any) -> dict[str, Any]:
        return {"name": "Call", "after": after, "length": "5 min", "strikes": strikes, "work": "pause"}

    stream = cases_at([0, 0])
    whole = team(2, interruptions=[call("team", {"clock": "10 min"})])
    found = figures(day([stream], [desk("12 min")], [whole], length="18 min"))
    assert found["step/desk/wait/min"] == found["step/desk/wait/max"] == 5
    assert found["step/desk/cause:interrupted/mean"] == 5
    worn = team(2, interruptions=[call("team", {"working": "20 min"})])
    found = figures(day([stream], [desk("12 min")], [worn], length="18 min"))
    assert found["step/desk/wait/mean"] == 5
    single = team(2, interruptions=[call("each", {"working": "10 min"})])
    found = figures(day([cases_at([0, 6])], [desk("12 min")], [single], length="24 min"))
    assert found["step/desk/wait/mean"] == 5
    after_cases = team(1, interruptions=[call("each", {"cases": 2})])
    found = figures(day([cases_at([0, 0, 0])], [desk("2 min")], [after_cases], length="20 min"))
    assert found["step/desk/wait/max"] == 9


@pytest.mark.parametrize(("stay", "served", "overtime"), [("leave", 2, 5), ("clear-line", 3, 15), ("empty", 4, 25)])
def test_ways_to_stay(stay: str, served: int, overtime: int) -> None:
    """Shift until 15; cases at 0, 1, 2 of 10 minutes and one at 17: who is served by 60?

    At 15 the clerk has the second in hand and finishes it at 20. Clearing the line it also serves the third,
    who waited at 15, until 30; staying until it is empty, the one of 17 too, until 40.
    """
    clerks = team(roster=[shift(0, 15)], closing={"stay": stay})
    found = figures(day([cases_at([0, 1, 2, 17])], [desk()], [clerks], length="1 h"))
    assert found["step/desk/served"] == served
    assert found["team/clerks/present"] * 60 == pytest.approx(15 + overtime)


def test_staying_is_bounded() -> None:
    clerks = team(roster=[shift(0, 15)], closing={"stay": "empty", "at_most": "10 min"})
    found = figures(day([cases_at([0, 1, 2, 17])], [desk()], [clerks], length="1 h"))
    assert found["step/desk/served"] == 3


def test_overtime_is_paid_apart() -> None:
    clerks = team(roster=[shift(0, 15)], closing={"stay": "clear-line"}, rate=60, overtime=1.5)
    found = figures(day([cases_at([0, 1])], [desk()], [clerks], length="1 h"))
    assert found["cost/regular/per:hour"] == pytest.approx(15)
    assert found["cost/overtime-base/per:hour"] == pytest.approx(5)
    assert found["cost/overtime-premium/per:hour"] == pytest.approx(2.5)
    assert found["cost/total/per:hour"] == pytest.approx(22.5)
    assert found["type/all/cost/max"] == pytest.approx(10 + 2.5)


def test_steps_in_overtime_only_or_not_at_all() -> None:
    """The shift ends at 15 and the clerk stays until all is empty; filing is for overtime only."""
    clerks = team(roster=[shift(0, 15)], closing={"stay": "empty", "at_most": "30 min"})
    filing = desk("2 min", id="filing", overtime="only")
    late = desk("2 min", id="late", overtime="no")
    streams = [cases_at([1], to="filing"), cases_at([14, 14], to="late") | {"id": "more"}]
    found = figures(day(streams, [filing, late], [clerks], length="1 h"))
    assert found["step/filing/wait/max"] == pytest.approx(15)
    assert found["step/late/served"] == 1


def test_regular_time_and_overtime_are_told_apart() -> None:
    """The shift ends at 30; the clerk stays for who waits: served 0 to 20, 20 to 40 and 40 to 60, of which 30 overtime.

    Two leave in overtime, after waits of 20 and 40; one arrives in overtime and finds nobody.
    """
    clerks = team(roster=[shift(0, 30)], closing={"stay": "clear-line"}, rate=60, overtime=1.5, use_cost=1)
    steps = [desk("20 min", cost=2)]
    found = figures(day([cases_at([0, 0, 0, 50])], steps, [clerks], length="2 h"))
    assert (found["step/desk/arrived:regular"], found["step/desk/arrived:overtime"]) == (3, 1)
    assert (found["step/desk/served:regular"], found["step/desk/served:overtime"]) == (1, 2)
    assert (found["type/all/completed:regular"], found["outcome/out/served:overtime"]) == (1, 2)
    assert (found["step/desk/wait:regular/mean"], found["step/desk/wait:overtime/mean"]) == (0, 30)
    assert (found["type/all/wait:overtime/p90"], found["type/all/wait/mean"]) == (38, 20)
    assert (found["step/desk/cause:busy:overtime/mean"], found["type/all/cause:busy:regular/mean"]) == (30, 0)
    assert (found["cost/team/clerks/total:regular/run"], found["cost/team/clerks/total:overtime/run"]) == (32, 46)
    assert (found["cost/case:regular/run"], found["cost/case:overtime/run"]) == (2, 4)
    assert (found["cost/total:regular/run"], found["cost/total:overtime/run"]) == (34, 50)
    assert found["cost/total/run"] == 84


def test_a_day_without_overtime_has_none_of_it() -> None:
    found = figures(day([cases_at([0])], [desk()], [team(roster=[shift(0, 60)])]))
    assert (found["step/desk/served:regular"], found["step/desk/served:overtime"]) == (1, 0)
    assert (found["cost/total:overtime/run"], found["cost/total:regular/run"]) == (0, found["cost/total/run"])
    assert found["step/desk/wait:overtime/mean"] != found["step/desk/wait:overtime/mean"]


def test_days_with_overtime_and_days_without_make_one_run() -> None:
    """One case comes, or none, in the last minutes of the shift: who has no overtime counts as 0."""
    clerks = team(roster=[shift(0, 30)], closing={"stay": "clear-line"})
    cases = cases_at([22, 22], to="desk") | {
        "kind": "random",
        "chance": {"every": "22 min", "probability": 0.5},
        "limit": 1,
    }
    del cases["arrivals"]
    found = simulate(day([cases], [desk("20 min")], [clerks], run={"replications": 30}))
    served = found.values["step/desk/served:overtime"]
    assert set(served) == {0.0, 1.0}
    assert found.figure("step/desk/served:overtime").mean == served.mean()


def test_a_run_that_ends_in_overtime_counts_it() -> None:
    clerks = team(roster=[shift(0, 30)], closing={"stay": "clear-line"}, rate=60, overtime=2)
    found = figures(day([cases_at([0, 0, 0])], [desk("20 min")], [clerks], length="50 min"))
    assert (found["step/desk/served:regular"], found["step/desk/served:overtime"]) == (1, 1)
    assert (found["cost/total:regular/run"], found["cost/total:overtime/run"]) == (30, 40)


def test_overtime_before_the_warm_up_ends_is_not_counted() -> None:
    clerks = team(roster=[shift(0, 30)], closing={"stay": "clear-line"}, rate=60)
    study = day([cases_at([0, 0, 0])], [desk("20 min")], [clerks], run={"warm_up": "45 min"})
    found = figures(study)
    assert (found["step/desk/served:regular"], found["step/desk/served:overtime"]) == (0, 1)
    assert (found["cost/total:regular/run"], found["cost/total:overtime/run"]) == (0, 15)


def test_nobody_stays_for_a_case_that_waits_for_someone_who_has_gone() -> None:
    """One clerk has a case from 4 to 9 and goes at 10; it asks for the same at 17. The other goes at 20."""
    steps = [
        desk("5 min", needs=[{"team": "clerks", "as": "mine"}], to="rest"),
        {"id": "rest", "name": "Rest", "kind": "delay", "time": "8 min", "next": [{"to": "again"}]},
        desk("5 min", id="again", needs=[{"team": "clerks", "same_as": "mine"}]),
    ]
    clerks = team(roster=[shift(0, 10), shift(0, 20)], picks="listed", closing={"stay": "clear-line"})
    found = figures(day([cases_at([4])], steps, [clerks], length="1 d"))
    assert found["team/clerks/present"] * 1440 == pytest.approx(10 + 20)
    assert found["type/all/inside"] == 1
