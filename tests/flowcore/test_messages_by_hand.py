"""A case that waits for a message about itself, followed with a pencil."""

from typing import Any

import pytest

from flowcore.problems import StudyError
from flowcore.study import read_study
from tests.flowcore.builders import Part, exit_step
from tests.flowcore.days import cases_at, day, desk, figures, team
from tests.flowcore.test_flow_by_hand import delay, passage

DAYS = 1440


def waits(message: str, to: str = "both", step_id: str = "waits", **more: Any) -> Part:
    return passage(step_id, "signal", to, clears={"message": message}, **more)


def mark(step_id: str, to: str = "both") -> Part:
    """Return a step at which nothing happens."""
    return passage(step_id, "choose", to)


def either(step_id: str, fact: Part, to: str, otherwise: str) -> Part:
    ways = [{"to": to, "when": {"all": [fact]}}, {"to": otherwise, "otherwise": True}]
    return passage(step_id, "choose", ways, pick="rule")


def parts(*ways: str) -> list[Part]:
    """Return a fork and its join: the case itself goes the first way, a partner each other one."""
    return [passage("parts", "fork", [{"to": way} for way in ways], join="both"), passage("both", "join", "out")]


def test_an_applicant_asks_again_until_the_answer_comes() -> None:
    """Applied on day 0, examined for 28 days, answered in 30 minutes, a day in the post: there after 29 d 30 min.

    Letters that ask go out on day 15, 20 and 25, and are read in 10 minutes each; the next would be on day 30.
    """
    steps = [
        *parts("waits", "examined"),
        waits("delivered"),
        delay("examined", "28 d", "answers"),
        desk("30 min", id="answers", to="post"),
        delay("post", "1 d", "delivered"),
        mark("delivered"),
        desk("10 min", id="reads", cost=5),
    ]
    asks = {"id": "asks", "name": "Asks", "from": "waits", "to": "both", "within": "15 d"}
    deadline = asks | {"then": {"send": "reads", "every": "5 d"}}
    study = day([cases_at([0], to="parts")], steps, [team(rate=30, paid="used")], deadlines=[deadline], length="60 d")
    found = figures(study)
    assert found["step/waits/cause:signal/mean"] == 29 * DAYS + 30
    assert (found["type/all/completed"], found["type/all/total/mean"]) == (1, 29 * DAYS + 30)
    assert (found["step/reads/served"], found["step/answers/served"]) == (3, 1)
    assert (found["deadline/asks/started"], found["deadline/asks/missed"]) == (1, 1)
    assert found["cost/regular/per:day"] * 60 == pytest.approx(30)
    assert found["cost/case/per:day"] * 60 == pytest.approx(15)


def test_the_office_waits_for_that_letter() -> None:
    """The companion of case 1, sent after 5 minutes, lets the partner of case 1 go, not that of case 2."""
    steps = [
        *parts("asks", "office"),
        delay("asks", "20 min", "both"),
        waits("letter", step_id="office"),
        mark("letter", "out"),
    ]
    late = {"id": "late", "name": "Late", "from": "asks", "to": "both", "within": "5 min", "then": {"send": "letter"}}
    found = figures(day([cases_at([0, 2], to="parts")], steps, [], deadlines=[late]))
    assert (found["step/office/wait/min"], found["step/office/wait/max"]) == (5, 5)
    assert found["type/all/total/mean"] == 20


def test_a_message_that_comes_first_is_kept_and_taken_once() -> None:
    """Told at 1 and at 3, heard from 2 on, again at 2, and a third time at 3 after which none comes."""
    third = {"fact": "visits:hears", "is": "at-least", "value": 3}
    early = {"fact": "in-system", "is": "under", "value": 4}
    steps = [
        *parts("later", "first"),
        delay("later", "2 min", "hears"),
        waits("tells", "more", "hears"),
        either("more", third, "both", "hears"),
        delay("first", "1 min", "tells"),
        delay("tells", "2 min", "tells-again"),
        either("tells-again", early, "tells", "both"),
    ]
    found = figures(day([cases_at([0], to="parts")], steps, []))
    assert (found["step/hears/arrived"], found["step/hears/served"], found["step/hears/inside/end"]) == (3, 2, 1)
    assert found["step/hears/wait/max"] == 1


def test_a_batch_comes_apart_where_each_waits_for_its_own() -> None:
    """Two are gathered at 1; the partner of the first tells at 3, that of the other at 6."""
    steps = [
        *parts("bus", "home"),
        passage("bus", "gather", "waits", count=2),
        waits("told"),
        desk("3 min", id="home", to="told"),
        mark("told"),
    ]
    found = figures(day([cases_at([0, 1], to="parts")], steps, [team()]))
    assert (found["step/waits/wait/min"], found["step/waits/wait/max"]) == (2, 5)
    assert found["type/all/completed"] == 2


def test_one_who_is_diverted_hears_no_more() -> None:
    """Diverted at 5, told at 6: the message is kept, and taken when it comes back at 9."""
    steps = [
        *parts("waits", "partner"),
        waits("tells"),
        delay("partner", "6 min", "tells"),
        mark("tells"),
        delay("aside", "4 min", "waits"),
    ]
    late = {"id": "late", "name": "Late", "from": "waits", "to": "both", "within": "5 min", "then": {"divert": "aside"}}
    found = figures(day([cases_at([0], to="parts")], steps, [], deadlines=[late]))
    assert (found["type/all/total/mean"], found["step/waits/arrived"]) == (9, 2)


def test_what_is_told_of_a_case_that_has_left_is_told_nobody() -> None:
    steps = [
        *parts("leaves", "listens", "later"),
        passage("leaves", "choose", [{"to": "out", "share": 1}, {"to": "both", "share": 0}]),
        waits("tells", step_id="listens"),
        delay("later", "3 min", "tells"),
        mark("tells"),
    ]
    found = figures(day([cases_at([0], to="parts"), cases_at([5], to="parts") | {"id": "more"}], steps, []))
    assert (found["type/all/completed"], found["step/listens/inside/end"]) == (2, 2)


def test_who_waits_for_a_message_has_no_hours() -> None:
    study = {"name": "T", "steps": [waits("out", "out", open="doors"), exit_step()]}
    with pytest.raises(StudyError, match="A message lets one case go, whenever it comes"):
        read_study(study)


def test_one_of_two_messages_leads_on_by_whose_it_is() -> None:
    """Each case is granted at 2 or refused at 5, by its number; who waits goes the way of what was heard."""
    granted = {"fact": "trait:good", "is": "equal", "value": 1}
    heard = {"fact": "message", "is": "equal", "value": "refuses"}
    steps = [
        *parts("waits", "office"),
        passage("waits", "signal", "which", clears={"message": "grants", "also": ["refuses"]}),
        either("which", heard, "objects", "both"),
        delay("objects", "10 min", "both"),
        either("office", granted, "soon", "late"),
        delay("soon", "2 min", "grants"),
        delay("late", "5 min", "refuses"),
        mark("grants"),
        mark("refuses"),
    ]
    good = cases_at([0, 1, 2], to="parts") | {"id": "good", "traits": {"good": 1}}
    study = day(
        [good, cases_at([0], to="parts")],
        steps,
        [],
        traits=[{"id": "good", "name": "Good", "kind": "number", "start": 0}],
    )
    found = figures(study)
    assert (found["step/objects/served"], found["step/grants/arrived"], found["step/refuses/arrived"]) == (1, 3, 1)
    assert (found["type/all/total/max"], found["type/all/total/min"]) == (15, 2)


def test_of_messages_kept_that_of_the_step_named_first_is_taken() -> None:
    """Refused at 1 and granted at 2, both kept when it comes at 5: first it hears of the grant, then of the refusal."""
    heard = {"fact": "message", "is": "equal", "value": "grants"}
    steps = [
        *parts("busy", "office"),
        delay("busy", "5 min", "waits"),
        passage("waits", "signal", "which", clears={"message": "grants", "also": ["refuses"]}),
        either("which", heard, "rests", "both"),
        delay("rests", "4 min", "waits"),
        delay("office", "1 min", "refuses"),
        mark("refuses", "more"),
        delay("more", "1 min", "grants"),
        mark("grants"),
    ]
    found = figures(day([cases_at([0], to="parts")], steps, []))
    assert (found["step/waits/served"], found["step/rests/served"], found["type/all/total/mean"]) == (2, 1, 9)


def test_the_case_may_leave_before_its_branches() -> None:
    """It sends word and leaves at 3; its branch works on until 10, is told nothing more, and holds nobody."""
    steps = [
        passage("parts", "fork", [{"to": "short"}, {"to": "works"}], join="over"),
        delay("short", "3 min", "out"),
        desk("10 min", id="works", to="over"),
        passage("over", "join", "out"),
    ]
    found = figures(day([cases_at([0, 20], to="parts")], steps, [team()]))
    assert (found["type/all/total/max"], found["step/works/served"], found["type/all/completed"]) == (3, 2, 2)
    assert found["step/works/inside/end"] == 0


def test_a_branch_that_forks_ends_at_the_join_of_its_own_fork() -> None:
    """The branch sends somebody off at 4, for whom it does not wait, and is at the join at 4; the case goes on at 6."""
    steps = [
        *parts("slow", "quick"),
        delay("slow", "6 min", "both"),
        delay("quick", "4 min", "sends"),
        passage("sends", "fork", [{"to": "both"}, {"to": "works"}], join="over"),
        desk("10 min", id="works", to="over"),
        passage("over", "join", "out"),
    ]
    found = figures(day([cases_at([0, 20], to="parts")], steps, [team()]))
    assert (found["type/all/total/max"], found["type/all/completed"], found["step/works/served"]) == (6, 2, 2)
    assert (found["step/both/arrived"], found["step/both/inside/end"]) == (4, 0)


def test_a_branch_that_forks_and_leaves_is_waited_for_no_more() -> None:
    """It leaves by an exit at 4, and who it has sent off works on until 14; the case goes on at 6."""
    steps = [
        *parts("slow", "quick"),
        delay("slow", "6 min", "both"),
        delay("quick", "4 min", "sends"),
        passage("sends", "fork", [{"to": "may"}, {"to": "works"}], join="over"),
        passage("may", "choose", [{"to": "gone", "share": 1}, {"to": "both", "share": 0}]),
        exit_step("gone"),
        desk("10 min", id="works", to="over"),
        passage("over", "join", "out"),
    ]
    found = figures(day([cases_at([0, 20], to="parts")], steps, [team()]))
    assert (found["type/all/total/max"], found["type/all/completed"], found["step/works/served"]) == (6, 2, 2)


def test_who_is_diverted_past_a_join_waits_at_the_next_one() -> None:
    """Diverted at 5 out of an inner fork, the case waits for the branch of the outer one, until 12."""
    steps = [
        *parts("inner", "long"),
        delay("long", "12 min", "both"),
        passage("inner", "fork", [{"to": "waits"}, {"to": "works"}], join="meets"),
        waits("never", to="meets"),
        desk("3 min", id="works", to="meets"),
        passage("meets", "join", "never"),
        mark("never"),
    ]
    late = {"id": "late", "name": "Late", "from": "waits", "to": "never", "within": "5 min", "then": {"divert": "both"}}
    found = figures(day([cases_at([0], to="parts")], steps, [team()], deadlines=[late]))
    assert (found["type/all/total/mean"], found["step/both/arrived"]) == (12, 2)
