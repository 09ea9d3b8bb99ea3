"""Scenarios: levers and changes applied to a study, and what is said where they do not fit."""

import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.problems import StudyError
from flowcore.reports.scenarios import scenarios_in_words
from flowcore.study import StudyDocument, read_study, written
from flowcore.study.levers import moved, values_of
from flowcore.study.runs import Lever, PatchStep
from flowcore.study.scenarios import BASELINE, apply_scenario, misfits
from tests.flowcore.builders import document, exit_step, exponential, serve

CREW = {"id": "crew", "name": "Crew", "sets": ["/teams/clerks/size", "/teams/1/size"], "values": [2, 3]}
WORK = {"id": "work", "name": "Work", "sets": ["/steps/desk/work"]}


def base(levers: list[dict[str, Any]], scenarios: list[dict[str, Any]]) -> StudyDocument:
    steps = [serve("desk", "5 min", "clerks", {"out": 1}), exit_step()]
    whole = document(steps, {"clerks": 1, "guards": 1}, exponential(4))
    return read_study(whole | {"levers": levers, "scenarios": scenarios})


def scenario(**more: Any) -> dict[str, Any]:
    return {"id": "other", "name": "Other"} | more


def test_a_lever_sets_all_its_places_by_id_and_by_number() -> None:
    of = base([CREW, WORK], [scenario(levers={"crew": 3, "work": {"dist": "exponential", "mean": "2 min"}})])
    other = apply_scenario(of, "other")
    assert [team.size for team in other.teams] == [3, 3]
    assert other.steps[0].model_dump()["work"]["mean"] == "2 min"
    assert (other.scenarios, other.levers) == ([], [])
    assert [team.size for team in of.teams] == [1, 1]


def test_changes_are_made_in_order() -> None:
    more = serve("check", "1 min", "guards", {"out": 1})
    changes = [
        {"op": "test", "path": "/steps/desk/name", "value": "Desk"},
        {"op": "add", "path": "/steps/1", "value": more},
        {"op": "replace", "path": "/steps/desk/next/0/to", "value": "check"},
        {"op": "copy", "from": "/steps/check/work", "path": "/steps/desk/work"},
        {"op": "remove", "path": "/teams/clerks/rate"},
    ]
    other = apply_scenario(base([], [scenario(changes=changes)]), "other")
    assert [step.id for step in other.steps] == ["desk", "check", "out"]
    assert other.steps[0].model_dump()["work"] == "1 min"


def test_what_a_change_does_to_a_lever_s_value_stays_in_that_place() -> None:
    both = WORK | {"sets": ["/steps/desk/work", "/steps/check/work"]}
    of = base([both], [scenario(levers={"work": {"dist": "exponential", "mean": "2 min"}})])
    check = read_study(
        of.model_dump(mode="json") | {"steps": [*of.steps, serve("check", "1 min", "guards", {"out": 1})]}
    )
    slower = {"op": "replace", "path": "/steps/check/work/mean", "value": "9 min"}
    check.scenarios[0].changes.append(PatchStep.model_validate(slower))
    means = [step["work"]["mean"] for step in apply_scenario(check, "other").model_dump()["steps"] if "work" in step]
    assert means == ["2 min", "9 min"]
    assert check.scenarios[0].levers["work"]["mean"] == "2 min"


def test_a_change_of_the_whole_document() -> None:
    whole = base([], []).model_dump(mode="json") | {"name": "Another"}
    of = base([], [scenario(changes=[{"op": "replace", "path": "", "value": whole}])])
    assert apply_scenario(of, "other") == read_study(whole)


@pytest.mark.parametrize(
    ("levers", "changes", "moved", "where", "what"),
    [
        ([CREW | {"sets": ["/teams/nobody/size"]}], [], {"crew": 2}, "scenarios/other/levers/crew", "nobody"),
        ([CREW | {"sets": ["/teams/clerks/length"]}], [], {"crew": 2}, "scenarios/other/levers/crew", "length"),
        ([CREW | {"sets": ["/teams/7/size"]}], [], {"crew": 2}, "scenarios/other/levers/crew", "7"),
        ([CREW | {"sets": ["/teams/~7"]}], [], {"crew": 2}, "scenarios/other/levers/crew", "leads nowhere"),
        ([CREW], [], {"crew": "many"}, "teams/clerks/size", "whole number"),
        ([], [{"op": "remove", "path": "/steps/none"}], {}, "scenarios/other/changes/0", "none"),
        (
            [],
            [{"op": "test", "path": "/steps/desk/name", "value": "Till"}],
            {},
            "scenarios/other/changes/0",
            "no longer has 'Till'",
        ),
    ],
    ids=["unknown id", "unknown key", "beyond the list", "no pointer", "no number", "removed already", "test fails"],
)
def test_what_does_not_fit_is_named(
    levers: list[Any], changes: list[Any], moved: dict[str, Any], where: str, what: str
) -> None:
    of = base(levers, [scenario(levers=moved, changes=changes)])
    with pytest.raises(StudyError) as caught:
        apply_scenario(of, "other")
    problem = caught.value.problems[0]
    assert problem.where.startswith(where)
    assert what in problem.what


def test_an_unknown_scenario_is_named_with_those_that_are_known() -> None:
    with pytest.raises(StudyError, match="Known are: other"):
        apply_scenario(base([], [scenario()]), "else")


SHARED = Path(__file__).parent.parent / "shared"


@pytest.mark.parametrize("case", json.loads((SHARED / "levers.json").read_text()), ids=lambda case: case["name"])
def test_a_scaling_lever_multiplies_what_stands_there(case: dict[str, Any]) -> None:
    lever = Lever.model_validate({"id": "x", "name": "X", "sets": ["/x"], "scales": True})
    if "after" in case:
        assert moved(lever, case["key"], case["before"], case["factor"]) == case["after"]
    else:
        with pytest.raises(ValueError, match="cannot be scaled"):
            moved(lever, case["key"], case["before"], case["factor"])


def test_a_scaling_lever_drives_several_places_at_once() -> None:
    busier = {"id": "busier", "name": "All arrivals", "sets": ["/streams/cases", "/steps/desk/work"], "scales": True}
    other = apply_scenario(base([busier], [scenario(levers={"busier": 2})]), "other")
    assert other.streams[0].model_dump()["gap"]["mean"] == "2 min"
    assert other.steps[0].model_dump()["work"] == "10 min"


@pytest.mark.parametrize(
    ("lever", "values"),
    [
        ({"values": [3, 5]}, [3, 5]),
        ({"low": 2, "high": 5, "step": 1}, [2, 3, 4, 5]),
        ({"low": 0.8, "high": 1.2, "step": 0.1}, [0.8, 0.9, 1, 1.1, 1.2]),
        ({"low": "2 min", "high": "3 min", "step": "30 s"}, ["2 min", "2.5 min", "3 min"]),
        ({"low": 2, "high": 6, "step": 3}, [2, 5]),
        ({"low": 4, "high": 4}, [4]),
        ({}, []),
    ],
)
def test_the_values_of_a_lever(lever: dict[str, Any], values: list[Any]) -> None:
    assert values_of(Lever.model_validate({"id": "x", "name": "X", "sets": ["/x"], **lever})) == values


@pytest.mark.parametrize(
    "lever",
    [{"low": 2}, {"low": 2, "high": "5 min"}, {"low": 5, "high": 2}, {"low": 2, "high": 5, "step": "0 s"}],
    ids=["one end", "mixed", "downwards", "no step"],
)
def test_a_range_that_is_none_is_refused(lever: dict[str, Any]) -> None:
    with pytest.raises(StudyError):
        base([CREW | lever], [])


def test_what_does_not_fit_is_told_one_by_one_and_the_rest_is_made() -> None:
    changes = [
        {"op": "remove", "path": "/steps/none"},
        {"op": "replace", "path": "/steps/desk/work", "value": "9 min"},
        {"op": "test", "path": "/steps/desk/next/0/to", "value": "elsewhere"},
    ]
    of = base([CREW], [scenario(levers={"crew": 2, "gone": 1}, changes=changes)])
    found = [problem.where for problem in misfits(of, of.scenarios[0])]
    assert found == ["scenarios/other/levers/gone", "scenarios/other/changes/0", "scenarios/other/changes/2"]


def test_a_change_inside_what_is_left_out_makes_it() -> None:
    patience = {"op": "add", "path": "/steps/desk/line/max", "value": 3}
    other = apply_scenario(base([], [scenario(changes=[patience])]), "other")
    assert other.steps[0].model_dump()["line"]["max"] == 3


def test_the_baseline_is_the_study_itself_without_its_scenarios() -> None:
    of = base([CREW], [scenario()])
    assert apply_scenario(of, BASELINE) == of.model_copy(update={"scenarios": []})


def test_what_scenarios_change_is_told_in_words() -> None:
    nobody = {"op": "remove", "path": "/teams/guards"}
    lost = {"id": "lost", "name": "Lost", "changes": [{"op": "replace", "path": "/steps/none/work", "value": "1 min"}]}
    broken = {"id": "broken", "name": "Broken", "changes": [{"op": "remove", "path": "/teams/clerks"}]}
    crew = scenario(levers={"crew": 2})
    fewer, other, wrong, gone = scenarios_in_words(
        base([CREW], [{"id": "fewer", "name": "Fewer", "changes": [nobody]}, crew, broken, lost])
    )
    assert [change.words for change in fewer.changes] == ["deleted"]
    assert [(change.name, change.words) for change in other.changes] == [
        ("Clerks", "size 1 → 2"),
        ("Guards", "size 1 → 2"),
    ]
    assert [problem.where for problem in wrong.problems] == ["steps/desk/needs"]
    assert [problem.where for problem in gone.problems] == ["scenarios/lost/changes/0"]


def exchanged(case: dict[str, Any]) -> str:
    return f"{case['study']}: {', '.join(case['edits'])}"


@pytest.mark.parametrize("case", json.loads((SHARED / "scenarios.json").read_text()), ids=exchanged)
def test_a_difference_made_in_the_browser_is_applied_as_it_was_seen(case: dict[str, Any]) -> None:
    file = Path(__file__).parent / "formats" / "2" / f"{case['study']}.json"
    whole = json.loads(file.read_text())
    seen = read_study(whole | case["after"] | {"scenarios": []})
    tried = {"id": "tried", "name": "Tried", "levers": case["levers"], "changes": case["changes"]}
    applied = apply_scenario(read_study(whole | {"scenarios": [tried]}), "tried")
    assert written(applied) == written(seen.model_copy(update={"levers": []}))


def test_a_scenario_says_where_its_values_come_from() -> None:
    """Its place has slashes in it, which a pointer writes in another way."""
    source = {"file": "kiosk.csv", "rows": 9, "date": "2027-01-01"}
    changes = [
        {"op": "replace", "path": "/steps/desk/work", "value": "7 min"},
        {"op": "add", "path": "/sources/~1steps~1desk~1work", "value": source},
    ]
    whole = base([], [scenario(changes=changes)])
    assert apply_scenario(whole, "other").sources["/steps/desk/work"].file == "kiosk.csv"
    assert whole.sources == {}
