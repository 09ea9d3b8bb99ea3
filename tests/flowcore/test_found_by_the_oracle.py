"""What a second engine found wrong, each shrunk to a day that can be followed with a pencil."""

from flowcore.reports.event_log import event_log
from tests.flowcore.builders import Part
from tests.flowcore.days import cases_at, day, desk, figures, shift, team

NURSES = [{"team": "nurses"}]


def signal_step(name: str, to: str, **more: Part) -> Part:
    return {"id": name, "name": name.title(), "kind": "signal", "next": [{"to": to}]} | more


def stream(name: str, minute: float, to: str) -> Part:
    return cases_at([minute], to=to) | {"id": name, "name": name.title()}


def test_a_case_costs_no_labour_while_its_member_is_away() -> None:
    """Work 0 to 10 and, after a break of 10 minutes, 20 to 30: 20 minutes at 60 an hour."""
    rest = {"after": "10 min", "length": "10 min"}
    clerks = team(roster=[shift(0, 240, breaks=[rest])], at_break="pause", rate=60)
    found = figures(day([cases_at([0])], [desk("20 min")], [clerks]))
    assert (found["type/all/total/mean"], found["type/all/cost/mean"]) == (30, 20)


def test_each_visit_has_its_own_part_of_a_kept_member() -> None:
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "keep_until": "second"}], to="second"),
        desk("10 min", id="second"),
    ]
    found = figures(day([cases_at([0], to="first")], steps, [team(rate=60)]))
    assert (found["step/first/cost/mean"], found["step/second/cost/mean"]) == (5, 10)


def test_of_a_group_nobody_begins_before_all_have_come() -> None:
    """Two come at once to a line that takes the last first."""
    study = day([cases_at([0], group=2)], [desk(line={"discipline": "last-come"})], [team()])
    assert [each.case for each in event_log(study, 0) if each.event == "work began"] == [2, 1]


def test_who_asks_for_a_particular_person_waits_its_turn() -> None:
    """At 5 the second case, which came at 1, goes before the first, which comes to its second step only then."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "as": "c"}], to="second"),
        desk("10 min", id="second", needs=[{"team": "clerks", "same_as": "c"}]),
    ]
    found = figures(day([cases_at([0, 1], to="first")], steps, [team()]))
    assert (found["step/second/wait/min"], found["step/second/wait/max"]) == (5, 10)


def three_steps(patience: Part, third: list[Part]) -> list[Part]:
    return [
        desk("10 min", id="one", needs=NURSES),
        desk("1 min", id="two", needs=[{"team": "nurses", "count": 2}], reserve=True, line=patience),
        desk("20 min", id="three", needs=third),
    ]


THREE_STREAMS = [stream("a", 0, "one"), stream("b", 1, "two"), stream("c", 2, "three")]


def test_what_is_held_back_is_not_taken_by_another() -> None:
    """From 1 the second nurse is kept for who needs two; the third case may have her or the clerk: the clerk."""
    teams = [team(2, id="nurses", skills=["desk"]), team(skills=["desk"])]
    found = figures(day(THREE_STREAMS, three_steps({}, [{"skill": "desk", "prefer": ["nurses"]}]), teams))
    assert (found["step/two/wait/mean"], found["step/three/wait/mean"]) == (9, 0)


def test_what_is_held_back_is_free_when_who_waits_for_it_gives_up() -> None:
    """Who needs two nurses gives up at 4; the other nurse serves the third case, which came at 2, from then on."""
    patience = {"patience": "3 min", "gives_up_to": "out"}
    found = figures(day(THREE_STREAMS, three_steps(patience, NURSES), [team(2, id="nurses")]))
    assert found["step/three/wait/mean"] == 2


def test_all_that_a_signal_lets_go_leave_before_one_of_them_moves() -> None:
    """Three are held until 10; the way of each hangs on who is still held."""
    rule = {"all": [{"fact": "line:gate", "is": "at-most", "value": 0}]}
    choose: Part = {"id": "choose", "name": "Choose", "kind": "choose", "pick": "rule"}
    choose["next"] = [{"to": "desk", "when": rule}, {"to": "out", "otherwise": True}]
    steps = [signal_step("gate", "choose", clears={"every": "10 min"}), choose, desk("1 min", needs=[])]
    assert figures(day([cases_at([0, 0, 0], to="gate")], steps, []))["link/choose:desk/arrived"] == 3


def test_a_hold_may_wait_for_the_end_of_another() -> None:
    """Both pass the first signal, at 5 and at 10; the end of the second there lets the first go on at 10."""
    steps = [
        signal_step("one", "two", clears={"every": "5 min"}),
        signal_step("two", "out", clears={"after_step": "one"}),
    ]
    found = figures(day([cases_at([0, 6], to="one")], steps, []))
    assert (found["type/all/completed"], found["type/all/total/mean"]) == (1, 10)


def test_the_cause_is_an_absence_that_would_meet_all_needs_together() -> None:
    """A nurse or the clerk, and the clerk beside: the nurse comes at 60."""
    teams = [team(id="nurses", skills=["desk"], roster=[shift(60, 120)]), team(skills=["desk"])]
    found = figures(day([cases_at([0])], [desk("5 min", needs=[{"skill": "desk"}, {"team": "clerks"}])], teams))
    assert (found["type/all/cause:off-shift/mean"], found["type/all/wait/mean"]) == (60, 60)


def test_who_escorts_a_case_walks_to_where_it_is() -> None:
    """1 minute in the hall; the clerk walks 2 minutes from the den to the hall, both 1 to the yard; 1 minute there."""
    site = {
        "places": [{"id": name, "name": name, "x": x, "y": 0} for name, x in (("hall", 0), ("yard", 72), ("den", 144))]
    }
    first = desk("1 min", id="first", needs=[], place="hall")
    first["next"] = [{"to": "last", "travel": "walk", "escort": {"team": "clerks"}}]
    steps = [first, desk("1 min", id="last", needs=[], place="yard")]
    clerks = team(place="den", walks=True)
    assert figures(day([cases_at([0], to="first")], steps, [clerks], site=site))["type/all/total/mean"] == 5


def test_who_is_blocked_before_a_line_without_places_comes_in_turn() -> None:
    """Cases at 0, 1 and 2 of 5 minutes each, one clerk and no line: they leave at 5, 10 and 15."""
    found = figures(day([cases_at([0, 1, 2])], [desk("5 min", line={"max": 0})], [team()]))
    assert (found["type/all/total/max"], found["type/all/blocked/max"]) == (13, 8)


def choice_by_wait(over: str, otherwise: str) -> Part:
    late = {"to": "late", "when": {"all": [{"fact": "waited-here", "is": "over", "value": over}]}}
    return {"id": "choice", "name": "Choice", "kind": "choose", "next": [late, {"to": otherwise}]}


LATE = {"id": "late", "name": "Late", "kind": "exit"}


def test_a_choice_before_a_line_that_blocks_knows_the_wait_of_this_step_only() -> None:
    """The second waits 10 minutes for the first desk and none for the second, so it goes on to the third."""
    steps = [
        desk(id="first", to="second"),
        desk("5 min", id="second", team="nurses", to="choice"),
        choice_by_wait("5 min", "third"),
        desk("1 min", id="third", needs=[], line={"max": 1}),
        LATE,
    ]
    found = figures(day([cases_at([0, 0], to="first")], steps, [team(), team(id="nurses")]))
    assert (found["step/first/wait/max"], found["outcome/out/served"]) == (10, 2)


def test_who_gave_up_has_waited_where_it_gave_up() -> None:
    line = {"patience": "20 min", "gives_up_to": "choice"}
    steps = [desk("60 min", line=line), choice_by_wait("10 min", "out"), LATE]
    found = figures(day([cases_at([0, 0])], steps, [team()]))
    assert (found["outcome/late/served"], found["outcome/out/served"]) == (1, 1)


def test_the_wait_for_an_escort_is_part_of_the_wait_at_the_step_it_leaves() -> None:
    """The second waits 10 minutes at the desk and 5 for its guide: 15 in all."""
    way = [{"to": "choice", "escort": {"team": "guides"}}]
    late = {"days": ["mon"], "from": "08:25", "to": "12:00", "people": 1}
    steps = [desk(next=way), choice_by_wait("12 min", "out"), LATE]
    found = figures(day([cases_at([0, 0])], steps, [team(), team(id="guides", roster=[late])]))
    assert (found["outcome/late/served"], found["outcome/out/served"]) == (2, 0)


def test_nobody_gives_up_by_the_patience_of_another() -> None:
    """A branch's patience ended with its line; the record of the branch went on to another, and its number must not."""
    steps = [
        {"id": "walk", "name": "Walk", "kind": "delay", "time": "5 min", "next": [{"to": "parts"}]},
        {
            "id": "parts",
            "name": "Parts",
            "kind": "fork",
            "join": "whole",
            "next": [{"to": "four", "chance": 0.5}, {"to": "five"}, {"to": "six"}],
        },
        desk("4 min", id="four", needs=NURSES, line={"max": 2}, to="whole"),
        desk("1 min", id="five", line={"patience": "6 min", "gives_up_to": "whole"}, to="whole"),
        desk("4 min", id="six", needs=[{"team": "nurses", "count": 2}], to="whole"),
        {"id": "whole", "name": "Whole", "kind": "join", "next": [{"to": "out"}]},
    ]
    teams = [team(2, id="nurses"), team()]
    found = [figures(day([cases_at([1, 4], to="walk")], steps, teams, run={"seed": seed})) for seed in (3, 5, 6, 7)]
    assert [each["step/six/abandoned"] for each in found] == [0, 0, 0, 0]


def test_who_is_let_go_while_away_after_its_shift_goes_home() -> None:
    """Kept by a case that gives up at 45; its shift ended at 30, and a call at 40 keeps it away for 20 minutes."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "keep_until": "second"}], to="second"),
        desk("5 min", id="second", needs=[{"team": "nurses"}], line={"patience": "40 min", "gives_up_to": "out"}),
    ]
    calls = {"name": "Call", "after": {"clock": "40 min"}, "length": "20 min", "strikes": "each", "work": "pause"}
    clerks = team(roster=[shift(0, 30)], interruptions=[calls])
    nurses = team(id="nurses", roster=[shift(100, 200)])
    study = day([cases_at([0], to="first")], steps, [clerks, nurses])
    found = [(each.minute, each.event) for each in event_log(study, 0) if each.member.startswith("Clerks")]
    assert found[-2:] == [(40, "interrupted"), (45, "shift ended")]


def test_a_particular_person_is_there_as_soon_as_another_is_held_back_instead() -> None:
    """A permit reserves one at a desk, the nurse first, and the room that is taken till 40.

    The nurse is busy till 20, so the clerk is held back from the case that came to ask for it again at 10.
    """
    at_desk = {"skill": "desk", "prefer": ["nurses"]}
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "as": "c"}], to="walk"),
        {"id": "walk", "name": "Walk", "kind": "delay", "time": "5 min", "next": [{"to": "second"}]},
        desk("5 min", id="second", needs=[{"team": "clerks", "same_as": "c"}]),
        desk("20 min", id="nurse", needs=NURSES),
        desk("40 min", id="room", needs=[{"team": "rooms"}]),
        desk("5 min", id="permit", needs=[at_desk, {"team": "rooms"}], reserve=True),
    ]
    teams = [team(skills=["desk"]), team(id="nurses", skills=["desk"]), team(id="rooms", kind="places")]
    streams = [stream("a", 0, "first"), stream("b", 0, "nurse"), stream("c", 0, "room"), stream("d", 6, "permit")]
    found = figures(day(streams, steps, teams))
    assert (found["step/second/wait/max"], found["step/permit/wait/max"]) == (10, 34)


def test_who_holds_back_two_of_a_team_holds_back_no_more_than_it_can_use() -> None:
    """At 30 a colleague comes; who asks for two in regular time holds back that one, and not who is in overtime."""
    steps = [
        desk("10 min", id="pair", needs=[{"team": "clerks"}, {"team": "clerks"}], reserve=True, overtime="no"),
        desk("5 min", id="one"),
    ]
    rows = [shift(0, 30), shift(30, 60), shift(40, 60)]
    clerks = team(roster=rows, closing={"stay": "empty"})
    streams = [stream("a", 1, "pair"), stream("b", 2, "one")]
    found = figures(day(streams, steps, [clerks]))
    assert found["step/one/wait/max"] == 28


def test_who_goes_home_is_not_called_away_at_the_same_instant() -> None:
    """Calls come 60 minutes after another and last 10; the shift ends at 130 as the second comes due."""
    calls = {"name": "Call", "after": {"clock": "60 min"}, "length": "10 min", "strikes": "each"}
    others = team(id="nurses", roster=[shift(100, 200)])
    study = day([], [desk()], [team(roster=[shift(0, 130)], interruptions=[calls]), others], length="150 min")
    found = [(each.minute, each.event) for each in event_log(study, 0) if each.event != "shift began"]
    assert found == [(60, "interrupted"), (70, "came back"), (130, "shift ended")]


def test_at_the_opening_all_in_the_line_begin_before_others_come_in() -> None:
    """Two are in the line, the last first, and the third is blocked outside it until the step opens at 40."""
    at_forty = {"id": "hours", "name": "Hours", "weekly": [{"days": ["mon"], "from": "08:40", "to": "12:00"}]}
    steps = [{"id": "desk", "name": "Desk", "kind": "serve", "work": "5 min", "next": [{"to": "out"}]}]
    steps[0] |= {"open": "hours", "line": {"discipline": "last-come", "max": 2}}
    study = day([cases_at([1, 2, 3])], steps, [], calendars=[at_forty])
    assert [each.case for each in event_log(study, 0) if each.event == "work began"] == [2, 1, 3]


def test_who_lets_its_own_person_go_while_blocked_waits_for_that_person() -> None:
    """Blocked from 64 before a room that is taken till 90; its clerk is called away at 70, then busy from 75 to 115."""
    calls = {"name": "Call", "after": {"clock": "70 min"}, "length": "5 min", "strikes": "team", "work": "hand-over"}
    steps = [
        desk("4 min", id="first", needs=[{"team": "clerks", "as": "c"}], to="second", when_blocked="keeps-people"),
        desk(id="second", needs=[{"team": "rooms"}, {"team": "clerks", "same_as": "c"}], line={"max": 0}),
        desk("30 min", id="room", needs=[{"team": "rooms"}]),
        desk("40 min", id="third"),
    ]
    streams = [stream("a", 60, "first"), stream("b", 60, "room"), stream("c", 72, "third")]
    found = figures(day(streams, steps, [team(interruptions=[calls]), team(id="rooms", kind="places")]))
    assert (found["step/first/blocked/mean"], found["step/second/wait/mean"]) == (51, 0)
