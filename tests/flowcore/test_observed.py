"""What is known of the real service beside what was simulated, one more of each, and like things as tables."""

from typing import Any

import pytest

from flowcore.problems import StudyError
from flowcore.reports.formulas import formulas_beside
from flowcore.reports.groups import groups_of
from flowcore.reports.observed import Fit, held_against
from flowcore.reports.one_more import FEWEST, MOST, buys, candidates, how_often, measures, with_one_more
from flowcore.results.comparison import Verdict
from flowcore.results.statistics import Estimate
from flowcore.simulate import simulate
from flowcore.study import StudyDocument
from tests.flowcore.builders import exponential, single_line
from tests.flowcore.days import cases_at, day, desk, shift, team

WAIT, LOAD, LOST = "type/all/wait/mean", "team/clerks/utilisation", "type/all/abandoned"
MEASURED = {"figure": WAIT, "value": "12 min", "low": "9 min", "high": "13 min"}


def fit_of(observed: dict[str, Any], mean: float | None, half: float = 0.0) -> Fit:
    """Return what is told of one thing that was observed, with the figure that a run has there."""
    study = day([cases_at([0.0])], [desk()], [team()], observed=[observed])
    figure = Estimate(mean, half, mean - half, mean + half, half, 9) if mean is not None else None
    [fit] = held_against(study, {observed["figure"]: figure} if figure else {})
    return fit


@pytest.mark.parametrize(
    ("observed", "mean", "half", "fits", "words"),
    [
        ({"figure": WAIT, "value": "12 min"}, 12.5, 0.1, True, "fits"),
        ({"figure": WAIT, "value": "12 min"}, 10.0, 0.5, False, "does not fit, 17 % too low"),
        ({"figure": WAIT, "value": "12 min"}, 10.0, 1.5, True, "fits"),
        (MEASURED, 9.1, 0.2, True, "fits"),
        ({"figure": LOST, "value": 42, "per": "week"}, 1.5, 0.1, False, "does not fit, 50 % too high"),
        ({"figure": LOST, "value": 12, "low": 9, "high": 15, "per": "day"}, 2.4, 0.0, True, "fits"),
        (MEASURED, 15.0, 1.0, False, "does not fit, 25 % too high"),
        ({"figure": LOAD, "value": 0.85}, 0.95, 0.01, False, "does not fit, 12 % too high"),
        ({"figure": LOST, "value": 0}, 3.2, 0.1, False, "does not fit, 3.2 too high"),
        ({"figure": LOST, "value": 0}, 0.0, 0.0, True, "fits"),
        ({"figure": WAIT, "value": "12 min"}, None, 0, None, "the run has no such figure"),
        ({"figure": "no/such/thing", "value": 1}, 1.0, 0.0, True, "the run has no such figure"),
    ],
)  # fmt: skip
def test_what_was_observed_fits_or_by_how_much_it_does_not(
    observed: dict[str, Any], mean: float | None, half: float, fits: bool | None, words: str
) -> None:
    found = fit_of(observed, mean, half)
    assert (found.fits, found.words) == (fits, words)


@pytest.mark.parametrize("ends", [{"low": "9 min"}, {"low": "13 min", "high": "9 min"}])
def test_ends_of_what_was_observed_come_in_pairs_and_in_order(ends: dict[str, str]) -> None:
    with pytest.raises(StudyError):
        fit_of({"figure": WAIT, "value": "12 min"} | ends, 12.0)


def test_formulas_stand_beside_where_they_come_close() -> None:
    """A line of M/M/1 at a load of 0.8: four minutes of work, a mean wait of 16; with a roster no formula tells it."""
    one = single_line(exponential(4), 1, 5, length="20 d", replications=10)
    found = formulas_beside(one, simulate(one).figures())
    assert {line.address: round(line.formula, 3) for line in found.lines} == {WAIT: 16.0, LOAD: 0.8}
    assert {line.words for line in found.lines} == {"as by formula"}
    assert found.reasons == []
    apart = {LOAD: Estimate(0.6, 0.01, 0.59, 0.61, 0.01, 9), WAIT: Estimate(32.0, 1.0, 31.0, 33.0, 1.0, 9)}
    told = {line.address: line.words for line in formulas_beside(one, apart).lines}
    assert told == {WAIT: "100 % more than by formula", LOAD: "25 % less than by formula"}
    assert formulas_beside(shifts(), simulate(shifts()).figures()).reasons[-1] == "Teams come and go."


def shifts() -> StudyDocument:
    """Ten cases at once with six minutes of work: one clerk in a shift with five minutes' wait, one for later."""
    clerks = team(roster=[shift(0, 120), shift(120, 240)], rate=20)
    guards = team(2, id="guards", rate=10)
    return day([cases_at([0.0] * 10)], [desk("6 min")], [clerks, guards], run={"replications": 4})


def test_one_more_of_each_team_and_of_each_shift() -> None:
    study = shifts()
    told = {one.id: one.words for one in candidates(study)}
    assert told == {
        "clerks": "One more of Clerks in every shift",
        "clerks/0": "One more of Clerks, Mon to Sun 08:00 to 10:00",
        "clerks/1": "One more of Clerks, Mon to Sun 10:00 to 12:00",
        "guards": "One more of Guards",
    }
    by_id = {one.id: with_one_more(study, one).teams for one in candidates(study)}
    assert [row.people for row in by_id["clerks"][0].roster] == [2, 2]
    assert [row.people for row in by_id["clerks/1"][0].roster] == [1, 2]
    assert by_id["guards"][1].size == 3
    assert by_id["guards"][0] == study.teams[0]


def test_what_one_more_buys_by_hand() -> None:
    """With two clerks the mean wait falls from 27 to 12 minutes; the later shift changes nothing but its wages."""
    study = shifts()
    results = simulate(study)
    bought = {one.id: buys(study, results, one) for one in candidates(study)}
    first, later = ({row.address: row.cells[1] for row in bought[each].measures} for each in ("clerks/0", "clerks/1"))
    wait, cost = measures(study)
    assert first[wait].difference is not None
    assert first[wait].difference.mean == pytest.approx(-15)
    assert first[wait].verdict is Verdict.BETTER
    assert first[cost].difference is not None
    assert first[cost].difference.mean == pytest.approx(40)
    assert later[wait].verdict is Verdict.SAME
    assert later[cost].verdict is Verdict.WORSE
    assert bought["clerks/0"].replications == 4


def test_a_try_has_as_many_replications_as_its_seconds_allow() -> None:
    assert how_often(0.01, 30) == MOST
    assert how_often(1.0, 30) == FEWEST
    assert how_often(0.3, 30) == 10
    assert how_often(0.01, 3) == 3


def test_like_things_as_tables_without_what_is_nowhere() -> None:
    lost = {"id": "lost", "name": "Lost", "kind": "exit", "abandoned": True}
    step = desk("10 min", line={"patience": "1 min", "gives_up_to": "lost"})
    study = day([cases_at([0.0, 0.0, 30.0])], [step, lost], [team(2)], "1 h")
    groups = {group.subject: group for group in groups_of(study, simulate(study).figures())}
    assert list(groups) == ["outcome", "stream", "link", "member"]
    outcomes = groups["outcome"]
    assert [column.words for column in outcomes.columns] == ["cases", "time, mean", "half within", "9 in 10 within"]
    assert [row.name for row in outcomes.rows] == ["Lost", "Out"]
    counts = [[cell.figure.mean if cell else None for cell in row.cells] for row in groups["stream"].rows]
    assert counts == [[3, 3, 10]]
    assert [row.name for row in groups["member"].rows] == ["Clerks 1", "Clerks 2"]
