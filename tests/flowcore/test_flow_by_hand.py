"""Every kind of step, line and way, followed with a pencil."""

from typing import Any

import pytest

from flowcore.results.cost_lines import cost_lines
from tests.flowcore.builders import Part, exit_step
from tests.flowcore.days import at, cases_at, day, desk, figures, shift, team


def passage(step_id: str, kind: str, to: str | list[Part], **more: Any) -> Part:
    """Return a step of another kind than `serve`."""
    links = [{"to": to}] if isinstance(to, str) else to
    return {"id": step_id, "name": step_id.title(), "kind": kind, "next": links} | more


def delay(step_id: str, time: str, to: str) -> Part:
    return passage(step_id, "delay", to, time=time)


def test_blocking_keeps_places_and_frees_people() -> None:
    """First 2 min with a nurse in one room, then 10 min with a doctor before whom one may wait.

    Cases at 0, 0, 0, 0: the first ends its 2 minutes at 2 and sees the doctor till 12; the second ends at
    4 and waits in the line; the third ends at 6 and is blocked in its room until 12; the fourth gets
    the room only then, and works 12-14; then it is blocked until 22 and sees the doctor 32-42.
    """
    needs = [{"team": "nurses"}, {"team": "rooms"}]
    rooms = team(id="rooms") | {"kind": "places"}
    steps = [
        desk("2 min", id="triage", needs=needs, to="doctor"),
        desk("10 min", id="doctor", team="doctors", line={"max": 1}),
    ]
    teams = [team(id="nurses"), rooms, team(id="doctors")]
    found = figures(day([cases_at([0, 0, 0, 0], to="triage")], steps, teams))
    assert found["step/triage/blocked/max"] == 8
    assert found["step/triage/blocked/mean"] == pytest.approx((0 + 0 + 6 + 8) / 4)
    assert found["step/triage/wait/max"] == 12
    assert found["step/triage/cause:place/mean"] == pytest.approx(6 / 4)
    assert found["step/triage/cause:busy/mean"] == pytest.approx((2 + 4 + 6) / 4)
    assert found["type/all/cause:next-line/mean"] == pytest.approx(3.5)
    assert found["team/nurses/working"] * 240 == pytest.approx(8)
    assert found["team/rooms/working"] * 240 == pytest.approx(8 + 14)
    assert found["type/all/total/max"] == 42


def test_blocking_may_keep_people_too() -> None:
    steps = [
        desk("2 min", id="triage", team="nurses", to="doctor", when_blocked="keeps-people"),
        desk("10 min", id="doctor", team="doctors", line={"max": 0}),
    ]
    found = figures(day([cases_at([0, 0], to="triage")], steps, [team(id="nurses"), team(id="doctors")]))
    assert found["step/triage/blocked/max"] == 8
    assert found["team/nurses/working"] * 240 == pytest.approx(12)
    assert found["step/doctor/wait/max"] == 0


def test_a_full_line_blocks_before_the_door_or_turns_away() -> None:
    """One clerk, 10 minutes each, one place in the line; cases at 0, 1, 2."""
    blocked = figures(day([cases_at([0, 1, 2])], [desk(line={"max": 1})], [team()]))
    assert blocked["type/all/total/max"] == 28
    assert blocked["type/all/blocked/max"] == 8
    assert blocked["step/desk/wait/max"] == 10
    turned = desk(line={"max": 1, "when_full": "turn-away", "full_to": "left"})
    found = figures(day([cases_at([0, 1, 2])], [turned, exit_step("left", abandoned=True)], [team()]))
    assert found["step/desk/turned-away"] == found["type/all/turned-away"] == 1
    assert found["type/all/abandoned"] == 0
    assert found["type/all/completed"] == 2


def test_balking_patience_and_minimum_wait() -> None:
    """Cases at 0, 1, 2, 3 of 10 minutes: the one at 2 sees a line of 1; those in line lose patience after 5."""
    left = exit_step("left", abandoned=True)
    balks = desk(line={"balk_at": 1, "balks_to": "left"})
    found = figures(day([cases_at([0, 1, 2, 3])], [balks, left], [team()]))
    assert found["step/desk/abandoned"] == 2
    impatient = desk(line={"patience": "5 min", "gives_up_to": "left"})
    found = figures(day([cases_at([0, 1, 2, 3])], [impatient, left], [team()]))
    assert found["step/desk/abandoned"] == 3
    assert found["outcome/left/wait/max"] == 5
    slow = desk(line={"min_wait": "3 min"})
    found = figures(day([cases_at([0, 1])], [slow], [team()]))
    assert found["step/desk/wait/min"] == 3
    assert found["step/desk/wait/max"] == 12
    assert found["step/desk/cause:minimum/mean"] == 3
    assert found["step/desk/cause:busy/mean"] == pytest.approx(4.5)


TYPES = [{"id": "a", "name": "A"}, {"id": "b", "name": "B", "priority": 2}, {"id": "c", "name": "C", "priority": 1}]


@pytest.mark.parametrize(
    ("discipline", "waits"),
    [
        ("first-come", {"a": 4, "c": 8, "b": 10}),
        ("last-come", {"b": 2, "c": 10, "a": 14}),
        ("priority", {"b": 2, "c": 10, "a": 14}),
        ("due", {"b": 2, "c": 10, "a": 14}),
        ("shortest-work", {"c": 3, "a": 7, "b": 10}),
    ],
)
def test_disciplines(discipline: str, waits: dict[str, float]) -> None:
    """One of each type waits while a case of 10 minutes is served; who goes first shows in its wait."""
    kinds = ["a", "a", "c", "b"]
    works = {"a": "5 min", "b": "7 min", "c": "3 min"}
    types = [{**kind, "due": due} for kind, due in zip(TYPES, ("50 min", "5 min", "20 min"), strict=True)]
    step = desk({"by_type": works, "otherwise": "1 min"}, line={"discipline": discipline})
    found = figures(day([cases_at([0, 1, 2, 3], types=kinds)], [step], [team()], case_types=types))
    assert {kind: found[f"type/{kind}/wait/max"] for kind in "abc"} == waits


def test_random_order_serves_all_alike() -> None:
    step = desk("1 min", line={"discipline": "random"})
    found = figures(day([cases_at([0.0] * 120)], [step], [team()]))
    assert found["step/desk/served"] == 120
    assert found["step/desk/wait/max"] == 119


def test_an_urgent_case_pre_empts_and_the_displaced_one_goes_on() -> None:
    """A from 0, urgent B from 4 to 11, then C of higher priority than A, and A's last 6 minutes from 21."""
    works = {"by_type": {"b": "7 min"}, "otherwise": "10 min"}
    step = desk(works, preempts=True, line={"discipline": "priority"})
    stream = cases_at([0, 4, 5], types=["a", "b", "c"])
    found = figures(day([stream], [step], [team()], case_types=TYPES))
    assert found["type/b/wait/max"] == 0
    assert found["type/c/total/max"] == pytest.approx(16)
    assert found["type/a/total/max"] == pytest.approx(27)


def test_a_step_of_higher_priority_goes_first_and_its_priority_is_left_behind_there() -> None:
    """One clerk: the call of 1 goes before the letter that waits since 0.5; then letters by their turn, called or not.

    The first letter is in work from 0 to 10, the call from 10 to 20; who called writes a letter at 20, behind that of
    0.5, which is done at 30, and is done at 40.
    """
    phone = desk(id="phone", priority=1) | {"next": [{"to": "letters"}]}
    letters = desk(id="letters")
    streams = [cases_at([0, 0.5], to="letters"), cases_at([1], to="phone", id="calls")]
    found = figures(day(streams, [phone, letters], [team()]))
    assert found["step/phone/wait/max"] == 9
    assert found["step/letters/wait/max"] == 19.5
    assert found["stream/calls/total/max"] == 39


def test_priorities_of_step_and_case_type_add_up() -> None:
    """The clerk is free at 10. At the phone (1) waits a (0) since 1, at the letters b (1) since 2 and c (2) since 3.

    Where the letters go by priority it is c, then a, who is as urgent as b and came before, then b. Where they go as
    they came b is their head: it is a, then b, then c.
    """
    phone, letters = desk(id="phone", priority=1), desk(id="letters", line={"discipline": "priority"})
    streams = [
        cases_at([0], to="letters"),
        cases_at([1], to="phone", id="calls", types=["a"]),
        cases_at([2, 3], to="letters", id="mail", types=["b", "c"]),
    ]

    def waits(discipline: str) -> tuple[float, float, float]:
        line = {"line": {"discipline": discipline}}
        kinds = [
            {"id": "a", "name": "A"},
            {"id": "b", "name": "B", "priority": 1},
            {"id": "c", "name": "C", "priority": 2},
        ]
        found = figures(day(streams, [phone, letters | line], [team()], case_types=kinds))
        return tuple(found[f"stream/{stream}/wait/max"] for stream in ("calls", "mail"))  # type: ignore[return-value]

    assert waits("priority") == (19, 28)
    assert waits("first-come") == (9, 27)


def test_a_step_of_higher_priority_displaces_work_of_a_lower_one() -> None:
    """The call of 4 takes the clerk from the letter begun at 0, which has its last 6 minutes from 14 on."""
    phone, letters = desk(id="phone", priority=1, preempts=True), desk(id="letters")
    found = figures(
        day([cases_at([0], to="letters"), cases_at([4], to="phone", id="calls")], [phone, letters], [team()])
    )
    assert found["step/phone/wait/max"] == 0
    assert found["stream/cases/total/max"] == 20


def test_reserve_holds_back_for_a_case_that_needs_two() -> None:
    """A pair waits for two clerks of whom one is busy till 10; without reserve, singles keep overtaking."""

    def served_at(reserve: bool) -> float:
        pair = desk("4 min", id="pair", needs=[{"team": "clerks", "count": 2}], reserve=reserve)
        single = desk("10 min", id="single")
        streams = [cases_at([0, 3, 8], to="single"), cases_at([1], to="pair") | {"id": "pairs"}]
        return figures(day(streams, [pair, single], [team(2)]))["step/pair/wait/max"]

    assert served_at(reserve=True) == 9
    assert served_at(reserve=False) == 19


def test_skills_with_preference() -> None:
    """Juniors are preferred for what both can do; a task for seniors only is not kept waiting by it."""
    both = desk("10 min", id="easy", needs=[{"skill": "easy", "prefer": ["juniors"]}])
    hard = desk("10 min", id="hard", needs=[{"team": "seniors"}, {"skill": "easy"}])
    seniors, juniors = team(id="seniors", skills=["easy"]), team(id="juniors", skills=["easy"])
    streams = [cases_at([0], to="easy"), cases_at([0, 1], to="hard") | {"id": "more"}]
    found = figures(day([streams[0]], [both], [seniors, juniors]))
    assert found["team/juniors/working"] > 0 == found["team/seniors/working"]
    found = figures(day([streams[1]], [hard, both], [seniors, juniors]))
    assert found["step/hard/wait/max"] == 9
    assert found["team/juniors/working"] == found["team/seniors/working"]


def test_a_kept_member_stays_and_the_same_member_is_waited_for() -> None:
    """The nurse of the first step is kept until the second ends; the third asks for the same nurse again."""
    steps = [
        desk("2 min", id="fetch", needs=[{"team": "nurses", "as": "nurse", "keep_until": "treat"}], to="walk"),
        delay("walk", "3 min", "treat"),
        desk("4 min", id="treat", needs=[{"team": "nurses"}], to="rest"),
        delay("rest", "5 min", "tell"),
        desk("1 min", id="tell", needs=[{"team": "nurses", "same_as": "nurse"}]),
    ]
    found = figures(day([cases_at([0], to="fetch")], steps, [team(2, id="nurses")]))
    assert found["team/nurses/working"] * 240 == pytest.approx(2 + 3 + 4 + 1)
    assert found["member/nurses:1/working"] * 240 == pytest.approx(10)
    found = figures(day([cases_at([0, 8], to="fetch")], steps, [team(1, id="nurses")]))
    assert found["step/tell/wait/max"] == 18 - 14
    assert found["step/tell/cause:person/mean"] == pytest.approx(2)


def test_changeover_between_types() -> None:
    step = desk("2 min", changeover="3 min")
    stream = cases_at([0, 0, 0], types=["a", "a", "b"])
    found = figures(day([stream], [step], [team()], case_types=TYPES))
    assert found["type/b/work/max"] == 5
    assert found["type/a/work/max"] == 2


def test_fork_and_join() -> None:
    """Two branches of 4 and 9 minutes: the case takes 9 and waits 5 of them for the other branch."""
    steps = [
        passage("part", "fork", [{"to": "short"}, {"to": "long"}], join="meet"),
        delay("short", "4 min", "meet"),
        delay("long", "9 min", "meet"),
        passage("meet", "join", "out"),
    ]
    found = figures(day([cases_at([0], to="part")], steps, []))
    assert found["type/all/total/max"] == 9
    assert found["type/all/cause:branches/mean"] == 5
    assert found["type/all/completed"] == 1
    assert found["step/meet/arrived"] == found["step/meet/served"] == 2
    assert found["step/meet/inside/end"] == 0


def test_a_fork_takes_each_way_with_its_own_chance() -> None:
    ways = [{"to": "one", "chance": 0.5}, {"to": "other", "chance": 0.25}]
    steps = [
        passage("part", "fork", ways, join="meet"),
        delay("one", "1 min", "meet"),
        delay("other", "1 min", "meet"),
        passage("meet", "join", "out"),
    ]
    found = figures(day([cases_at([0.0] * 1000, to="part")], steps, []))
    assert found["type/all/completed"] == 1000
    assert found["step/one/arrived"] == pytest.approx(500, abs=4 * 250**0.5)
    assert found["step/other/arrived"] == pytest.approx(250, abs=4 * 187.5**0.5)


def test_gather_and_scatter() -> None:
    """A bus for three, or after 10 minutes; 5 minutes' ride; then each goes on by itself."""
    steps = [
        passage("stop", "gather", "ride", count=3, or_after="10 min"),
        desk("5 min", id="ride", team="buses", to="leave"),
        passage("leave", "scatter", "pay"),
        delay("pay", "1 min", "out"),
    ]
    found = figures(day([cases_at([0, 2, 4, 20], to="stop")], steps, [team(id="buses", rate=60)]))
    assert found["type/all/completed"] == 4
    assert found["step/ride/served"] == 4
    assert found["step/pay/served"] == 4
    assert found["step/stop/cause:batch/mean"] == pytest.approx((4 + 2 + 0 + 10) / 4)
    assert found["type/all/total/max"] == 16
    assert found["type/all/work/max"] == found["type/all/work/min"] == 6
    assert found["type/all/cost/min"] == pytest.approx(5 / 3)
    assert found["type/all/inside/end"] == 0


@pytest.mark.parametrize(
    ("clears", "more", "waits"),
    [
        ({"every": "10 min"}, {}, [8, 5, 9]),
        ({"every": "10 min", "first": "4 min"}, {}, [2, 9, 3]),
        ({"at": ["08:12"]}, {}, [10, 7, 1]),
        ({"waiting": 2}, {}, [3, 0, None]),
        ({"every": "10 min"}, {"lets_go": 1}, [8, 15, 19]),
    ],
)
def test_signals(clears: Part, more: Part, waits: list[float | None]) -> None:
    """Cases at 2, 5 and 11 are held until a signal."""
    gate = passage("gate", "signal", "out", clears=clears, **more)
    found = figures(day([cases_at([2, 5, 11], to="gate")], [gate], [], length="1 h"))
    left = [each for each in waits if each is not None]
    assert found["step/gate/served"] == len(left)
    assert found["step/gate/wait/mean"] == pytest.approx(sum(left) / len(left))
    assert found["step/gate/cause:signal/mean"] == pytest.approx(sum(left) / len(left))


def test_a_step_raises_a_signal() -> None:
    steps = [passage("gate", "signal", "out", clears={"after_step": "desk"}), desk("10 min")]
    streams = [cases_at([1, 2], to="gate"), cases_at([5]) | {"id": "key"}]
    found = figures(day(streams, steps, [team()]))
    assert found["step/gate/wait/max"] == 14


def test_opening_hours() -> None:
    calendar = {"id": "late", "name": "Late", "weekly": [{"days": ["mon"], "from": "08:20", "to": "08:40"}]}
    steps = [desk("15 min", open="late"), passage("gate", "signal", "out", open="late")]
    streams = [cases_at([0, 1]), cases_at([3, 30], to="gate") | {"id": "more"}]
    found = figures(day(streams, steps, [team()], calendars=[calendar]))
    assert found["step/desk/served"] == 2
    assert found["step/desk/wait/max"] == 34
    assert found["step/desk/cause:closed/mean"] == pytest.approx((20 + 19) / 2)
    assert found["step/gate/wait/max"] == 17
    assert found["step/gate/wait/min"] == 0


def test_a_deadline_sends_errands_until_the_case_is_taken_on() -> None:
    """The second case waits 20 minutes; after 5, and then every 5, someone asks where it is."""
    deadline = {"id": "ask", "name": "Ask", "from": "desk", "to": "desk", "within": "5 min"}
    steps = [desk("20 min"), delay("phone", "1 min", "out")]
    sends = [deadline | {"then": {"send": "phone", "every": "5 min"}}]
    found = figures(day([cases_at([0, 0])], steps, [team()], deadlines=sends))
    assert found["step/phone/arrived"] == 3
    assert (found["deadline/ask/started"], found["deadline/ask/met"], found["deadline/ask/missed"]) == (2, 1, 1)
    assert found["type/all/completed"] == found["type/all/arrived"] == 2
    diverts = [deadline | {"then": {"divert": "phone"}}]
    found = figures(day([cases_at([0, 0])], steps, [team()], deadlines=diverts))
    assert found["step/desk/abandoned"] == 1
    assert found["type/all/wait/max"] == 5


def test_traits_rules_and_work_by_trait() -> None:
    """Ages decide the way, and the way sets a mark that decides the work."""
    traits = [
        {"id": "age", "name": "Age", "start": 30},
        {"id": "mark", "name": "Mark", "kind": "category", "values": ["none", "red"], "start": "none"},
    ]
    rule = {
        "all": [
            {"fact": "trait:age", "is": "at-least", "value": 65},
            {"fact": "weekday", "is": "equal", "value": "mon"},
        ]
    }
    steps = [
        passage("sort", "choose", [{"to": "stamp", "when": rule}, {"to": "desk", "otherwise": True}], pick="rule"),
        passage("stamp", "set", "desk", traits={"mark": "red", "age": {"add": 1}}),
        desk({"by_trait": {"mark": {"red": "7 min"}}, "otherwise": "2 min"}),
    ]
    stream = cases_at([0, 0], to="sort")
    stream["arrivals"][1]["traits"] = {"age": 70}
    found = figures(day([stream], steps, [team(2)], traits=traits))
    assert found["step/stamp/arrived"] == 1
    assert (found["step/desk/work/min"], found["step/desk/work/max"]) == (2, 7)


def test_rules_about_visits_time_lines_and_waits() -> None:
    again = {"any": [{"fact": "visits:desk", "is": "under", "value": 3}]}
    steps = [desk("2 min") | {"next": [{"to": "desk", "when": again}, {"to": "out", "otherwise": True}]}]
    found = figures(day([cases_at([0])], steps, [team()]))
    assert found["step/desk/served"] == 3
    long = {
        "all": [
            {"fact": "waited-here", "is": "over", "value": "5 min"},
            {"fact": "free:clerks", "is": "equal", "value": 0},
        ]
    }
    steps = [
        desk("10 min") | {"next": [{"to": "sorry", "when": long}, {"to": "out", "otherwise": True}]},
        delay("sorry", "1 min", "out"),
    ]
    found = figures(day([cases_at([0, 1, 9])], steps, [team()]))
    assert found["step/sorry/arrived"] == 2


def test_shortest_line_and_in_turn() -> None:
    ways = [{"to": "left"}, {"to": "right"}]
    steps = [desk("10 min", id="left", team="l"), desk("10 min", id="right", team="r")]
    for pick in ("shortest-line", "in-turn"):
        choice = passage("pick", "choose", ways, pick=pick)
        stream = cases_at([0, 1, 2, 3], to="pick")
        found = figures(day([stream], [choice, *steps], [team(id="l"), team(id="r")]))
        assert found["step/left/arrived"] == found["step/right/arrived"] == 2


SITE = {
    "places": [{"id": "door", "name": "Door", "x": 0, "y": 0}, {"id": "near", "name": "Near", "x": 30, "y": 40},
               {"id": "far", "name": "Far", "x": 300, "y": 400, "capacity": 1}],
    "walking_speed": 1.0,
}  # fmt: skip


def test_walking_places_and_escorts() -> None:
    """50 m at 1 m/s to the near place, 500 m to the far one; an escort is held on the way."""
    steps = [delay("come", "1 min", "desk") | {"place": "door"}, desk("2 min", place="near")]
    steps[0]["next"] = [{"to": "desk", "travel": "walk"}]
    found = figures(day([cases_at([0], to="come")], steps, [team()], site=SITE))
    assert found["type/all/travel/max"] == pytest.approx(50 / 60)
    steps[0]["next"] = [{"to": "desk", "travel": "walk", "escort": {"team": "guides"}}]
    found = figures(day([cases_at([0, 0], to="come")], steps, [team(2), team(id="guides")], site=SITE))
    assert found["team/guides/working"] * 240 == pytest.approx(2 * 50 / 60)
    assert found["type/all/wait/max"] == pytest.approx(50 / 60)
    assert found["type/all/travel/max"] == pytest.approx(50 / 60)
    assert found["step/come/served"] == 2


def test_several_places_and_their_room() -> None:
    """The far place holds one case at a time; the nearest is picked, or the one with the shorter line."""
    options = [{"place": "near"}, {"place": "far"}]
    for pick, at_far in (("nearest", 0), ("shortest-line", 2), ("in-turn", 2)):
        steps = [delay("come", "0 min", "desk") | {"place": "door"}, desk("10 min", places=options, pick_place=pick)]
        found = figures(day([cases_at([0, 1, 2, 3], to="come")], steps, [team(4)], site=SITE))
        assert found["place/far/inside/mean"] * 240 == pytest.approx(10 * at_far)
        assert found["step/desk/served"] == 4
    alone = figures(day([cases_at([0, 0])], [desk(place="far")], [team(2)], site=SITE))
    assert alone["step/desk/cause:place/mean"] == 5


def test_who_is_shut_out_comes_once_there_is_room() -> None:
    """Ten minutes each and no place to wait; cases at 0, 1, 2: they come to the desk at 0, 10, 20.

    Each has 8 minutes from its coming until it has left, which no one keeps, and has been at the desk once.
    """
    again = {"fact": "visits:desk", "is": "at-least", "value": 2}
    ways = [{"to": "again", "when": {"all": [again]}}, {"to": "out", "otherwise": True}]
    steps = [desk(line={"max": 0}, to="which"), passage("which", "choose", ways, pick="rule"), exit_step("again")]
    late = {"id": "soon", "name": "Soon", "from": "desk", "to": "which", "within": "8 min", "then": {"send": "again"}}
    span = {"id": "s", "name": "S", "from": {"step": "desk"}, "to": {"step": "which"}}
    found = figures(day([cases_at([0, 1, 2])], steps, [team()], deadlines=[late], spans=[span]))
    assert (found["outcome/out/completed"], found["step/desk/arrived"], found["step/desk/inside/max"]) == (3, 3, 1)
    assert (found["deadline/soon/started"], found["deadline/soon/missed"], found["deadline/soon/left"]) == (3, 3, 0)
    assert (found["span/s/total/max"], found["type/all/total/max"]) == (10, 28)


def test_members_walk_to_their_cases() -> None:
    steps = [desk("2 min", place="near"), desk("2 min", id="other", place="far")]
    porter = team(place="door", walks=True)
    streams = [cases_at([0]), cases_at([10], to="other") | {"id": "more"}]
    found = figures(day(streams, steps, [porter], site=SITE))
    assert found["step/desk/wait/max"] == pytest.approx(50 / 60)
    assert found["step/other/wait/max"] == pytest.approx(450 / 60)
    assert found["team/clerks/state:walking"] == pytest.approx(500 / 60 / 240)


def test_shared_waiting_room() -> None:
    line = {"max": 1, "when_full": "turn-away", "full_to": "left", "shared": "hall"}
    steps = [desk(line=line), desk(id="other", team="others", line=line), exit_step("left", abandoned=True)]
    streams = [cases_at([0, 1, 2]), cases_at([0, 3], to="other") | {"id": "more"}]
    found = figures(day(streams, steps, [team(), team(id="others")]))
    assert found["line/hall/inside/max"] == 1
    assert found["type/all/turned-away"] == 2


def test_spans_and_due_times() -> None:
    steps = [desk("4 min", to="next"), delay("next", "3 min", "out")]
    span = {"id": "s", "name": "S", "from": {"step": "desk", "at": "leaving"}, "to": {"step": "out"}}
    found = figures(day([cases_at([0, 0])], steps, [team()], spans=[span]))
    assert found["span/s/total/max"] == found["span/s/work/max"] == 3


def test_costs_by_line() -> None:
    """Two cases of 10 minutes at 30 an hour, 2 a use, 5 a case, 6 an hour of waiting, 12 an hour inside, penalty 9.

    One is inside for 10 minutes, the other gives up after 5: a quarter of an hour between them.
    """
    types = [{"id": "a", "name": "A", "value": 40, "waiting_cost": 6, "inside_cost": 12}]
    steps = [
        desk(cost=5, line={"patience": "5 min", "gives_up_to": "left"}),
        exit_step("left", abandoned=True, penalty=9),
    ]
    of = day([cases_at([0, 1])], steps, [team(rate=30, use_cost=2)], case_types=types, length="1 h")
    found = figures(of)
    expected = {
        "regular": 30,
        "idle": 25,
        "use": 2,
        "case": 5,
        "penalty": 9,
        "waiting": 0.5,
        "inside": 3,
        "value": 40,
        "total": 49.5,
    }
    assert {line: found[f"cost/{line}/per:hour"] for line in expected} == pytest.approx(expected)
    lines = cost_lines(of, found.get)
    assert [(line.team, line.line, line.per_case) for line in lines] == [
        ("clerks", "regular", 30),
        ("clerks", "use", 2),
        (None, "case", 5),
        (None, "penalty", 9),
        (None, "waiting", pytest.approx(0.5)),
        (None, "inside", pytest.approx(3)),
    ]
    assert sum(line.per_day for line in lines) == pytest.approx(found["cost/total/per:day"])
    used = day([cases_at([0])], [desk()], [team(rate=30, paid="used")], length="1 h")
    assert figures(used)["cost/total/per:hour"] == pytest.approx(5)


def test_arrivals_by_appointment_and_by_date() -> None:
    session = {"days": ["mon"], "from": "08:00", "to": "09:00", "every": "15 min", "places": 2}
    booked = {
        "id": "booked",
        "name": "B",
        "kind": "appointments",
        "sessions": [session],
        "to": "desk",
        "punctuality": "-5 min",
    }
    found = figures(day([booked], [desk("0 min")], [team()], length="1 h"))
    assert found["stream/booked/arrived"] == 8
    none = booked | {"no_show": 1.0}
    assert figures(day([none], [desk("0 min")], [team()], length="1 h"))["stream/booked/arrived"] == 0
    exact = {"id": "exact", "name": "E", "kind": "profile", "interval": "30 min", "spread": "exact", "to": "desk",
             "week": {"mon": [0.0] * 16 + [3, 7, 2]}, "first": at(0)}  # fmt: skip
    found = figures(day([exact], [desk("0 min")], [team()], length="90 min"))
    assert found["stream/exact/arrived"] == 12
    groups = cases_at([5, 10], group=3, limit=5)
    assert figures(day([groups], [desk("0 min")], [team()]))["stream/cases/arrived"] == 5


def test_doors_and_until_empty() -> None:
    doors = {"id": "doors", "name": "Doors", "weekly": [{"days": ["mon"], "from": "08:00", "to": "08:30"}]}
    stream = {"id": "s", "name": "S", "kind": "random", "gap": "10 min", "to": "desk"}
    run = {"doors": "doors", "until": {"empty": True}}
    found = figures(day([stream], [desk("25 min")], [team()], calendars=[doors], run=run))
    assert found["type/all/completed"] == found["type/all/arrived"] == 2
    assert found["run/minutes"] == 60
    run = {"until": {"completed": 3}}
    assert figures(day([stream], [desk("1 min")], [team()], run=run))["run/minutes"] == 31


@pytest.mark.parametrize(
    ("picks", "worked"), [("listed", [20, 0]), ("longest-idle", [10, 10]), ("least-used", [10, 10])]
)
def test_picks(picks: str, worked: list[float]) -> None:
    found = figures(day([cases_at([0, 20])], [desk()], [team(2, picks=picks)]))
    assert [found[f"member/clerks:{n}/working"] * 240 for n in (1, 2)] == pytest.approx(worked)


def test_pace() -> None:
    assert figures(day([cases_at([0])], [desk()], [team(pace=2)]))["step/desk/work/max"] == 5


def test_a_blocked_case_lets_its_people_go_who_hand_over() -> None:
    """The till takes one case at a time, so the second is blocked from 20 to 40 and holds the clerk.

    The clerk's break begins at 25; the second case's work is done, so it stays blocked, and the third
    gets the clerk at 30, after the break.
    """
    steps = [
        desk(to="till", when_blocked="keeps-people"),
        desk("30 min", id="till", team="cashiers", line={"max": 0}),
    ]
    pause = {"after": "25 min", "length": "5 min"}
    clerks = team(roster=[shift(0, 240, breaks=[pause])], at_break="hand-over")
    found = figures(day([cases_at([0, 0, 0])], steps, [clerks, team(id="cashiers")]))
    assert found["step/desk/wait/max"] == 30
    assert found["step/desk/blocked/max"] == 30
    assert found["type/all/completed"] == 3


def test_who_waits_for_a_person_is_not_passed_over_by_who_reserves() -> None:
    """X has nurse 1 at 0 and asks for her again at 10; she is with Y from 6 to 26.

    R, which came at 8 and needs both nurses, has them from 26 to 36. Then X, waiting since 10, is before
    the other R of minute 30.
    """
    nurse = {"team": "nurses"}
    steps = [
        desk("5 min", id="a", needs=[nurse | {"as": "known"}], to="pause"),
        delay("pause", "5 min", "b"),
        desk("5 min", id="b", needs=[nurse | {"same_as": "known"}]),
        desk("20 min", id="y", needs=[nurse]),
        desk("10 min", id="r", needs=[nurse | {"count": 2}], reserve=True),
    ]
    streams = [
        cases_at([0], to="a") | {"id": "x"},
        cases_at([6], to="y") | {"id": "y"},
        cases_at([8, 30], to="r") | {"id": "r"},
    ]
    found = figures(day(streams, steps, [team(2, id="nurses", picks="listed")]))
    assert found["step/b/wait/mean"] == 26
    assert found["step/r/wait/max"] == 18
    assert found["step/r/wait/min"] == 11


def test_a_deadline_takes_a_case_out_of_a_gathering() -> None:
    """Three go together; two are there when the first one's deadline runs out at 8."""
    steps = [
        passage("minibus", "gather", "ride", count=3),
        desk("10 min", id="ride", needs=[]),
        desk("1 min", id="taxi", needs=[]),
    ]
    deadline = {"id": "soon", "name": "Soon", "from": "minibus", "to": "ride", "within": "8 min"}
    diverts = [deadline | {"then": {"divert": "taxi"}}]
    found = figures(day([cases_at([0, 5, 9, 12], to="minibus")], steps, [], deadlines=diverts))
    assert found["step/taxi/arrived"] == 1
    assert found["step/minibus/abandoned"] == 1
    assert found["step/ride/arrived"] == 3
    assert found["type/all/completed"] == 4
    assert found["type/all/wait/max"] == 8


def test_what_a_companion_leaves_behind_starts_no_clock_of_another_case() -> None:
    """Sent at 5, the companion forks and leaves; case 2 comes at 10, before its branch passes where a clock starts."""
    steps = [
        delay("stays", "100 min", "out"),
        passage("two", "fork", [{"to": "leaves"}, {"to": "rest"}], join="ends"),
        passage("leaves", "choose", [{"to": "out", "share": 1}, {"to": "ends", "share": 0}]),
        delay("rest", "20 min", "begins"),
        passage("begins", "choose", "ends"),
        passage("ends", "join", "out"),
    ]
    late = {"id": "late", "name": "Late", "from": "stays", "to": "out", "within": "5 min", "then": {"send": "two"}}
    other = {"id": "other", "name": "Other", "from": "begins", "to": "out", "within": "9 h", "then": {"send": "two"}}
    found = figures(day([cases_at([0, 10], to="stays")], steps, [], deadlines=[late, other]))
    assert (found["step/begins/arrived"], found["deadline/other/started"]) == (2, 0)
