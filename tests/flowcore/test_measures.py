"""Measures of the analyst's own: by hand, against the figures that the engine tells anyway, and in company."""

import math
from typing import Any

import pytest
from hypothesis import HealthCheck, assume, given, settings

from flowcore.problems import StudyError
from flowcore.results.catalogue import titled
from flowcore.results.figure_search import search_figures
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import read_study
from tests.flowcore.builders import Part, exit_step, exponential, serve, stream
from tests.flowcore.random_studies import documents

MANY = settings(
    max_examples=40, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck)
)
ON_A_MONDAY = "2027-03-01T08:00"


def asks(fact: str, is_: str, value: Any) -> Part:
    return {"all": [{"fact": fact, "is": is_, "value": value}]}


def measure(measure_id: str, **told: Part) -> Part:
    return {"id": measure_id, "name": measure_id.title(), **told}


def results_of(document: Part, *measures: Part) -> Results:
    return simulate(read_study({**document, "measures": list(measures)}))


def three_cases(*measures: Part, **run: Any) -> Results:
    """Three cases at 8:00, 8:02 and 8:04, each ten minutes with the one clerk: they wait 0, 8 and 16 minutes."""
    at = [f"2027-03-01T08:0{minute}" for minute in (0, 2, 4)]
    return results_of(
        {
            "name": "Three",
            "start": ON_A_MONDAY,
            "case_types": [{"id": "short", "name": "Short"}, {"id": "long", "name": "Long"}],
            "streams": [
                {
                    "id": "in",
                    "name": "In",
                    "kind": "dates",
                    "arrivals": [{"at": at[0], "type": "short"}, *({"at": each, "type": "long"} for each in at[1:])],
                    "to": "desk",
                }
            ],
            "steps": [serve("desk", "10 min", "clerks", {"out": 1}), exit_step()],
            "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
            "run": {"length": "60 min", "replications": 1, **run},
        },
        *measures,
    )


BY_HAND = {
    "share": (measure("m", share={"where": asks("waited", "under", "9 min")}), "share", 2 / 3),
    "of one type": (measure("m", share={"of": "type/long", "where": asks("waited", "under", "9 min")}), "share", 1 / 2),
    "of an outcome": (measure("m", count={"of": "outcome/out", "where": asks("type", "equal", "long")}), "count", 2),
    "of visits": (measure("m", count={"of": "step/desk", "where": asks("waited-here", "over", "7 min")}), "count", 2),
    "time from the arrival": (measure("m", time={"to": {"step": "out"}}), "time/mean", 18),
    "time between points": (
        measure("m", time={"from": {"step": "desk"}, "to": {"step": "desk", "at": "leaving"}}),
        "time/max",
        26,
    ),
    "mean of a level": (measure("m", level={"of": "step/desk/line"}), "level", 24 / 60),
    "most of a level": (measure("m", level={"of": "type/all/inside", "statistic": "max"}), "level", 3),
    "while a rule holds": (
        measure("m", level={"of": "step/desk/line", "where": asks("time-of-day", "at-least", "08:15")}),
        "level",
        5 / 45,
    ),
    "most while a rule holds": (
        measure("m", level={"of": "step/desk/line", "statistic": "max", "where": asks("time-of-day", "over", "08:10")}),
        "level",
        1,
    ),
    "members at work": (measure("m", level={"of": "team/clerks/working"}), "level", 0.5),
    "share of the time": (measure("m", share={"of": "time", "where": asks("line:desk", "over", 1)}), "share", 6 / 60),
    "on another day": (measure("m", share={"of": "time", "where": asks("weekday", "equal", "tue")}), "share", 0),
    "never asked": (measure("m", share={"of": "type/long", "where": asks("waited", "under", "9 min")}), "share", None),
}


@pytest.mark.parametrize(("told", "quantity", "expected"), BY_HAND.values(), ids=list(BY_HAND))
def test_measures_by_hand(told: Part, quantity: str, expected: float | None) -> None:
    run = {} if expected is not None else {"length": "8 min"}
    [value] = three_cases(told, **run).values[f"measure/m/{quantity}"]
    assert math.isnan(value) if expected is None else value == pytest.approx(expected)


def test_a_measure_counts_from_the_end_of_the_warm_up() -> None:
    long = measure("cases", count={"where": asks("in-system", "over", "1 min")})
    line = measure("most", level={"of": "step/desk/line", "statistic": "max"})
    values = three_cases(long, line, warm_up="21 min").values
    assert values["measure/cases/count"] == [1]
    assert values["measure/most/level"] == [0]


def test_a_rule_that_asks_the_time_changes_its_answer_to_the_minute() -> None:
    """Somebody is called every day from 11:40 to 13:15, whatever the interval that series are collected by."""
    noon = {
        "all": [
            {"fact": "time-of-day", "is": "at-least", "value": "11:40"},
            {"fact": "time-of-day", "is": "under", "value": "13:15"},
            {"fact": "weekday", "is": "in", "value": ["tue", "sun"]},
        ]
    }
    told = measure("noon", share={"of": "time", "where": noon})
    document = {
        "name": "Nobody comes",
        "start": "2027-03-01T12:07",
        "steps": [serve("desk", "1 min", None, {"out": 1}), exit_step()],
        "streams": [stream("desk", "400 d")],
        "run": {"length": "2 wk", "replications": 1},
    }
    [value] = results_of(document, told).values["measure/noon/share"]
    assert value == pytest.approx(4 * 95 / (14 * 1440))


def held_against(document: Part) -> list[tuple[str, str]]:
    """Return own measures that tell what the engine tells anyway, each with the address of that."""
    return [
        ("measure/soon/share", "type/all/wait/within:4min"),
        ("measure/urgent/share", "type/urgent/wait/within:4min"),
        ("measure/groups/share", "stream/groups/wait/within:4min"),
        ("measure/long/count", "type/all/completed"),
        ("measure/inside/level", "type/all/inside/mean"),
        ("measure/present/level", "team/nurses/present"),
        ("measure/working/level", "team/nurses/working"),
        *(
            (f"measure/{what}-{step['id']}/{quantity}", f"step/{step['id']}/{address}")
            for step in document["steps"]
            if step["kind"] == "serve"
            for what, quantity, address in (
                ("line", "level", "line/mean"),
                ("here", "level", "inside/mean"),
                ("visit", "share", "wait/within:4min"),
            )
        ),
    ]


def measures_of(document: Part) -> list[Part]:
    soon = asks("waited", "at-most", "4 min")
    found = [
        measure("soon", share={"where": soon}),
        measure("urgent", share={"of": "type/urgent", "where": soon}),
        measure("groups", share={"of": "stream/groups", "where": soon}),
        measure("long", count={"where": asks("in-system", "at-least", "0 min")}),
        measure("inside", level={"of": "type/all/inside"}),
        measure("present", level={"of": "team/nurses/present"}),
        measure("working", level={"of": "team/nurses/working"}),
    ]
    for step in document["steps"]:
        if step["kind"] == "serve":
            name = step["id"]
            found.append(measure(f"line-{name}", level={"of": f"step/{name}/line"}))
            found.append(measure(f"here-{name}", level={"of": f"step/{name}/inside"}))
            here = {"of": f"step/{name}", "where": asks("waited-here", "at-most", "4 min")}
            found.append(measure(f"visit-{name}", share=here))
    return found


@MANY
@given(documents(length="20 h", warm_up="2 h"))
def test_own_measures_agree_with_the_figures_in_every_study(document: dict[str, Any]) -> None:
    measures = measures_of(document)
    pairs = held_against(document)
    targets = [{"figure": address, "at_least": 0} for _, address in pairs if "within:" in address]
    document |= {"targets": [*document.get("targets", []), *targets]}
    try:
        told = results_of(document, *measures).values
    except StudyError as error:
        assume("stand" not in str(error))
        raise
    for own, address in pairs:
        known = told[address]
        if address == "type/all/completed":
            known = known + told["type/all/abandoned"] + told["type/all/turned-away"]
        assert told[own] == pytest.approx(known, nan_ok=True), own
    alone = results_of(document).values
    assert {each: told[each][0] for each in alone} == pytest.approx(
        {each: values[0] for each, values in alone.items()}, nan_ok=True
    ), "asking changes nothing of what is asked about"


def test_those_who_travel_together_are_asked_one_by_one() -> None:
    """Two are gathered, after 5 and 0 minutes, and served as one after three more: both waited, each for itself."""
    document = {
        "name": "Two at once",
        "start": ON_A_MONDAY,
        "streams": [
            {
                "id": "in",
                "name": "In",
                "kind": "dates",
                "arrivals": [{"at": f"2027-03-01T08:{minute}"} for minute in ("00", "05")],
                "to": "pair",
            }
        ],
        "steps": [
            {"id": "pair", "name": "Pair", "kind": "gather", "count": 2, "next": [{"to": "desk"}]},
            serve("desk", "2 min", "clerks", {"out": 1}, line={"min_wait": "3 min"}),
            exit_step(),
        ],
        "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
        "run": {"length": "60 min", "replications": 1},
    }
    told = results_of(
        document,
        measure("eight", count={"of": "step/desk", "where": asks("waited", "over", "7.9 min")}),
        measure("three", count={"of": "step/desk", "where": asks("waited", "over", "2.9 min")}),
        measure("once", count={"of": "step/desk", "where": asks("visits:desk", "equal", 1)}),
        measure("at-once", level={"of": "step/desk/inside", "statistic": "max"}),
    ).values
    assert [told[f"measure/{name}/count"][0] for name in ("eight", "three", "once")] == [1, 2, 2]
    assert told["measure/at-once/level"] == [2]


def test_ways_between_checkpoints_are_timed() -> None:
    """From one checkpoint to the next, in the direction in which cases go."""
    steps = [
        serve("desk", "4 min", "clerks", {"till": 1}, checkpoint=True),
        serve("till", "3 min", None, {"out": 1}, checkpoint=True),
        exit_step(),
    ]
    document = {
        "name": "Two checkpoints",
        "streams": [stream("desk", exponential(5))],
        "steps": steps,
        "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
        "run": {"length": "10 h", "replications": 1, "seed": 3},
    }
    told = results_of(document)
    between, upto = told.values["checkpoint/desk:till/total/mean"], told.values["checkpoint/till/total/mean"]
    assert between == pytest.approx(upto - told.values["checkpoint/desk/total/mean"])
    assert "checkpoint/till:desk/total/mean" not in told.values
    named = titled("checkpoint/desk:till/wait/mean", read_study(document))
    assert named is not None
    assert named.name == "Wait from Desk to Till"


def test_a_measure_is_called_as_the_analyst_calls_it() -> None:
    document = {
        "name": "Names",
        "measures": [
            {"id": "soon", "name": "Seen within 4 min", "share": {"where": asks("waited", "under", "4 min")}},
            {"id": "clock", "name": "Busy hours", "share": {"of": "time", "where": asks("line:desk", "over", 3)}},
            {"id": "crew", "name": "Nurses at lunch", "level": {"of": "team/nurses/present", "statistic": "max"}},
            {"id": "way", "name": "To the desk", "time": {"to": {"step": "desk"}}},
        ],
    }
    study = read_study(document)
    titles = [titled(address, study) for address in ("measure/soon/share", "measure/clock/share", "measure/crew/level")]
    assert [(title.name, title.of) for title in titles if title] == [
        ("Seen within 4 min", "% of cases"),
        ("Busy hours", "% of the time"),
        ("Nurses at lunch", "most, members"),
    ]
    found = [each.address for each in search_figures(study, "to the desk")]
    assert "measure/way/time/mean" in found
    assert [each.address for each in search_figures(study, "seen within 4 min")] == ["measure/soon/share"]


def test_a_measure_that_cannot_be_told_stops_no_run() -> None:
    """What a scenario takes away cannot be asked about there; all else is told."""
    odd = [
        measure("gone", share={"of": "step/moon", "where": asks("waited", "over", "1 min")}),
        measure("asked", count={"where": asks("free:moon", "over", 1)}),
        measure("typed", count={"where": asks("waited", "over", "soon")}),
        measure("timed", time={"to": {"step": "moon"}}),
        measure("moment", share={"of": "time", "where": asks("waited", "over", "1 min")}),
    ]
    told = three_cases(*odd, measure("fine", count={"where": asks("waited", "over", "1 min")})).values
    assert {address.split("/")[1] for address in told if address.startswith("measure/")} == {"fine"}
