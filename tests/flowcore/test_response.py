"""How figures answer to levers: where scenarios stand on them, and which differ in nothing else."""

from typing import Any

from flowcore.reports.comparison import Column
from flowcore.reports.response import families, moved_levers
from flowcore.results.run import Results
from flowcore.study import StudyDocument, read_study
from flowcore.study.scenarios import BASELINE, apply_scenario
from tests.flowcore.builders import document, exit_step, exponential, serve

NO_RESULTS = Results([], 0.95)


def columns_of(scenarios: dict[str, dict[str, Any]]) -> list[Column]:
    """A desk with clerks, a way to vary their number, their time, all arrivals and the order of the line."""
    of = document([serve("desk", "4 min", "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    of["levers"] = [
        {"id": "clerks", "name": "Clerks", "sets": ["/teams/clerks/size"], "values": [1, 2, 3]},
        {"id": "time", "name": "Time", "sets": ["/steps/desk/work"], "values": ["4 min", "90 s"]},
        {"id": "all", "name": "All arrivals", "sets": [f"/streams/{of['streams'][0]['id']}"], "scales": True},
        {"id": "line", "name": "Order", "sets": ["/steps/desk/line/discipline"]},
    ]
    of["scenarios"] = [{"id": name, "name": name, **change} for name, change in scenarios.items()]
    study = read_study(of)
    moved = {name: change.get("levers", {}) for name, change in scenarios.items()}
    return [
        Column(
            name or "Today", apply_scenario(study, name).model_copy(update={"levers": study.levers}), NO_RESULTS, levers
        )
        for name, levers in {BASELINE: {}, **moved}.items()
    ]


def _with_levers(study: StudyDocument, scenario: str) -> StudyDocument:
    return apply_scenario(study, scenario).model_copy(update={"levers": study.levers})


def test_a_lever_stands_where_the_scenario_has_what_it_drives() -> None:
    """By its value, by a change made by hand, as today where nothing is said; durations in minutes, factors from 1."""
    by_hand = [{"op": "replace", "path": "/teams/clerks/size", "value": 3}]
    columns = columns_of(
        {
            "two": {"levers": {"clerks": 2}},
            "three": {"changes": by_hand},
            "quick": {"levers": {"time": "90 s"}},
            "more": {"levers": {"all": 1.2}},
            "last": {"levers": {"line": "last-come"}},
        }
    )
    found = {lever.id: [setting.at for setting in lever.settings] for lever in moved_levers(columns)}
    assert found == {
        "clerks": [1, 2, 3, 1, 1, 1],
        "time": [4, 4, 4, 1.5, 4, 4],
        "all": [1, 1, 1, 1, 1.2, 1],
        "line": [0, 0, 0, 0, 0, 1],
    }
    assert [setting.words for setting in moved_levers(columns)[1].settings][3] == "90 s"


def test_a_lever_that_nobody_moves_is_not_among_them() -> None:
    assert [lever.id for lever in moved_levers(columns_of({"two": {"levers": {"clerks": 2}}}))] == ["clerks"]


def test_a_family_differs_in_its_lever_and_in_nothing_else() -> None:
    other = [{"op": "replace", "path": "/steps/desk/name", "value": "Counter"}]
    columns = columns_of(
        {
            "three": {"levers": {"clerks": 3}},
            "two": {"levers": {"clerks": 2}},
            "renamed": {"levers": {"clerks": 2}, "changes": other},
            "quick": {"levers": {"time": "90 s"}},
            "quick-two": {"levers": {"time": "90 s", "clerks": 2}},
        }
    )
    levers = moved_levers(columns)
    found = families(columns, levers, ["clerks"])
    assert [family.columns for family in found] == [[0, 2, 1], [4, 5]]
    assert [family.name for family in found] == ["Time 4 min", "Time 90 s"]
    assert [family.columns for family in families(columns, levers, ["time"])] == [[4, 0], [5, 2]]
    assert [family.columns for family in families(columns, levers, ["clerks", "time"])] == [[4, 0, 5, 2, 1]]


def test_a_scaled_lever_makes_a_family_too() -> None:
    columns = columns_of({"more": {"levers": {"all": 1.2}}, "fewer": {"levers": {"all": 0.8}}})
    levers = moved_levers(columns)
    assert [family.columns for family in families(columns, levers, ["all"])] == [[2, 0, 1]]
