"""Constructs in combination, each day followed with a pencil; runs start at 8 on a Monday."""

from typing import Any

import pytest

from flowcore.kernel.run.worlds import new_world
from flowcore.plan import compile_study
from flowcore.problems import StudyError
from flowcore.simulate import simulate
from tests.flowcore.builders import Part, exit_step
from tests.flowcore.days import cases_at, clock, day, desk, figures, shift, team


def passage(step_id: str, kind: str, ways: list[Part] | str, **more: Any) -> Part:
    links = [{"to": ways}] if isinstance(ways, str) else ways
    return {"id": step_id, "name": step_id.title(), "kind": kind, "next": links} | more


def slots(begin: int, end: int, every: str, **more: Any) -> Part:
    session = {"days": ["mon"], "from": clock(begin), "to": clock(end), "every": every, "places": 1}
    return {"id": "cases", "name": "Cases", "kind": "appointments", "sessions": [session], "to": "desk"} | more


UNTIL_EMPTY = {"run": {"until": {"empty": True}}}


# Runs and streams


def test_a_case_whose_person_has_gone_home_is_inside_at_the_end() -> None:
    """The one who served it first leaves at 20; the case comes back from a delay at 30 and asks for the same."""
    steps = [
        desk(id="first", needs=[{"team": "clerks", "as": "c"}], to="pause"),
        passage("pause", "delay", "second", time="20 min"),
        desk(id="second", needs=[{"team": "clerks", "same_as": "c"}]),
    ]
    found = figures(day([cases_at([0], to="first")], steps, [team(roster=[shift(0, 20)])], length="4 h"))
    assert found["type/all/inside/end"] == 1
    assert found["step/second/line/end"] == 1


@pytest.mark.parametrize("limit", [None, 3])
def test_an_appointment_stream_is_over_when_its_last_case_has_come(limit: int | None) -> None:
    """Slots at 8:30, 9:00, 9:30 and 10:00 (or the first three), ten minutes each."""
    more = {} if limit is None else {"limit": limit}
    found = figures(day([slots(30, 150, "30 min", **more)], [desk()], [team()], **UNTIL_EMPTY))
    assert found["type/all/completed"] == (limit or 4)
    assert found["run/minutes"] == (100 if limit else 130)


def test_a_limit_leaves_no_occasion_behind() -> None:
    """A case every hour, two at most: the run is empty when the second is done, not at the third's hour."""
    cases = {"id": "cases", "name": "Cases", "kind": "random", "gap": "60 min", "to": "desk", "limit": 2}
    assert figures(day([cases], [desk()], [team()], **UNTIL_EMPTY))["run/minutes"] == 130


def test_an_exact_profile_is_over_with_its_last_case() -> None:
    week = {"mon": [0.0] * 8 + [2.0]}
    cases = {"id": "cases", "name": "Cases", "kind": "profile", "interval": "60 min", "week": week, "to": "desk"}
    run = {"run": {"until": {"empty": True}, "length": "2 d"}}
    found = figures(day([cases | {"spread": "exact"}], [desk("0 min", needs=[])], [team()], **run))
    assert found["type/all/completed"] == 2


def test_a_run_of_no_minutes_has_figures_without_value() -> None:
    """The only case comes and goes in the first instant."""
    found = figures(day([cases_at([0])], [desk("0 min", needs=[])], [team()], **UNTIL_EMPTY))
    assert found["run/minutes"] == 0
    assert found["type/all/completed"] == 1
    assert found["team/clerks/present"] != found["team/clerks/present"]


def test_a_run_that_ends_in_its_warm_up_has_figures_without_value() -> None:
    run = {"run": {"until": {"completed": 1}, "warm_up": "1 h"}}
    found = figures(day([cases_at([0, 90])], [desk()], [team()], **run))
    assert found["run/minutes"] == 0


def test_mixes_by_hour_may_pass_midnight() -> None:
    """From 22:00 to 9:00 only the late type: cases at 8:30 and 9:30."""
    night = {"from": "22:00", "to": "09:00", "mix": [{"type": "late", "share": 1}]}
    cases = cases_at([30, 90], mix=[{"type": "usual", "share": 1}], mix_by_hour=[night])
    types = [{"id": kind, "name": kind} for kind in ("usual", "late")]
    found = figures(day([cases], [desk()], [team()], case_types=types))
    assert (found["type/usual/arrived"], found["type/late/arrived"]) == (1, 1)


def test_slots_after_midnight_of_the_day_before_belong_to_the_first_day() -> None:
    """A session from Sunday 20:00 to Monday 10:00, every hour; the run starts on Monday at 8."""
    session = {"days": ["sun"], "from": "20:00", "to": "10:00", "every": "60 min", "places": 1}
    cases = {"id": "cases", "name": "Cases", "kind": "appointments", "sessions": [session], "to": "desk"}
    assert figures(day([cases], [desk()], [team()]))["type/all/arrived"] == 2


def test_sessions_may_have_any_number_of_slots() -> None:
    """Every five seconds for four hours: 2,880 slots, each with its own time."""
    found = figures(day([slots(0, 240, "5 s")], [desk("0 min", needs=[])], [team()], length="1 d"))
    assert found["type/all/arrived"] == 2880
    assert found["step/desk/arrived"] == 2880
    assert found["step/desk/inside/max"] <= 1


# Absences


@pytest.mark.parametrize(("rule", "calls"), [("pause", 3), ("finish", 3)])
def test_working_minutes_of_one_long_case_bring_every_call(rule: str, calls: int) -> None:
    """35 minutes of work, called away after every 10 for 2: at once, or all three when it is done."""
    call = {"name": "Call", "after": {"working": "10 min"}, "length": "2 min", "strikes": "each", "work": rule}
    found = figures(day([cases_at([0])], [desk("35 min")], [team(interruptions=[call])]))
    assert found["team/clerks/state:interrupted"] * 240 == pytest.approx(2 * calls)
    assert found["type/all/total/mean"] == pytest.approx(35 + (2 * calls if rule == "pause" else 0))


def test_a_team_that_is_struck_by_work_goes_on_being_struck_while_it_finishes() -> None:
    """Two clerks work 30 minutes each at once: a trouble after every 25 of their minutes together comes due twice."""
    call = {"name": "Fault", "after": {"working": "25 min"}, "length": "2 min", "strikes": "team", "work": "finish"}
    found = figures(day([cases_at([0, 0])], [desk("30 min")], [team(2, interruptions=[call])]))
    assert found["team/clerks/state:interrupted"] * 2 * 240 == pytest.approx(2 * 2 * 2)


def test_an_interruption_cut_short_by_the_end_of_the_shift_is_not_the_last() -> None:
    """Called after every 50 minutes for 20, on shifts of an hour: once a day, every day."""
    call = {"name": "Call", "after": {"clock": "50 min"}, "length": "20 min", "strikes": "each", "work": "finish"}
    clerks = team(roster=[shift(0, 60)], interruptions=[call])
    found = figures(day([cases_at([0])], [desk("1 min")], [clerks], length="3 d"))
    assert found["team/clerks/state:interrupted"] * 3 * 1440 > 10


@pytest.mark.parametrize(("rule", "away"), [("pause", 15), ("hand-over", 15), ("finish-short", 15), ("finish", 20)])
def test_a_break_that_comes_due_during_a_call(rule: str, away: float) -> None:
    """Work from 0, a call 10-20, a break of 10 due at 15: away till 25, or with `finish` till 30 in all."""
    call = {"name": "Call", "after": {"clock": "10 min"}, "length": "10 min", "strikes": "each", "work": "pause"}
    rest = {"after": "15 min", "length": "10 min"}
    clerks = team(roster=[shift(0, 240, breaks=[rest])], at_break=rule, interruptions=[call])
    found = figures(day([cases_at([0])], [desk("30 min")], [clerks], length="30 min"))
    assert found["team/clerks/state:interrupted"] * 30 == pytest.approx(10)
    assert found["team/clerks/state:break"] * 30 == pytest.approx(away - 10)
    assert found["team/clerks/state:working"] * 30 == pytest.approx(30 - away)


def test_a_run_that_begins_in_a_break_has_the_rest_of_it() -> None:
    """The shift began at 7:00 with a break of 30 minutes after 50: at 8:00 there are 20 left."""
    row = {"days": ["mon"], "from": "07:00", "to": "12:00", "people": 1}
    clerks = team(roster=[row | {"breaks": [{"after": "50 min", "length": "30 min"}]}])
    found = figures(day([cases_at([0])], [desk()], [clerks]))
    assert found["step/desk/wait/mean"] == 20
    assert found["step/desk/cause:break/mean"] == 20


def test_a_run_that_begins_among_breaks_in_turn_has_who_is_on_it() -> None:
    """Three in turn, 20 minutes each from 7:30: at 8:00 the second has 10 left, then the third goes."""
    row = {"days": ["mon"], "from": "07:00", "to": "12:00", "people": 3}
    clerks = team(roster=[row | {"breaks": [{"after": "30 min", "length": "20 min", "taken": "in-turn"}]}])
    found = figures(day([cases_at([200])], [desk()], [clerks]))
    assert found["team/clerks/state:break"] * 3 * 240 == pytest.approx(30)


def test_who_finishes_after_the_shift_comes_on_time_next_day() -> None:
    """20 minutes over on Monday; on Tuesday a case at the start of the shift is served at once."""
    found = figures(day([cases_at([50, 1440])], [desk("30 min")], [team(roster=[shift(0, 60)])], length="2 d"))
    assert found["step/desk/wait/max"] == 0
    assert found["type/all/completed"] == 2


def test_a_fault_of_the_whole_team_after_so_many_cases_lets_none_more_in() -> None:
    """After every second case the team is away for 30 minutes: the third case, which waits, is served at 50."""
    fault = {"name": "Fault", "after": {"cases": 2}, "length": "30 min", "strikes": "team", "work": "finish"}
    found = figures(day([cases_at([0, 0, 0])], [desk()], [team(interruptions=[fault])]))
    assert found["step/desk/wait/max"] == 50


@pytest.mark.parametrize("rule", ["finish", "pause", "hand-over"])
def test_a_team_stays_until_those_who_waited_are_done(rule: str) -> None:
    """The shift ends at 15; the second case waits then, begins at 20 and is done at 30, whatever the rule."""
    clerks = team(roster=[shift(0, 15)], at_shift_end=rule, closing={"stay": "clear-line"})
    found = figures(day([cases_at([0, 5], to="desk")], [desk("20 min")], [clerks]))
    assert found["type/all/completed"] == 2
    assert found["team/clerks/working:overtime"] == pytest.approx(1)
    assert found["team/clerks/present"] * 240 == pytest.approx(40)


def test_who_is_in_the_minimum_wait_is_stayed_for() -> None:
    clerks = team(roster=[shift(0, 15)], closing={"stay": "clear-line"})
    found = figures(day([cases_at([10])], [desk(line={"min_wait": "20 min"})], [clerks]))
    assert found["team/clerks/present"] * 240 == pytest.approx(40)


def test_who_waits_for_a_particular_person_is_stayed_for() -> None:
    """The clerk's shift ends at 16; two cases wait for this very clerk then, and are done at 35 and 45."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "as": "c"}], to="second"),
        desk("10 min", id="second", needs=[{"team": "clerks", "same_as": "c"}]),
    ]
    clerks = team(roster=[shift(0, 16)], closing={"stay": "clear-line"})
    streams = [cases_at([0, 1, 2], to="first")]
    found = figures(day(streams, steps, [clerks], length="4 h"))
    # The first step 0-5, 5-10 and 10-15: who came earlier is served first. At 15 the first case's second step begins.
    assert found["type/all/completed"] == 3
    assert found["team/clerks/present"] * 240 == pytest.approx(45)


# Waiting and needs


def test_opening_is_no_signal_where_there_is_one() -> None:
    """Cases at 0; the signal opens at 60 and clears every 45 minutes: 45 is shut, 90 lets them go."""
    doors = {"id": "late", "name": "Late", "weekly": [{"days": ["mon"], "from": "09:00", "to": "12:00"}]}
    gate = passage("signal", "signal", "out", clears={"every": "45 min"}, open="late")
    found = figures(day([cases_at([0, 0], to="signal")], [gate], [team()], calendars=[doors]))
    assert found["type/all/total/mean"] == 90


def test_a_choice_between_keeps_place_and_people_of_who_is_blocked() -> None:
    """Triage in one room, then a choice to a doctor with no line: the second case keeps the room until 12."""
    needs = [{"team": "nurses"}, {"team": "rooms"}]
    steps = [
        desk("2 min", id="triage", needs=needs, to="split", when_blocked="keeps-people"),
        passage("split", "choose", [{"to": "doctor", "share": 1}, {"to": "out", "share": 0}]),
        desk("10 min", id="doctor", team="doctors", line={"max": 0}),
    ]
    teams = [team(id="nurses"), team(id="rooms") | {"kind": "places"}, team(id="doctors")]
    found = figures(day([cases_at([0, 0], to="triage")], steps, teams))
    assert found["step/triage/blocked/max"] == 8
    assert found["team/rooms/working"] * 240 == pytest.approx(12)
    assert found["team/nurses/working"] * 240 == pytest.approx(12)
    assert found["step/doctor/wait/max"] == 0


def test_traits_set_on_the_way_decide_where_a_blocked_case_is_bound() -> None:
    """The trait is set behind the desk and leads to the full room, not to the exit."""
    steps = [
        desk("2 min", id="triage", team="nurses", to="mark", when_blocked="keeps-people"),
        passage("mark", "set", "split", traits={"ill": {"add": 1}}),
        passage(
            "split",
            "choose",
            [
                {"to": "doctor", "when": {"all": [{"fact": "trait:ill", "is": "over", "value": 0.5}]}},
                {"to": "out", "otherwise": True},
            ],
            pick="rule",
        ),
        desk("10 min", id="doctor", team="doctors", line={"max": 0}),
    ]
    teams = [team(id="nurses"), team(id="doctors")]
    traits = [{"id": "ill", "name": "Ill"}]
    found = figures(day([cases_at([0, 0], to="triage")], steps, teams, traits=traits))
    assert found["step/triage/blocked/max"] == 8
    assert found["step/doctor/served"] == 2


def test_a_kept_member_is_one_of_two_that_are_needed() -> None:
    """Two nurses in all: one is kept, so the second step can have the other and begins at 5."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "nurses", "keep_until": "second"}], to="second"),
        desk("10 min", id="second", needs=[{"team": "nurses", "count": 2}]),
    ]
    found = figures(day([cases_at([0], to="first")], steps, [team(2, id="nurses")]))
    assert found["type/all/total/mean"] == 15
    assert found["team/nurses/working"] * 240 == pytest.approx(25)


def test_kept_members_of_two_teams_meet_a_need_each() -> None:
    """A doctor and a nurse are kept; both needs of the second step are met by them."""
    first = [{"team": each, "keep_until": "second"} for each in ("doctors", "nurses")]
    steps = [
        desk("5 min", id="first", needs=first, to="second"),
        desk("10 min", id="second", needs=[{"team": "doctors"}, {"team": "nurses"}]),
    ]
    found = figures(day([cases_at([0], to="first")], steps, [team(id="doctors"), team(id="nurses")]))
    assert found["type/all/total/mean"] == 15


def test_one_kept_member_meets_one_of_two_needs_only() -> None:
    """The second step asks for the nurse of before and for one more: it takes both."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "nurses", "as": "n", "keep_until": "second"}], to="second"),
        desk("10 min", id="second", needs=[{"team": "nurses", "same_as": "n"}, {"team": "nurses"}]),
    ]
    found = figures(day([cases_at([0], to="first")], steps, [team(2, id="nurses")]))
    assert found["team/nurses/working"] * 240 == pytest.approx(25)


def test_who_is_kept_is_let_go_where_the_case_gives_up_at_the_last_step() -> None:
    """The nurse is kept until the doctor's; the case gives up there at 15, and the next has the nurse."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "nurses", "keep_until": "second"}], to="second"),
        desk(id="second", team="doctors", line={"patience": "10 min", "gives_up_to": "rest"}),
        passage("rest", "delay", "out", time="60 min"),
    ]
    teams = [team(id="nurses"), team(id="doctors", roster=[shift(200, 240)])]
    found = figures(day([cases_at([0, 0], to="first")], steps, teams))
    assert found["step/first/wait/max"] == 15


def test_shortest_work_first_knows_work_by_trait() -> None:
    """While one is served till 10 a long and a short case come, in this order: the short one goes first."""
    work = {"by_trait": {"size": {"long": "30 min", "short": "4 min"}}, "otherwise": "10 min"}
    size = {"id": "size", "name": "Size", "kind": "category", "values": ["none", "long", "short"], "start": "none"}
    cases = cases_at([0, 1, 2])
    for arrival, value in zip(cases["arrivals"], ["none", "long", "short"], strict=True):
        arrival["traits"] = {"size": value}
    found = figures(day([cases], [desk(work, line={"discipline": "shortest-work"})], [team()], traits=[size]))
    assert found["step/desk/wait/max"] == 13


def test_an_urgent_case_that_waits_displaces_who_is_resumed() -> None:
    """A usual case is paused by a break 10-20; the urgent one of 12 begins at 20, the usual one is done at 50."""
    kinds = [{"id": "usual", "name": "Usual"}, {"id": "urgent", "name": "Urgent", "priority": 1}]
    clerks = team(roster=[shift(0, 240, breaks=[{"after": "10 min", "length": "10 min"}])], at_break="pause")
    steps = [desk("20 min", preempts=True, line={"discipline": "priority"})]
    found = figures(day([cases_at([0, 12], types=["usual", "urgent"])], steps, [clerks], case_types=kinds))
    assert found["type/urgent/wait/mean"] == 8
    assert found["type/usual/total/mean"] == 50


def test_while_an_urgent_case_waits_none_that_it_could_displace_is_begun() -> None:
    """The urgent one needs a nurse and the room, which is in use till 10; a usual one asks for the nurse at 5."""
    kinds = [{"id": "usual", "name": "Usual"}, {"id": "urgent", "name": "Urgent", "priority": 1}]
    steps = [
        desk(id="scan", team="rooms"),
        desk(id="urgent", needs=[{"team": "nurses"}, {"team": "rooms"}], preempts=True),
        desk("30 min", id="usual", team="nurses"),
    ]
    streams = [
        cases_at([0], to="scan", id="a", types=["urgent"]),
        cases_at([2], to="urgent", id="b", types=["urgent"]),
        cases_at([5], to="usual", id="c", types=["usual"]),
    ]
    found = figures(day(streams, steps, [team(id="nurses"), team(id="rooms")], case_types=kinds))
    assert found["step/urgent/wait/mean"] == 8
    assert found["step/usual/wait/mean"] == 15


def test_pre_emption_displaces_all_that_is_needed_or_nobody() -> None:
    """Two nurses are asked for at once; one works on a usual case, the other on an urgent one: nobody is displaced."""
    kinds = [{"id": "usual", "name": "Usual"}, {"id": "urgent", "name": "Urgent", "priority": 1}]
    steps = [desk(id="one", team="nurses"), desk(id="two", needs=[{"team": "nurses"}] * 2, preempts=True)]
    streams = [
        cases_at([0, 0], to="one", id="a", types=["usual", "urgent"]),
        cases_at([5], to="two", id="b", types=["urgent"]),
    ]
    found = figures(day(streams, steps, [team(2, id="nurses")], case_types=kinds))
    assert found["step/one/work/max"] == 10
    assert found["step/one/total/max"] == 10
    assert found["step/two/wait/mean"] == 5


def test_reserve_keeps_what_a_case_of_another_teams_line_would_take() -> None:
    """The reserving case needs the nurse and the doctor, who is busy till 10; an errand with nurse and clerk waits."""
    steps = [
        desk(id="talk", team="doctors"),
        desk(id="both", needs=[{"team": "nurses"}, {"team": "doctors"}], reserve=True),
        desk(id="form", needs=[{"team": "clerks"}, {"team": "nurses"}]),
    ]
    streams = [cases_at([minute], to=to, id=to) for minute, to in ((0, "talk"), (1, "both"), (2, "form"))]
    teams = [team(id=each) for each in ("nurses", "doctors", "clerks")]
    found = figures(day(streams, steps, teams))
    assert found["step/both/wait/mean"] == 9
    assert found["step/form/wait/mean"] == 18


def two_places(**more: Any) -> Part:
    places = [{"id": each, "name": each, "x": 60.0 * n, "y": 0.0} for n, each in enumerate("abc")]
    return {"site": {"places": places, "walking_speed": 1.0}} | more


AT_BOTH = {"places": [{"place": "a"}, {"place": "b"}], "pick_place": "in-turn"}


def test_rules_and_shortest_lines_see_all_places_of_a_step() -> None:
    """Three wait at two places (1 and 2): the way with two at one place is the shorter one."""
    needs: list[Part] = [{"team": "nobody"}]
    steps = [
        desk(id="many", needs=needs, **AT_BOTH),
        desk(id="few", needs=needs, place="c"),
        passage("split", "choose", [{"to": "many"}, {"to": "few"}], pick="shortest-line"),
    ]
    streams = [
        cases_at([0, 0, 0], to="many", id="x"),
        cases_at([0, 0], to="few", id="y"),
        cases_at([5], to="split", id="z"),
    ]
    teams = [team(id="nobody", roster=[shift(200, 240)])]
    assert figures(day(streams, steps, teams, **two_places()))["step/few/arrived"] == 3


def test_a_rule_on_a_line_sees_a_hold_too() -> None:
    """Two are held; the rule sends the third the other way."""
    rule = {"all": [{"fact": "line:signal", "is": "at-least", "value": 2}]}
    ways = [{"to": "out", "when": rule}, {"to": "signal", "otherwise": True}]
    steps = [
        passage("split", "choose", ways, pick="rule"),
        passage("signal", "signal", "out", clears={"at": ["11:00"]}),
    ]
    found = figures(day([cases_at([0, 1, 2], to="split")], steps, [team()]))
    assert found["step/signal/arrived"] == 2


def test_companions_and_escorted_cases_come_to_every_place() -> None:
    """Two places in turn: of four companions two come to each; so do four cases with an escort, who walks there."""
    reminder = {"id": "late", "name": "Late", "from": "wait", "to": "out", "within": "5 min", "then": {"send": "ask"}}
    steps = [
        passage("wait", "delay", "out", time="30 min"),
        desk("1 min", id="ask", needs=[], place=None, **AT_BOTH),
    ]
    steps[1].pop("place")
    site = two_places()
    for place in site["site"]["places"]:
        place["capacity"] = 5
    found = figures(day([cases_at([0, 0, 0, 0], to="wait")], steps, [team()], deadlines=[reminder], **site))
    assert found["place/a/inside/mean"] == found["place/b/inside/mean"] > 0
    guided = [
        passage("hall", "delay", [{"to": "desk", "travel": "walk", "escort": {"team": "clerks"}}], time="1 min"),
        desk("1 min", needs=[], **AT_BOTH),
    ]
    guided[0]["place"] = "c"
    found = figures(day([cases_at([0, 30], to="hall")], guided, [team()], **site))
    assert found["place/a/inside/mean"] == found["place/b/inside/mean"] > 0
    assert found["type/all/travel/max"] == pytest.approx(2)
    assert found["type/all/travel/min"] == pytest.approx(1)


def test_not_in_overtime_is_about_the_member_who_would_work() -> None:
    """At 30 one clerk is on regular shift till 60, busy till 50; the other stays on till the line is clear.

    The case of 35 is not served by the one in overtime, who is free, but by the colleague at 50.
    """
    clerks = team(roster=[shift(0, 30), shift(0, 60)], closing={"stay": "empty"})
    steps = [desk("50 min", id="long"), desk("5 min", id="short", overtime="no")]
    streams = [cases_at([0], to="long", id="a"), cases_at([35], to="short", id="b")]
    clerks["picks"] = "listed"
    found = figures(day(streams, steps, [clerks | {"roster": [shift(0, 60), shift(0, 30)]}]))
    assert found["step/short/wait/mean"] == 15
    assert found["step/short/cause:off-shift/mean"] + found["step/short/cause:busy/mean"] == 15


# Luck


def test_branches_to_the_same_step_bring_luck_of_their_own() -> None:
    """Three samples to one laboratory take different times, and each is sent or not by its own chance."""
    work = {"dist": "exponential", "mean": "10 min"}
    ways = [{"to": "lab"}, {"to": "lab"}, {"to": "lab", "chance": 0.5}, {"to": "lab", "chance": 0.5}]
    steps = [
        passage("split", "fork", ways, join="all"),
        desk(work, id="lab", needs=[], to="all"),
        passage("all", "join", "out"),
    ]
    study = day([cases_at([0.0] * 400, to="split")], steps, [team()], length="2 d")
    found = simulate(study).replications[0].figures
    assert found["step/lab/arrived"] == pytest.approx(400 * 3, abs=4 * (400 * 2 * 0.25) ** 0.5)
    one_way = found["step/lab/arrived"] - 800
    assert one_way % 2 or found["step/lab/work/sd"] > 0
    # The mean of the longest of 2 to 4 independent times is well above that of one.
    assert found["type/all/total/mean"] > 13


def test_who_comes_again_by_giving_up_brings_other_luck() -> None:
    """Whoever gives up rings again after an hour: with the same patience each time all waits would be alike."""
    line = {"patience": {"dist": "exponential", "mean": "5 min"}, "gives_up_to": "again"}
    steps = [
        desk("1 min", team="nobody", line=line),
        passage("again", "delay", "desk", time="60 min"),
    ]
    found = figures(day([cases_at([0])], steps, [team(id="nobody", roster=[shift(1400, 1430)])], length="20 h"))
    assert found["step/desk/abandoned"] >= 10
    assert found["type/all/inside/end"] == 1
    waits = simulate(day([cases_at([0])], steps, [team(id="nobody", roster=[shift(1400, 1430)])], length="20 h"))
    lines = waits.series()["step/desk/line"][:10]
    assert len({round(float(each), 9) for each in lines}) > 2


def test_a_trait_drawn_again_is_another_draw() -> None:
    """Half get the trait at the start and half at a step, independently: a quarter have it both times."""
    start = {"dist": "discrete", "values": [0, 1], "weights": [1, 1]}
    traits = [{"id": "one", "name": "One", "start": start}]
    is_one = {"all": [{"fact": "trait:one", "is": "equal", "value": 1}]}
    steps = [
        passage("first", "choose", [{"to": "draw", "when": is_one}, {"to": "out", "otherwise": True}], pick="rule"),
        passage("draw", "set", "second", traits={"one": start}),
        passage("second", "choose", [{"to": "both", "when": is_one}, {"to": "out", "otherwise": True}], pick="rule"),
        exit_step("both"),
    ]
    found = figures(day([cases_at([0.0] * 400, to="first")], steps, [team()], traits=traits))
    assert found["outcome/both/completed"] == pytest.approx(100, abs=4 * (400 * 0.25 * 0.75) ** 0.5)


# What must not be


def test_a_step_without_needs_and_with_a_minimum_wait_waits_for_nobody_else() -> None:
    """The unrelated team works till 30; the automatic step begins after its minute."""
    steps = [desk("30 min", id="other"), desk("1 min", id="auto", needs=[], line={"min_wait": "1 min"})]
    streams = [cases_at([0], to="other", id="a"), cases_at([0], to="auto", id="b")]
    found = figures(day(streams, steps, [team()]))
    assert found["step/auto/wait/mean"] == 1
    alone = figures(day([cases_at([0], to="auto")], steps[1:], []))
    assert alone["step/auto/wait/mean"] == 1


def test_a_case_handed_back_whose_only_need_is_one_person_waits_for_that_one() -> None:
    """The one who knows it is called away 15-25 and hands it back; nobody else may go on with it."""
    steps = [
        desk("5 min", id="first", needs=[{"team": "clerks", "as": "c"}], to="second"),
        desk("20 min", id="second", needs=[{"team": "clerks", "same_as": "c"}]),
    ]
    call = {"name": "Call", "after": {"clock": "15 min"}, "length": "10 min", "strikes": "each", "work": "hand-over"}
    found = figures(day([cases_at([0], to="first")], steps, [team(2, interruptions=[call])], length="39 min"))
    assert found["type/all/total/mean"] == pytest.approx(35)
    assert found["step/second/cause:person/mean"] == pytest.approx(10)


def test_an_instant_without_end_is_told_in_words() -> None:
    """Whoever gives up comes back at once, without patience."""
    steps = [
        desk(team="nobody", line={"patience": "0 min", "gives_up_to": "again"}),
        passage("again", "delay", "desk", time="0 min"),
    ]
    study = day([cases_at([5])], steps, [team(id="nobody", roster=[shift(200, 240)])])
    with pytest.raises(StudyError, match="clock stands still"):
        simulate(study)


# Batches

KINDS = [
    {"id": "adult", "name": "Adult", "waiting_cost": 60.0},
    {"id": "child", "name": "Child", "waiting_cost": 6.0},
]


def a_bus(count: int = 3, **ride: Any) -> list[Part]:
    return [
        passage("stop", "gather", "ride", count=count),
        desk("10 min", id="ride", team="buses", **({"to": "leave"} | ride)),
        passage("leave", "scatter", "out"),
    ]


def test_each_case_of_a_batch_counts_and_costs_as_its_own_type() -> None:
    """One adult and two children gather at 0 and wait for the bus, which comes at 20: 20 minutes for each type."""
    buses = team(id="buses", roster=[shift(20, 240)], rate=60)
    cases = cases_at([0, 0, 0], to="stop", types=["adult", "child", "child"])
    found = figures(day([cases], a_bus(cost=5.0), [buses], case_types=KINDS, length="1 h"))
    assert found["type/adult/line/mean"] * 60 == pytest.approx(20)
    assert found["type/child/line/mean"] * 60 == pytest.approx(40)
    assert found["step/ride/line/mean"] * 60 == pytest.approx(60)
    assert found["cost/waiting/per:hour"] == pytest.approx(20 * 1 + 40 * 0.1)
    assert found["cost/case/per:hour"] == pytest.approx(15)
    assert found["step/ride/arrived"] == found["step/ride/served"] == 3
    assert found["step/ride/wait/mean"] == found["step/ride/wait/min"] == 20
    assert (found["step/ride/cost/mean"], found["type/child/cost/mean"]) == pytest.approx((10 / 3, 10 / 3))
    assert found["team/buses/cause:off-shift/mean"] == pytest.approx(20)


def test_spans_and_deadlines_of_all_in_a_batch_end_where_it_comes() -> None:
    span = {"id": "way", "name": "Way", "from": {"step": "stop"}, "to": {"step": "ride", "at": "leaving"}}
    soon = {"id": "soon", "name": "Soon", "from": "stop", "to": "leave", "within": "15 min", "then": {"send": "ask"}}
    steps = [*a_bus(), desk("1 min", id="ask", needs=[])]
    cases = cases_at([0, 4, 8], to="stop")
    found = figures(day([cases], steps, [team(id="buses", rate=60)], spans=[span], deadlines=[soon]))
    assert found["span/way/total/mean"] == pytest.approx((18 + 14 + 10) / 3)
    assert found["span/way/wait/max"] == 8
    assert found["span/way/cost/mean"] == pytest.approx(10 / 3)
    assert (found["deadline/soon/met"], found["deadline/soon/missed"]) == (2, 1)
    assert found["step/ask/arrived"] == 1


def test_a_batch_of_batches_shares_evenly_and_comes_apart_in_turn() -> None:
    """Two pairs become one of four: 10 minutes at 60 an hour for a pair, then 10 for all."""
    steps = [
        passage("pairs", "gather", "walk", count=2),
        desk("10 min", id="walk", team="guides", to="all"),
        passage("all", "gather", "ride", count=2),
        desk("10 min", id="ride", team="buses", to="one"),
        passage("one", "scatter", "two"),
        passage("two", "scatter", "out"),
    ]
    teams = [team(2, id="guides", rate=60), team(id="buses", rate=60)]
    found = figures(day([cases_at([0, 0, 5, 5], to="pairs")], steps, teams))
    assert found["type/all/cost/min"] == pytest.approx(10 / 2 + 10 / 4)
    assert found["type/all/cost/max"] == pytest.approx(10 / 2 + 10 / 4)
    assert found["type/all/completed"] == 4
    assert found["step/ride/served"] == 4
    assert found["type/all/total/max"] == 25


def test_a_batch_that_gives_up_is_given_up_by_each() -> None:
    line = {"max": 0, "when_full": "turn-away", "full_to": "gone"}
    cases = [cases_at([0, 0, 0], to="stop", id="a"), cases_at([1, 1, 1], to="stop", id="b")]
    steps = [*a_bus(line=line), exit_step("gone")]
    found = figures(day(cases, steps, [team(id="buses")]))
    assert found["outcome/gone/turned-away"] == found["step/ride/turned-away"] == 3


def test_a_join_waits_for_each_case_that_was_gathered_on_a_branch() -> None:
    """Two cases fork; their first branches ride together till 10, the others take 5 and 30 minutes."""
    steps = [
        passage("split", "fork", [{"to": "stop"}, {"to": "read"}], join="meet"),
        passage("stop", "gather", "ride", count=2),
        desk("10 min", id="ride", team="buses", to="meet"),
        desk({"dist": "discrete", "values": ["5 min", "30 min"], "weights": [1, 1]}, id="read", needs=[], to="meet"),
        passage("meet", "join", "out"),
    ]
    found = figures(day([cases_at([0.0] * 8, to="split")], steps, [team(8, id="buses")]))
    assert found["type/all/completed"] == 8
    assert {found["type/all/total/min"], found["type/all/total/max"]} == {10.0, 30.0}
    assert found["type/all/total/mean"] == pytest.approx(30 - 20 * (30 - found["step/read/work/mean"]) / 25)


def test_a_deadline_is_met_missed_left_or_running() -> None:
    """Of four one is met at 10, one runs out at 25, one gives up at 22, and one still waits at the end."""
    soon = {"id": "soon", "name": "Soon", "from": "desk", "to": "end", "within": "25 min", "then": {"send": "ask"}}
    steps = [
        desk("10 min", to="end", line={"patience": "20 min", "gives_up_to": "gone"}),
        desk("1 min", id="end", needs=[]),
        desk("1 min", id="ask", needs=[]),
        exit_step("gone", abandoned=True),
    ]
    clerks = team(roster=[shift(0, 5)])
    found = figures(day([cases_at([0, 2, 50], id="a")], steps, [clerks], deadlines=[soon], length="1 h"))
    state = {name: found[f"deadline/soon/{name}"] for name in ("started", "met", "missed", "left")}
    assert state == {"started": 3, "met": 1, "missed": 0, "left": 1}


def test_the_interruptions_of_thousands_of_members_have_room_from_the_start() -> None:
    """All their clocks are wound up before the first event; there was room for 4,096 of them."""
    calls = {"name": "Call", "after": {"clock": "50 min"}, "length": "5 min", "strikes": "each"}
    study = day([cases_at([0])], [desk()], [team(3000, interruptions=[calls, calls])], length="1 h")
    world = new_world(compile_study(study), 1, 0)
    assert 6000 < world.clock[0].soon + world.clock[0].later <= len(world.later)
    assert figures(study)["team/clerks/state:interrupted"] == pytest.approx(5 / 60)
