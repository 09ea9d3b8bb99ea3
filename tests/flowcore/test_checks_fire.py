"""Every health check is seen to find what it is there for."""

from collections.abc import Callable
from typing import Any

import pytest

from flowcore.checks import check_study, registry
from flowcore.problems import StudyError
from flowcore.study import read_study
from flowcore.study.scenarios import apply_scenario
from tests.flowcore.test_checks import DEMO, demo

Parts = dict[str, Any]
Change = Callable[[Parts, Any], Any]
RULE = {"all": [{"fact": "waited", "is": "over", "value": "5 min"}]}
ON_THE_MOON = {"all": [{"fact": "visits:moon", "is": "over", "value": 1}]}
WAY = [{"to": "served"}]
SIZING: dict[str, Any] = {"id": "all", "name": "All"}


def put(d: Any, *steps: Parts) -> None:
    """Add steps, the first of them behind the kiosk."""
    d["steps"] += [{"name": step["id"].title(), **step} for step in steps]
    d["steps"][0]["next"] = [{"to": steps[0]["id"]}]


def fork(d: Any, join: str, *ways: str) -> None:
    put(
        d,
        {"id": "fork", "kind": "fork", "join": join, "next": [{"to": way} for way in ways]},
        {"id": "branch", "kind": "delay", "time": "1 min", "next": [{"to": "join"}]},
        {"id": "astray", "kind": "delay", "time": "1 min", "next": WAY},
        {"id": "join", "kind": "join", "next": WAY},
    )


def shifts(p: Parts, rest: Parts) -> None:
    """Let three clerks come from eight to four, with a break of half an hour."""
    del p["clerks"]["size"]
    row = {"days": ["mon"], "from": "08:00", "to": "16:00", "people": 3, "breaks": [{"length": "30 min", **rest}]}
    p["clerks"]["roster"] = [row]


def ways(d: Any, *links: Parts, pick: str = "rule") -> None:
    put(d, {"id": "parting", "kind": "choose", "pick": pick, "next": list(links)})


def loop(d: Any) -> None:
    put(
        d,
        {"id": "one", "kind": "choose", "next": [{"to": "two", "share": 0.5}, {"to": "served", "share": 0.5}]},
        {"id": "two", "kind": "choose", "next": [{"to": "one"}]},
    )


def blocking(p: Parts, d: Any) -> None:
    full = {"max": 0, "when_full": "block"}
    needs = [{"team": "clerks"}]
    back = [{"to": "one", "share": 0.2}, {"to": "served", "share": 0.8}]
    keeps = {"kind": "serve", "work": "1 min", "needs": needs, "line": full, "when_blocked": "keeps-people"}
    put(d, {"id": "one", **keeps, "next": [{"to": "two"}]}, {"id": "two", **keeps, "next": back})


def kept(p: Parts, d: Any) -> None:
    p["counter"].update(needs=[{"team": "clerks", "keep_until": "cashier"}])
    p["cashier"].update(needs=[{"team": "clerks", "count": 2}])


def at_night(p: Parts, d: Any) -> None:
    roster = [{"days": ["mon"], "from": "08:00", "to": "12:00", "people": 20}]
    del p["greeters"]["size"]
    p["greeters"].update(roster=roster)
    p["visitors"].update(to="greeter")


def piled_up(p: Parts, d: Any) -> None:
    days = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
    d["streams"][0] = {
        "id": "visitors", "name": "Visitors", "kind": "profile", "interval": "60 min", "mix": d["streams"][0]["mix"],
        "week": {day: [0] * 8 + [200] for day in days}, "to": "kiosk",
    }  # fmt: skip


def crowd(p: Parts, d: Any) -> None:
    p["visitors"].update(gap="0.01 s")


ENDLESS = {"name": "Call", "after": {"clock": "0 min"}, "length": "1 min", "strikes": "each"}
EMPTY = {"id": "none", "name": "None", "kind": "dates", "arrivals": [], "to": "kiosk"}
LEVER = {"id": "crew", "name": "Crew", "sets": ["/teams/nobody/size"]}
DEADLINE = {
    "id": "soon",
    "name": "Soon",
    "from": "cashier",
    "to": "kiosk",
    "within": "1 h",
    "then": {"divert": "served"},
}
SPAN = {"id": "back", "name": "Back", "from": {"step": "cashier"}, "to": {"step": "kiosk"}}
SHARED_PLACES = [{"place": "a", "share": 0.5}, {"place": "b", "share": 0.4}]
SITE = {"places": [{"id": "a", "name": "A", "x": 0, "y": 0}, {"id": "b", "name": "B", "x": 9, "y": 0}]}
TRAIT = {"id": "urgent", "name": "Urgent", "values": ["no", "yes"], "start": "no"}

CASES: list[tuple[str, Change, str, str]] = [
    ("gaps_take_time", lambda p, d: p["visitors"].update(gap="0 min"), "streams/visitors/gap", "endlessly many"),
    (
        "gaps_take_time",
        lambda p, d: (p["visitors"].pop("gap"), p["visitors"].update(chance={"every": "0 min", "probability": 0.5})),
        "streams/visitors/chance/every",
        "interval is zero",
    ),
    (
        "streams_bring_cases",
        lambda p, d: d["streams"].append(EMPTY),
        "streams/none/arrivals",
        "brings no case",
    ),
    (
        "streams_bring_cases",
        lambda p, d: p["visitors"].update(first="2027-03-05T08:00", last="2027-03-04T08:00"),
        "streams/visitors/last",
        "before the first",
    ),
    ("run_has_length", lambda p, d: d["run"].update(length="0 min", warm_up="0 min"), "run/length", "no length"),
    (
        "interruptions_take_time",
        lambda p, d: p["clerks"].update(interruptions=[ENDLESS]),
        "teams/clerks/interruptions/0/after/clock",
        "after no time",
    ),
    ("run_ends_soon", crowd, "run/length", "will take about"),
    ("run_is_repeated", lambda p, d: d["run"].update(replications=1), "run/replications", "one possible course"),
    (
        "run_is_longer_than_a_way",
        lambda p, d: (d["run"].update(length="1 h", warm_up="0 min"), p["counter"].update(work="3 d")),
        "run/length",
        "longer than the run",
    ),
    ("every_step_leads_out", lambda p, d: p["cashier"].update(next=[]), "steps/cashier/next", "leads nowhere"),
    ("loops_take_time", lambda p, d: loop(d), "steps/one/next", "loop of parting ways"),
    (
        "messages_come",
        lambda p, d: put(d, {"id": "ear", "kind": "signal", "clears": {"message": "served"}, "next": WAY}),
        "steps/ear/clears",
        "to which nobody comes before",
    ),
    ("something_happens", lambda p, d: d.update(streams=[]), "streams", "No cases ever come"),
    (
        "every_step_is_reached",
        lambda p, d: d["steps"].append({"id": "far", "name": "Far", "kind": "exit"}),
        "steps/far",
        "No case ever reaches",
    ),
    ("forks_come_together", lambda p, d: fork(d, "branch", "branch", "astray"), "steps/fork/join", "is not a join"),
    ("forks_come_together", lambda p, d: fork(d, "join", "branch", "astray"), "steps/fork/next", "never comes to Join"),
    (
        "those_who_leave_know_where",
        lambda p, d: p["counter"].update(line={"max": 3, "when_full": "turn-away"}),
        "steps/counter/line/full_to",
        "is turned away",
    ),
    (
        "those_who_leave_know_where",
        lambda p, d: p["counter"].update(line={"balk_at": 3}),
        "steps/counter/line/balks_to",
        "balks",
    ),
    (
        "those_who_leave_know_where",
        lambda p, d: p["counter"].update(line={"patience": "9 min"}),
        "steps/counter/line/gives_up_to",
        "gives up",
    ),
    ("marks_are_on_the_way", lambda p, d: d.update(deadlines=[DEADLINE]), "deadlines/soon", "never ends"),
    ("marks_are_on_the_way", lambda p, d: d.update(spans=[SPAN]), "spans/back", "never ends"),
    (
        "marks_are_on_the_way",
        lambda p, d: d.update(measures=[{"id": "m", "name": "M", "time": {key: SPAN[key] for key in ("from", "to")}}]),
        "measures/m",
        "never ends",
    ),
    (
        "measures_can_be_told",
        lambda p, d: d.update(measures=[{"id": "m", "name": "M", "share": {"of": "stream/moon", "where": RULE}}]),
        "measures/m/of",
        'of "stream/moon", which is not there',
    ),
    (
        "measures_can_be_told",
        lambda p, d: d.update(measures=[{"id": "m", "name": "M", "share": {"of": "time", "where": RULE}}]),
        "measures/m/where",
        "asks waited, which only a case can tell",
    ),
    (
        "measures_can_be_told",
        lambda p, d: d.update(measures=[{"id": "m", "name": "M", "time": {"to": {"step": "moon"}}}]),
        "measures/m/to",
        'no step "moon"',
    ),
    (
        "measures_can_be_told",
        lambda p, d: d.update(measures=[{"id": "m", "name": "M", "count": {"where": ON_THE_MOON}}]),
        "measures/m/where",
        'no step "moon"',
    ),
    ("blocking_cannot_lock", blocking, "steps/one/line", "may all be full"),
    ("someone_is_there_when_cases_come", at_night, "teams/greeters/roster", "no one of Greeters is there"),
    ("work_does_not_pile_up", piled_up, "teams/clerks/size", "work has piled up"),
    ("load_fits_capacity", lambda p, d: p["clerks"].update(size=2), "teams/clerks/size", "members' worth of work"),
    ("levers_move_something", lambda p, d: d.update(levers=[LEVER]), "levers/crew/sets", "is not there"),
    (
        "scenarios_fit",
        lambda p, d: d.update(scenarios=[{"id": "x", "name": "X", "levers": {"nobody": 1}}]),
        "scenarios/x/levers/nobody",
        "moves a lever “nobody” that is not there",
    ),
    (
        "levers_move_something",
        lambda p, d: d.update(levers=[{"id": "x", "name": "X", "sets": []}]),
        "levers/x/sets",
        "drives nothing",
    ),
    (
        "sources_are_of_values",
        lambda p, d: d.update(sources={"/steps/moon/work": {"file": "a.csv", "rows": 9, "date": "2027-01-01"}}),
        "sources",
        "/steps/moon/work is said to come from a.csv, and is not there",
    ),
    ("traits_matter", lambda p, d: d.update(traits=[TRAIT]), "traits/urgent", "Nothing depends"),
    ("ids_are_single", lambda p, d: d["teams"].append({"id": "clerks", "name": "C"}), "teams/clerks", "used 2 times"),
    ("steps_are_known", lambda p, d: p["visitors"].update(to="moon"), "streams/visitors/to", 'no step "moon"'),
    ("steps_are_known", lambda p, d: fork(d, "moon", "branch"), "steps/fork/join", 'no step "moon"'),
    (
        "teams_are_known",
        lambda p, d: p["cashier"].update(needs=[{"team": "robots"}]),
        "steps/cashier/needs",
        'no team "robots"',
    ),
    (
        "teams_are_known",
        lambda p, d: p["cashier"].update(needs=[{"team": "cashiers", "same_as": "her"}]),
        "steps/cashier/needs",
        'No need is named "her"',
    ),
    (
        "teams_are_known",
        lambda p, d: (
            p["counter"].update(needs=[{"team": "clerks", "as": "her"}]),
            p["cashier"].update(needs=[{"team": "clerks", "same_as": "her", "count": 2}]),
        ),
        "steps/cashier/needs",
        "only once",
    ),
    (
        "case_types_are_known",
        lambda p, d: p["visitors"]["mix"].append({"type": "ghost", "share": 0}),
        "streams/visitors/mix",
        'no case type "ghost"',
    ),
    ("calendars_are_known", lambda p, d: p["counter"].update(open="never"), "steps/counter/open", "no calendar"),
    ("calendars_are_known", lambda p, d: d["run"].update(doors="never"), "run/doors", 'no calendar "never"'),
    ("places_are_known", lambda p, d: p["counter"].update(place="moon"), "steps/counter/places", 'no place "moon"'),
    ("places_are_known", lambda p, d: p["clerks"].update(place="moon"), "teams/clerks/place", 'no place "moon"'),
    (
        "traits_are_known",
        lambda p, d: p["visitors"].update(traits={"ghost": 1}),
        "streams/visitors/traits",
        'no trait "ghost"',
    ),
    (
        "facts_are_known",
        lambda p, d: ways(d, {"to": "served", "when": {"all": [{"fact": "free:ghosts", "is": "over", "value": 1}]}}),
        "steps/parting/next",
        'no team "ghosts"',
    ),
    (
        "ways_make_a_whole",
        lambda p, d: ways(d, {"to": "served", "share": 0.4}, {"to": "cashier", "share": 0.4}, pick="share"),
        "steps/parting/next",
        "sum to 80 %",
    ),
    ("rules_leave_a_way", lambda p, d: ways(d, {"to": "served", "when": RULE}), "steps/parting/next", "no way to go"),
    (
        "rules_leave_a_way",
        lambda p, d: ways(d, {"to": "served", "otherwise": True}, {"to": "cashier", "otherwise": True}),
        "steps/parting/next",
        "More than one way",
    ),
    (
        "rules_leave_a_way",
        lambda p, d: ways(d, {"to": "served", "otherwise": True}),
        "steps/parting/next",
        "there is no rule",
    ),
    (
        "rules_leave_a_way",
        lambda p, d: ways(d, {"to": "served", "otherwise": True}, {"to": "cashier", "when": RULE}, {"to": "counter"}),
        "steps/parting/next",
        "another has a share",
    ),
    ("rules_leave_a_way", lambda p, d: ways(d, {"to": "served"}), "steps/parting/next", "picked by rule, and there is"),
    (
        "places_make_a_whole",
        lambda p, d: (d.update(site=SITE), p["counter"].update(places=SHARED_PLACES, pick_place="share")),
        "steps/counter/places",
        "sum to 90 %",
    ),
    ("mixes_make_a_whole", lambda p, d: p["visitors"]["mix"].pop(), "streams/visitors/mix", "sum to 80 %"),
    (
        "chances_make_a_whole",
        lambda p, d: d.update(traits=[TRAIT | {"start": {"shares": {"no": 0.5}}}]),
        "traits/urgent/start",
        "sum to 50 %",
    ),
    ("cases_fit", crowd, "streams/visitors", "there is room for"),
    ("members_fit", lambda p, d: d["teams"].extend([
        {"id": f"crowd-{n}", "name": "Crowd", "size": 70_000} for n in range(2)
    ]), "teams", "there is room for"),
    (
        "shifts_fit",
        lambda p, d: (
            p["clerks"].pop("size"),
            p["clerks"].update(
                roster=[{"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1}] * 50
            ),
            d["run"].update(length="80 wk", warm_up="0 min"),
            d.update(calendars=[{"id": "much", "name": "Much", "weekly": [
                {"days": ["mon"], "from": "08:00", "to": "09:00"}] * 2000}]),
        ),
        "run/length",
        "there is room for",
    ),
    (
        "needs_fit_teams",
        lambda p, d: p["cashier"].update(needs=[{"team": "cashiers", "count": 9}]),
        "steps/cashier/needs",
        "needs 9",
    ),
    (
        "skills_are_had",
        lambda p, d: p["cashier"].update(needs=[{"skill": "sums"}]),
        "steps/cashier/needs",
        "No team has the skill",
    ),
    (
        "breaks_fall_in_their_shift",
        lambda p, d: shifts(p, {"after": "9 h"}),
        "teams/clerks/roster/0/breaks/0",
        "none who come from 08:00 to 16:00 have the break",
    ),
    (
        "breaks_fall_in_their_shift",
        lambda p, d: shifts(p, {"after": "7 h", "taken": "in-turn"}),
        "teams/clerks/roster/0/breaks/0",
        "only 2 of the 3 who come from 08:00 to 16:00 have the break of 30 min",
    ),
    (
        "shifts_are_written_once",
        lambda p, d: (
            shifts(p, {"after": "4 h"}),
            p["clerks"]["roster"].append(p["clerks"]["roster"][0] | {"days": ["mon", "sat"], "people": 2}),
        ),
        "teams/clerks/roster/1",
        "shifts 1 and 2 are both from 08:00 to 16:00 on the same days, so 5 people come",
    ),
    (
        "absence_is_of_shifts",
        lambda p, d: p["clerks"].update(absence=0.05),
        "teams/clerks/absence",
        "no shift that they could miss",
    ),
    ("skills_are_asked_for", lambda p, d: p["clerks"].update(skills=["sums"]), "teams/clerks/skills", "No step asks"),
    ("teams_have_work", lambda p, d: d["teams"].append({"id": "idle", "name": "Idle"}), "teams/idle", "No step needs"),
    (
        "searches_can_be_made",
        lambda p, d: d.update(sizing=[SIZING | {"teams": [{"team": "moon", "people": {"high": 3}}]}]),
        "sizing/all/teams",
        'There is no team "moon"',
    ),
    ("searches_can_be_made", lambda p, d: d.update(sizing=[SIZING]), "sizing/all/teams", "All changes nothing"),
    (
        "searches_can_be_made",
        lambda p, d: d.update(sizing=[SIZING | {"levers": ["gone"]}]),
        "sizing/all/levers",
        'There is no lever "gone"',
    ),
    (
        "searches_can_be_made",
        lambda p, d: d.update(sizing=[SIZING | {"teams": [{"team": "clerks", "people": {"high": 3}}]}]),
        "sizing/all/teams/clerks/shifts",
        "have no shifts to choose from",
    ),
    ("kept_members_cannot_lock", kept, "steps/cashier/needs", "keep members since"),
]  # fmt: skip


@pytest.mark.parametrize(("check", "change", "where", "what"), CASES, ids=[f"{c[0]}-{c[3]}" for c in CASES])
def test_a_check_finds_what_it_is_there_for(check: str, change: Change, where: str, what: str) -> None:
    study = read_study(demo(change))
    found = [(each.where, each.what) for each in next(c for c in every_check() if c.__name__ == check)(study)]
    assert any(place == where and what in words for place, words in found), found


def test_what_a_check_finds_is_told() -> None:
    """What a doubt finds is among a study's problems where nothing is wrong, and what an error finds always."""
    for check, change, where, what in CASES:
        told = check_study(read_study(demo(change)))
        is_doubt = check in {each.__name__ for each in registry._DOUBTS}
        if not is_doubt or not any(each.level == "error" for each in told):
            assert any(each.where == where and what in each.what for each in told), check


def every_check() -> list[Any]:
    return [*registry._SOUNDNESS, *registry._DOUBTS]


def test_every_check_is_in_the_table() -> None:
    assert {check.__name__ for check in every_check()} == {check for check, *_ in CASES}


def test_the_study_that_is_changed_is_sound_itself() -> None:
    assert check_study(read_study(DEMO)) == []
    with pytest.raises(StudyError):
        apply_scenario(read_study(DEMO), "none")
