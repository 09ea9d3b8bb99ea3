"""More of what a second engine found, on forks, gatherings, signals, escorts and calls: days worked out by hand."""

import pytest

from flowcore.simulate import simulate
from tests.flowcore.builders import Part
from tests.flowcore.days import cases_at, clock, day, desk, figures, shift, team
from tests.flowcore.test_found_by_the_oracle import signal_step, stream

MONDAY = ["mon"]


def fork(name: str, join: str, *ways: str) -> Part:
    return {"id": name, "name": name.title(), "kind": "fork", "join": join, "next": [{"to": way} for way in ways]}


def plain(name: str, kind: str, to: str, **more: object) -> Part:
    return {"id": name, "name": name.title(), "kind": kind, "next": [{"to": to}], **more}


def test_a_fork_sends_the_case_along_its_first_way_first() -> None:
    """One clerk for both branches: the first way is served 0 to 4, the second waits until then."""
    steps = [fork("fork", "join", "one", "two"), desk("4 min", id="one", to="join"), desk("5 min", id="two", to="join")]
    found = figures(day([cases_at([0], to="fork")], [*steps, plain("join", "join", "out")], [team()]))
    assert (found["step/one/wait/mean"], found["step/two/wait/mean"]) == (0, 4)


def test_a_batch_comes_apart_in_the_order_in_which_it_was_gathered() -> None:
    """Urgency does not count in this line: 1, 2 and 3 minutes of work are done one after another from 5 on."""
    work = {"by_type": {"a": "1 min", "b": "2 min", "c": "3 min"}, "otherwise": "1 min"}
    steps = [plain("gather", "gather", "part", count=3), plain("part", "scatter", "desk"), desk(work)]
    types = [{"id": name, "name": name.upper()} for name in "abc"]
    streams = [cases_at([0, 3, 5], to="gather", types=["a", "b", "c"])]
    found = figures(day(streams, steps, [team()], case_types=types))
    assert [found[f"type/{name}/total/mean"] for name in "abc"] == [6, 5, 6]


def test_forks_that_share_a_join_are_both_over_before_the_case_goes_on() -> None:
    """The inner branch takes 2 minutes, the outer one 1: the case leaves at 2, after both."""
    steps = [
        fork("outer", "join", "inner", "one"),
        fork("inner", "join", "join", "two"),
        desk("1 min", id="one", to="join", needs=[]),
        desk("2 min", id="two", to="join", needs=[]),
        plain("join", "join", "out"),
    ]
    found = figures(day([cases_at([0], to="outer")], steps, []))
    assert (found["type/all/total/mean"], found["type/all/completed"]) == (2, 1)


def test_a_branch_passes_deadlines_for_its_case() -> None:
    """Both ends lie on the second branch, 7 minutes apart: missed after 5, once."""
    steps = [
        fork("fork", "join", "join", "taken"),
        desk("7 min", id="taken", to="read", needs=[]),
        desk("1 min", id="read", to="join", needs=[]),
        plain("join", "join", "out"),
    ]
    late = {"id": "late", "name": "Late", "from": "taken", "to": "read", "within": "5 min", "then": {"send": "out"}}
    found = figures(day([cases_at([0], to="fork")], steps, [], deadlines=[late]))
    assert (found["deadline/late/started"], found["deadline/late/missed"], found["deadline/late/left"]) == (1, 1, 0)


def test_a_gathering_counts_its_time_from_the_first_who_is_still_there() -> None:
    """The first is diverted at 3; the second came at 2, so the batch goes at 12, not at 10."""
    late = {"id": "late", "name": "Late", "from": "gather", "to": "out", "within": "3 min"}
    late["then"] = {"divert": "out"}
    streams = [stream("one", 0, "first"), stream("two", 2, "gather")]
    steps = [plain("first", "set", "gather", traits={}), plain("gather", "gather", "out", count=9, or_after="10 min")]
    found = figures(day(streams, steps, [], deadlines=[late | {"from": "first"}]))
    assert (found["stream/one/total/mean"], found["stream/two/total/mean"]) == (3, 10)


def test_signals_that_come_together_let_go_as_many_as_each() -> None:
    """Two are gathered at 5; the end of each there lets one go of the two who are held."""
    steps = [
        plain("gather", "gather", "out", count=2),
        signal_step("gate", "out", clears={"after_step": "gather"}, lets_go=1),
    ]
    streams = [cases_at([0, 1], to="gate"), {**cases_at([4, 5], to="gather"), "id": "others", "name": "Others"}]
    found = figures(day(streams, steps, []))
    assert (found["step/gate/served"], found["step/gate/wait/max"]) == (2, 5)


def test_a_signal_of_a_step_lets_nobody_go_who_waits_for_an_escort_there() -> None:
    """The only clerk is away from 1 to 20; who was let go at 2 waits for her, and a signal at 5 changes nothing."""
    gate = signal_step("gate", "out", clears={"after_step": "bell"})
    gate["next"] = [{"to": "out", "escort": {"team": "clerks"}}]
    steps = [gate, desk("1 min", id="bell", needs=[])]
    streams = [cases_at([0], to="gate"), {**cases_at([1, 4], to="bell"), "id": "bells", "name": "Bells"}]
    clerks = team(roster=[shift(20, 60)])
    assert figures(day(streams, steps, [clerks]))["stream/cases/total/mean"] == 20


def test_a_hold_costs_and_its_minutes_may_be_necessary() -> None:
    steps = [signal_step("gate", "out", clears={"every": "10 min"}, cost=2, value="necessary")]
    found = figures(day([cases_at([0, 4], to="gate")], steps, []))
    assert (found["cost/case/run"], found["type/all/value:necessary/mean"]) == (4, 8)


def test_holds_that_open_at_one_time_are_open_for_who_comes_from_one_to_the_other() -> None:
    """The second lets go one of those who wait as it opens; the two from the first come through it open."""
    hours = [{"days": MONDAY, "from": clock(60), "to": clock(120)}]
    calendars = [{"id": name, "name": name.title(), "weekly": hours} for name in ("early", "late")]
    steps = [signal_step("one", "two", open="early"), signal_step("two", "out", open="late", lets_go=1)]
    found = figures(day([cases_at([0, 1], to="one")], steps, [], calendars=calendars))
    assert (found["type/all/completed"], found["type/all/total/max"]) == (2, 60)


def test_what_shuts_as_the_run_ends_is_shut_for_a_signal_then() -> None:
    hours = [{"days": MONDAY, "from": clock(0), "to": clock(60)}]
    calendars = [{"id": "hours", "name": "Hours", "weekly": hours}]
    steps = [signal_step("gate", "out", clears={"every": "60 min"}, open="hours")]
    found = figures(day([cases_at([0], to="gate")], steps, [], length="1 h", calendars=calendars))
    assert found["type/all/inside"] == 1


def test_two_breaks_that_come_due_at_once_still_call_the_next_in_turn() -> None:
    """Both have 20 minutes at 60; one after the other has 10 more: each is away for 30 minutes in all."""
    in_turn = {"at": clock(60), "length": "10 min", "taken": "in-turn"}
    together = {"at": clock(60), "length": "20 min"}
    clerks = team(roster=[shift(0, 240, people=2, breaks=[in_turn, together])])
    found = figures(day([cases_at([0, 0])], [desk("61 min")], [clerks]))
    assert found["member/clerks:2/state:break"] * 240 == pytest.approx(30)


def test_who_pre_empts_puts_down_only_what_it_lacks() -> None:
    """A room is idle, the clerk is not: only the clerk's case is put down, not the one in the other room."""
    types = [{"id": "usual", "name": "Usual"}, {"id": "urgent", "name": "Urgent", "priority": 2}]
    both = [{"team": "clerks"}, {"team": "rooms"}]
    steps = [
        desk("20 min", id="calls", needs=[{"team": "clerks"}]),
        desk("30 min", id="rests", needs=[{"team": "rooms"}]),
        desk("5 min", id="urgent", needs=both, preempts=True),
    ]
    streams = [
        stream("one", 0, "calls") | {"mix": [{"type": "usual", "share": 1}]},
        stream("two", 1, "rests") | {"mix": [{"type": "usual", "share": 1}]},
        stream("three", 2, "urgent") | {"mix": [{"type": "urgent", "share": 1}]},
    ]
    teams = [team(), team(2, id="rooms", kind="places")]
    found = figures(day(streams, steps, teams, case_types=types))
    assert [found[f"stream/{name}/total/mean"] for name in ("one", "two", "three")] == [25, 30, 5]


def test_a_case_is_called_to_a_line_without_places_only_while_its_own_clerk_is_free() -> None:
    """The way takes a minute; meanwhile its clerk has begun with another, so it waits for her until 9."""
    first = desk("2 min", id="first", needs=[{"team": "clerks", "as": "own"}])
    first["next"] = [{"to": "last", "travel": "1 min"}]
    last = desk("3 min", id="last", needs=[{"team": "clerks", "same_as": "own"}], line={"max": 0})
    other = desk("6 min", id="other")
    streams = [stream("one", 0, "first"), stream("two", 1, "other")]
    found = figures(day(streams, [first, last, other], [team()]))
    assert found["stream/one/total/mean"] == 12


def test_the_line_before_a_place_is_of_those_who_wait_for_that_place() -> None:
    """One waiting room for both places: one is served and one waits in the hall, one is served in the yard."""
    site = {"places": [{"id": name, "name": name, "x": 0, "y": 0, "capacity": 1} for name in ("hall", "yard")]}
    places = {"places": [{"place": "hall"}, {"place": "yard"}], "pick_place": "shortest-line"}
    step = desk("10 min", needs=[], line={"shared": "room"}, **places)
    found = figures(day([cases_at([0, 1, 2, 3])], [step], [], site=site))
    assert found["step/desk/wait/max"] == 8


def test_who_leaves_an_escorts_line_was_not_at_the_step_any_more() -> None:
    """The first is diverted while it waits for an escort behind the desk: nobody is at the desk as the second comes."""
    step = desk("1 min", needs=[])
    step["next"] = [{"to": "out", "escort": {"team": "clerks"}}]
    late = {"id": "late", "name": "Late", "from": "desk", "to": "out", "within": "5 min", "then": {"divert": "out"}}
    found = simulate(day([cases_at([0])], [step], [team(roster=[shift(200, 220)])], deadlines=[late]))
    assert found.values["step/desk/inside/max"].tolist() == [1]
    assert found.values["step/desk/inside/mean"].tolist() == [1 / 240]
