"""Small studies put together at random from every construct, for the laws that must hold in all of them."""

from itertools import pairwise
from typing import Any

from hypothesis import strategies as st

from tests.flowcore.builders import Part, exit_step, exponential, serve
from tests.flowcore.days import EVERY_DAY

TIMES: list[Any] = [
    "2 min",
    exponential(3),
    {"dist": "uniform", "low": "0 min", "high": "5 min"},
    {"dist": "lognormal", "mean": "3 min", "sd": "2 min"},
]
RULES = ["finish", "finish-short", "pause", "hand-over"]
URGENT = {"any": [{"fact": "type", "is": "equal", "value": "urgent"}, {"fact": "waited", "is": "over", "value": 20.0}]}


@st.composite
def lines(draw: st.DrawFn) -> Part:
    """A line with some of its rules."""
    line: Part = {
        "discipline": draw(st.sampled_from(["first-come", "last-come", "priority", "due", "shortest-work", "random"]))
    }
    limit = draw(st.sampled_from([None, "block", "turn-away", "balk", "patience", "minimum"]))
    if limit in ("block", "turn-away"):
        line |= {"max": draw(st.integers(0, 3)), "when_full": limit}
    if limit == "turn-away":
        line["full_to"] = "gone"
    if limit == "balk":
        line |= {"balk_at": draw(st.integers(1, 4)), "balks_to": "gone"}
    if limit == "patience":
        line |= {"patience": exponential(6), "gives_up_to": "gone"}
    if limit == "minimum":
        line["min_wait"] = "1 min"
    return line


@st.composite
def desks(draw: st.DrawFn, step: str, to: str) -> Part:
    """A step with work, by some of the teams."""
    needs = draw(
        st.sampled_from(
            [
                [{"team": "nurses"}],
                [{"team": "clerks"}],
                [{"skill": "desk", "prefer": ["nurses"]}],
                [{"team": "clerks"}, {"team": "rooms"}],
                [{"team": "nurses", "count": 2}],
                [{"team": "rooms"}],
                [],
            ]
        )
    )
    way: Part = {"to": to} | draw(st.sampled_from([{}, {"travel": "1 min"}, {"travel": exponential(1)}]))
    more: Part = {
        "line": draw(lines()),
        "when_blocked": draw(st.sampled_from(["frees-people", "keeps-people"])),
        "reserve": draw(st.booleans()),
        "preempts": draw(st.booleans()),
        "priority": draw(st.sampled_from([0, 0, 2])),
        "cost": draw(st.sampled_from([0.0, 2.5])),
    }
    if draw(st.booleans()):
        more["changeover"] = "1 min"
    return serve(step, draw(st.sampled_from(TIMES)), None, {}, **more) | {"needs": needs, "next": [way]}


@st.composite
def stretches(draw: st.DrawFn, name: str, to: str) -> list[Part]:
    """A few steps that lead from the one named to the one given."""
    kind = draw(st.sampled_from(["desk", "rework", "delay", "signal", "gather", "fork", "choose", "kept", "known"]))
    one, two = f"{name}-one", f"{name}-two"
    if kind == "desk":
        return [draw(desks(name, to))]
    if kind == "rework":
        desk = draw(desks(name, to))
        desk["next"] = [{"to": to, "share": 0.7}, {"to": name, "share": 0.3}]
        desk["line"] = {"discipline": "priority"}
        return [desk]
    if kind == "delay":
        time = draw(st.sampled_from(TIMES))
        return [{"id": name, "name": name, "kind": "delay", "time": time, "next": [{"to": to}]}]
    if kind == "signal":
        clears = draw(st.sampled_from([{"every": "7 min"}, {"at": ["09:00", "17:30"]}]))
        return [{"id": name, "name": name, "kind": "signal", "clears": clears, "lets_go": 4, "next": [{"to": to}]}]
    if kind == "gather":
        gather = {"id": name, "name": name, "kind": "gather", "count": 3, "or_after": "15 min", "next": [{"to": one}]}
        desk = draw(desks(one, two)) | {"line": {}}
        return [gather, desk, {"id": two, "name": two, "kind": "scatter", "next": [{"to": to}]}]
    if kind == "fork":
        join = f"{name}-join"
        chance = draw(st.sampled_from([{}, {"chance": 0.5}]))
        ways = [{"to": one}, {"to": two} | chance]
        branches = [draw(desks(each, join)) | {"line": {}} for each in (one, two)]
        fork = {"id": name, "name": name, "kind": "fork", "join": join, "next": ways}
        return [fork, *branches, {"id": join, "name": join, "kind": "join", "next": [{"to": to}]}]
    if kind == "choose":
        pick = draw(st.sampled_from(["rule", "in-turn", "shortest-line", "share"]))
        ways = {"rule": [{"to": one, "when": URGENT}, {"to": two, "otherwise": True}]}.get(
            pick, [{"to": one, "share": 0.4}, {"to": two, "share": 0.6}]
        )
        if pick in ("in-turn", "shortest-line"):
            ways = [{"to": one}, {"to": two}]
        choose = {"id": name, "name": name, "kind": "choose", "pick": pick, "next": ways}
        return [choose, draw(desks(one, to)), draw(desks(two, to))]
    first, second = draw(desks(name, one)), draw(desks(one, to))
    keeps = {"keep_until": one} if kind == "kept" else {}
    first |= {"needs": [{"team": "nurses", "as": f"{name}-n"} | keeps]}
    second |= {"needs": [{"team": "nurses", "same_as": f"{name}-n"}], "line": {}, "reserve": False, "preempts": False}
    return [first, second]


@st.composite
def teams(draw: st.DrawFn) -> list[Part]:
    """Nurses by a roster, clerks with a trouble of their own, and rooms."""
    lunch = {
        "after": "3 h",
        "length": "30 min",
        "taken": draw(st.sampled_from(["together", "in-turn", "spread"])),
        "within": "1 h",
        "paid": draw(st.booleans()),
    }
    row = {
        "days": EVERY_DAY,
        "from": "08:00",
        "to": draw(st.sampled_from(["12:00", "16:00"])),
        "people": 2,
        "breaks": [lunch],
    }
    late = {"days": EVERY_DAY, "from": "14:00", "to": "02:00", "people": 2}
    stay = draw(st.sampled_from(["leave", "clear-line", "empty"]))
    trouble = {
        "name": "Calls",
        "after": draw(st.sampled_from([{"clock": exponential(60)}, {"working": exponential(30)}, {"cases": 5}])),
        "length": exponential(5),
        "strikes": draw(st.sampled_from(["each", "team"])),
        "work": draw(st.sampled_from(RULES)),
    }
    return [
        {
            "id": "nurses",
            "name": "Nurses",
            "roster": [row, late],
            "skills": ["desk"],
            "rate": 30,
            "overtime": 1.5,
            "at_break": draw(st.sampled_from(RULES)),
            "at_shift_end": draw(st.sampled_from(RULES)),
            "closing": {"stay": stay} | ({"at_most": "90 min"} if stay == "empty" else {}),
            "picks": draw(st.sampled_from(["longest-idle", "least-used", "listed", "random"])),
        },
        {
            "id": "clerks",
            "name": "Clerks",
            "size": 2,
            "skills": ["desk"],
            "rate": 20,
            "paid": draw(st.sampled_from(["present", "used"])),
            "use_cost": 0.5,
            "pace": 1.25,
            "interruptions": [trouble],
        },
        {"id": "rooms", "name": "Rooms", "kind": "places", "size": 2},
    ]


@st.composite
def documents(draw: st.DrawFn, **run: Any) -> Part:
    """One to four stretches one after another, two streams, and a deadline over the whole way."""
    count = draw(st.integers(1, 4))
    names = [f"s{number}" for number in range(count)] + ["out"]
    steps = [step for name, to in pairwise(names) for step in draw(stretches(name, to))]
    gap = draw(st.sampled_from([exponential(4), exponential(9), "5 min"]))
    cases = {"id": "cases", "name": "Cases", "kind": "random", "gap": gap, "to": "s0", "limit": 60}
    cases["mix"] = [{"type": "usual", "share": 0.7}, {"type": "urgent", "share": 0.3}]
    groups = {"id": "groups", "name": "Groups", "kind": "random", "gap": exponential(25), "to": "s0", "limit": 20}
    groups["group"] = {"dist": "poisson", "mean": 2}
    reminder = {"id": "late", "name": "Late", "from": steps[0]["id"], "to": "out", "within": "30 min"}
    errand = serve("errand", "1 min", "clerks", {"gone": 1})
    return {
        "name": "Random",
        "start": "2027-03-01T08:00",
        "case_types": [
            {"id": "usual", "name": "Usual", "waiting_cost": 3.0, "value": 10.0},
            {"id": "urgent", "name": "Urgent", "priority": 2, "due": "20 min"},
        ],
        "streams": [cases, groups],
        "steps": [*steps, errand, exit_step(), exit_step("gone", abandoned=True, penalty=4.0)],
        "deadlines": [
            reminder | {"then": draw(st.sampled_from([{"send": "errand", "every": "40 min"}, {"divert": "gone"}]))}
        ]
        if draw(st.booleans())
        else [],
        "teams": draw(teams()),
        "run": {"replications": 1, "seed": draw(st.integers(0, 2**40))} | run,
    }
