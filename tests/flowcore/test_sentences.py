"""What a run says in sentences: of the demo studies, of studies made for one sentence each, and of any study."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings

from flowcore.findings.run import MOST_TOLD, RULES, in_short, sentences
from flowcore.findings.source import Source
from flowcore.findings.told import Kind, Told
from flowcore.findings.waits import hours_around, worst_hour
from flowcore.findings.words import figure_words
from flowcore.problems import StudyError
from flowcore.reports.keeping import Keeps, keeps_target
from flowcore.results.catalogue import titled
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, elements, read_study
from flowcore.study.durations import spoken
from flowcore.thresholds import LOST_IS_TOLD
from tests.flowcore.builders import document, exit_step, exponential, serve
from tests.flowcore.days import cases_at, day, desk, shift, team
from tests.flowcore.random_studies import documents

DEMO = Path(__file__).parents[2] / "demo"


def said(of: StudyDocument, kind: Kind | None = None) -> list[str]:
    """Return what a study's run says, of one kind or at all."""
    return [str(each) for each in sentences(of, simulate(of)) if kind in (None, each.kind)]


def busy_desk(cases: int = 50, size: int = 1, **more: Any) -> StudyDocument:
    """A case a minute, each served for two minutes by a clerk: the n-th waits n - 1."""
    roster = more.pop("roster", None)
    clerks = team(size, **more.pop("clerks", {}))
    clerks = clerks | ({"roster": roster} if roster else {})
    return day([cases_at([float(n) for n in range(cases)])], [desk("2 min", **more.pop("line", {}))], [clerks], **more)


@pytest.mark.parametrize(
    ("study", "told"),
    [
        (
            "residents-hall",
            [
                "Target missed: 9 in 10 wait up to 27 minutes (wanted: at most 20 minutes).",
                "Half of the cases wait under 7.0 minutes, one in ten over 27 minutes.",
                "Most waiting in line is at Counter: 8.2 minutes a visit, 4.0 minutes while all Clerks are busy, "
                "2.2 minutes for the end of a break and 1.9 minutes for a shift to begin.",
            ],
        ),
        (
            "phone-line",
            [
                "Target missed: 76 % wait at most 30 s at Lost property call (wanted: at least 80 %).",
                "884 of 9,012 cases give up (9.8 %); the line is left most at Lost property call, by 922.",
                "62 % of the cases do not wait at all, one in ten waits over 3.8 minutes. The mean of 34 minutes is "
                "made by few: those who leave by Called back wait 10.3 hours on average, those by Answered 31 seconds.",
            ],
        ),
        (
            "animal-clinic",
            [
                "Target missed: 9 in 10 of Emergency wait up to 29 minutes (wanted: at most 15 minutes).",
                "52 of 909 cases give up (5.7 %), at Consultation.",
                "Half of the cases wait under 9.5 minutes, one in ten over 49 minutes.",
            ],
        ),
        (
            "tree-permits",
            [
                "Half of the cases are through within 14.1 days, one in ten takes over 21.8 days.",
                "Target too close to tell: 9 in 10 of Dangerous tree take up to 2.0 days (wanted: at most 3.0 days).",
                "Most waiting in line is at Decision: 17.9 hours a visit, for a shift to begin.",
            ],
        ),
    ],
)
def test_what_a_demo_study_says_first(study: str, told: list[str]) -> None:
    of = read_study(json.loads((DEMO / f"{study}.json").read_text()))
    results = simulate(of, numbers=range(5), threads=2)
    found = [str(each) for each in sentences(of, results)]
    assert found[: len(told)] == told
    assert len(found) == MOST_TOLD
    assert in_short(sentences(of, results)) == " ".join(told[:2])


def test_a_line_that_grows_by_a_minute_a_case() -> None:
    """Of fifty cases the n-th waits n - 1 minutes for the one clerk, who is at work until the end of the run."""
    found = said(busy_desk(length="100 min"))
    assert found[0].startswith("Clerks were at work 100.0 % of their time: their lines grow")
    assert "Half of the cases wait under 24 minutes, one in ten over 44 minutes." in found
    assert "Most waiting in line is at Desk: 24 minutes a visit, while all Clerks are busy." in found


def test_nobody_waits() -> None:
    assert said(busy_desk(size=9), Kind.WAIT) == ["100 % of the cases do not wait at all."]


def test_most_do_not_wait() -> None:
    """Two of ten come together with another: eight do not wait, two for two minutes."""
    apart = [0.0, 0, 10, 10, 20, 30, 40, 50, 60, 70]
    found = said(day([cases_at(apart)], [desk("2 min")], [team()]), Kind.WAIT)
    assert found == ["80 % of the cases do not wait at all, one in ten waits over 2.0 minutes."]


def test_most_wait_for_what_nobody_can_hurry() -> None:
    """A ferry leaves at 60 minutes: who comes at 0, 20 and 40 waits 60, 40 and 20."""
    pier = {"id": "pier", "name": "Pier", "kind": "signal", "clears": {"every": "60 min"}, "next": [{"to": "out"}]}
    study = day([cases_at([0.0, 20, 40], to="pier")], [pier], [])
    assert said(study, Kind.WHY) == ["Most of all waiting is at Pier, for a signal to clear: 40 minutes a visit."]
    apart = [0.0, 1, 2, 3, 4, 5]
    queued = day([cases_at(apart)], [desk("30 min") | {"next": [{"to": "pier"}]}, pier], [team()], length="9 h")
    assert said(queued, Kind.WHY)[0].startswith("Most waiting in line is at Desk")


def test_nothing_came_to_its_end() -> None:
    assert said(day([cases_at([0])], [desk("9 h")], [team()]), Kind.WAIT) == ["No case came to its end."]
    assert sentences(busy_desk(), Results.of([], 0.95)) == []


def test_who_gives_up_and_who_is_turned_away() -> None:
    """Of ten at once one is served and one stands in line; the other eight go, or give up after a minute."""
    at_once = [cases_at([0.0] * 10)]
    lost = {"id": "lost", "name": "Lost", "kind": "exit", "abandoned": True}
    impatient = desk("30 min", line={"patience": "1 min", "gives_up_to": "lost"})
    full = desk("30 min", line={"max": 1, "when_full": "turn-away", "full_to": "lost"})
    assert said(day(at_once, [impatient, lost], [team()]), Kind.LOST) == ["9.0 of 10 cases give up (90 %), at Desk."]
    assert said(day(at_once, [full, lost], [team()]), Kind.LOST) == ["8.0 of 10 cases are turned away (80 %), at Desk."]


def test_targets_missed_kept_and_too_close_to_tell() -> None:
    targets = [
        {"figure": "type/all/wait/p90", "at_most": "10 min"},
        {"figure": "step/desk/wait/within:2min", "at_least": 0.9},
        {"figure": "step/desk/wait/mean", "at_most": "1 h"},
    ]
    missed, kept = all_said(busy_desk(targets=targets, length="3 h"), Kind.TARGET)
    assert missed == (
        "Targets missed: 9 in 10 wait up to 44 minutes (wanted: at most 10 minutes) and "
        "6.0 % wait at most 2 min at Desk (wanted: at least 90 %)."
    )
    assert kept == "Target kept: the wait at Desk is 24 minutes (wanted: at most 60 minutes)."


def test_more_than_three_targets_are_counted() -> None:
    targets = [{"figure": f"type/all/wait/within:{n}min", "at_least": 0.99} for n in range(1, 6)]
    [missed] = said(busy_desk(targets=targets, length="3 h"), Kind.TARGET)
    assert missed.endswith("% wait at most 3 min (wanted: at least 99 %) and 2 more.")


def test_few_make_the_mean() -> None:
    """Of ten cases one waits a day for a signal; the other nine do not wait at all."""
    step = {"id": "way", "name": "Way", "kind": "choose", "pick": "rule"}
    rule = {"all": [{"fact": "type", "is": "equal", "value": "slow"}]}
    ways = [{"to": "morning", "when": rule}, {"to": "desk", "otherwise": True}]
    morning = {
        "id": "morning",
        "name": "Morning",
        "kind": "signal",
        "clears": {"every": "8 h"},
        "next": [{"to": "late"}],
    }
    late = {"id": "late", "name": "Later", "kind": "exit"}
    types = [{"id": "slow", "name": "Slow"}, {"id": "quick", "name": "Quick"}]
    cases = cases_at([10.0 * n for n in range(1, 11)], to="way", types=["slow", *["quick"] * 9])
    of = day([cases], [step | {"next": ways}, morning, late, desk("2 min")], [team()], "12 h", case_types=types)
    [told] = said(of, Kind.WAIT)
    assert told == (
        "90 % of the cases do not wait at all, one in ten waits over 47 minutes. The mean of 47 minutes is made "
        "by few: those who leave by Later wait 7.8 hours on average, those by Out 0 seconds."
    )


def test_why_cases_wait_when_nobody_is_there_yet() -> None:
    """Ten cases at once an hour before the shift begins, with 6 minutes of work each: 60 for the shift, 27 in line."""
    of = day([cases_at([0.0] * 10)], [desk("6 min")], [team(roster=[shift(60, 200)])])
    assert said(of, Kind.WHY) == [
        "Most waiting in line is at Desk: 87 minutes a visit, 60 minutes for a shift to begin and "
        "27 minutes while all Clerks are busy."
    ]


def test_rooms_that_are_taken_are_called_by_their_name() -> None:
    rooms = team(1, id="rooms", name="Rooms", kind="places")
    of = day([cases_at([0.0] * 10)], [desk("6 min", needs=[{"team": "rooms"}])], [rooms])
    assert said(of, Kind.WHY) == ["Most waiting in line is at Desk: 27 minutes a visit, while all Rooms are taken."]


def test_when_it_is_worst() -> None:
    """Forty cases come from 10:00 on, one a minute: they wait 19.5 minutes. At other hours one comes in six minutes."""
    crowd, quiet = [120.0 + n for n in range(40)], [n for n in range(0, 360, 6) if not 120 <= n < 210]
    of = day([cases_at(sorted([*crowd, *quiet]))], [desk("2 min")], [team()], "7 h")
    [told] = said(of, Kind.WORST)
    assert told == "It is worst there from 10:00 to 11:00: who comes on a Monday after 10:00 waits 20 minutes."


def test_the_worst_hour_needs_some_visits_and_has_to_stand_out() -> None:
    waits, came = np.full(168, 5.0), np.full(168, 10.0)
    assert worst_hour(waits, came) is None, "all hours are alike"
    waits[30], waits[50], came[50] = 20.0, 90.0, 0.01
    assert worst_hour(waits, came) == 30
    assert worst_hour(waits, np.zeros(168)) is None
    waits[[6, 7, 31]] = 4.9
    assert hours_around(np.tile(np.arange(24) % 12, 7).astype(float), came, 11) == (9, 12)


def test_who_is_stretched_in_an_hour_and_who_is_free() -> None:
    """The clerk works all of 8:00 to 9:00 and nothing after that; a guard is paid and has no work."""
    of = day(
        [cases_at([0.0] * 10), {**cases_at([1.0], to="gate"), "id": "more"}],
        [desk("6 min"), desk("1 min", team="guards", id="gate")],
        [team(rate=20), team(id="guards", rate=10)],
    )
    [told] = said(of, Kind.PEOPLE)
    assert told == (
        "Clerks are at work 100 % of the time on Monday 8:00 to 9:00. "
        "Clerks are at work 25 % and Guards 0.4 % of the time."
    )


def test_a_team_that_is_nearly_full_and_called_in_the_singular() -> None:
    of = day([cases_at([0.0] * 39)], [desk("6 min", team="booth")], [team(id="booth", kind="equipment")])
    assert said(of, Kind.PEOPLE) == [
        "Booth is in use 98 % of the time: a little more work would make waits much longer."
    ]


def test_what_a_day_costs() -> None:
    """A shift of four hours, in which eight cases take 12 minutes each: 80 in wages, 48 of it idle, 10 a case."""
    clerks = team(roster=[shift(0, 240)], rate=20)
    of = day([cases_at([30.0 * n for n in range(10)])], [desk("12 min")], [clerks], "24 h")
    found = all_said(of, Kind.COST)
    assert found == ["A day costs EUR 80, EUR 48 of it is paid waiting for work; a completed case costs EUR 10."]


def test_a_day_of_opening_is_told_from_a_day_by_the_clock() -> None:
    clerks = team(roster=[shift(0, 240)], rate=20)
    clerks["roster"][0]["days"] = ["mon"]
    of = day([cases_at([0.0])], [desk("12 min")], [clerks], "7 d")
    found = all_said(of, Kind.COST)
    assert found == [
        "A day of opening costs EUR 80, EUR 76 of it is paid waiting for work; a completed case costs EUR 80."
    ]


def test_too_few_replications_are_told_last() -> None:
    of = document([serve("desk", exponential(4), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    study = read_study(of | {"run": {"length": "5 h", "replications": 3, "seed": 3}})
    assert all_said(study, Kind.DOUBT)[-1] == "The mean wait is not known well yet: more replications make it sharper."


def numbers_told(told: Told, study: StudyDocument) -> Iterator[tuple[str, str]]:
    """Yield the address and the words of each figure in a sentence; names lead to figures too, and are left out."""
    names = {each.name for _, each in elements(study)}
    for piece in told.sentence:
        if piece.address and piece.words not in names:
            yield piece.address, piece.words


def all_said(of: StudyDocument, kind: Kind) -> list[str]:
    """Return all sentences of a kind, also those that others would leave out."""
    return [str(told) for rule in RULES for told in rule(Source(of, simulate(of))) if told.kind is kind]


@settings(max_examples=40, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck))
@given(documents(length="30 h", warm_up="0 min", replications=2))
def test_every_number_is_the_figure_at_its_address_and_every_condition_holds(written: dict[str, Any]) -> None:
    targets = [{"figure": "type/all/wait/p90", "at_most": "5 min"}, {"figure": "cost/total/per:day", "at_most": 100}]
    study = read_study(written | {"targets": targets})
    try:
        results = simulate(study)
    except StudyError as error:
        assume("stand" not in str(error))
        raise
    source = Source(study, results)
    for told in (told for rule in RULES for told in rule(source)):
        for address, words in numbers_told(told, study):
            title = titled(address, study)
            assert title is not None, address
            assert words == figure_words(source.mean(address), title.unit, study.currency), address
        match told.kind:
            case Kind.LOST:
                lost = ("type/all/abandoned/of:arrived", "type/all/turned-away/of:arrived")
                assert max(source.mean(each) for each in lost) >= LOST_IS_TOLD
            case Kind.TARGET:
                kept = [keeps_target(source.figure(each.figure), each) for each in study.targets]
                assert told.is_wrong == ("missed" in str(told).partition(":")[0])
                assert (Keeps.MISSED in kept) or not told.is_wrong
            case Kind.COST:
                assert source.mean("cost/total/per:day") > 0
            case Kind.WHY | Kind.WORST:
                assert any(source.mean(f"step/{step.id}/cause:any/mean") > 0 for step in study.steps)


@pytest.mark.parametrize(
    ("minutes", "words"),
    [
        (0, "0 seconds"),
        (1 / 60, "1 second"),
        (1.49, "89 seconds"),
        (1.5, "1.5 minutes"),
        (9.96, "10.0 minutes"),
        (10.4, "10 minutes"),
        (119.4, "119 minutes"),
        (120, "2.0 hours"),
        (1440, "24.0 hours"),
    ],
)
def test_minutes_in_words(minutes: float, words: str) -> None:
    assert spoken(minutes) == words
