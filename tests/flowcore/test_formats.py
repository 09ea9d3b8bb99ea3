"""Documents of earlier formats are read as what they are now."""

import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.problems import StudyError
from flowcore.simulate import simulate
from flowcore.study import read_study, written
from flowcore.study.formats import FORMAT, brought_up
from flowcore.study.scenarios import apply_scenario

HERE = Path(__file__).parent
GATE = {"id": "gate", "name": "Gate", "kind": "hold", "signal": {"every": "15 min"}, "next": [{"to": "out"}]}


def of_format_1(**more: Any) -> dict[str, Any]:
    return {
        "format": 1,
        "name": "Gate",
        "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "5 min", "to": "gate"}],
        "steps": [GATE, {"id": "out", "name": "Out", "kind": "exit"}],
        **more,
    }


@pytest.mark.parametrize("file", sorted((HERE / "formats" / "1").glob("*.json")), ids=lambda file: file.stem)
def test_files_of_format_1_are_what_they_are_in_format_2(file: Path) -> None:
    before, now = (json.loads((HERE / "formats" / each / file.name).read_text()) for each in ("1", "2"))
    assert read_study(before) == read_study(now)
    assert (before["format"], written(read_study(before))["format"]) == (1, FORMAT)


def test_a_hold_with_a_signal_is_a_signal_that_clears() -> None:
    document = of_format_1()
    [gate, _] = read_study(document).steps
    assert gate.kind == "signal"
    assert gate.clears is not None
    assert gate.clears.every == "15 min"
    assert document["steps"][0] is GATE, "what was written stays as it was"
    assert (
        simulate(read_study(document | {"run": {"length": "1 d", "replications": 1}}))
        .figure("step/gate/wait/mean")
        .mean
    )


def test_levers_and_scenarios_lead_to_the_new_key() -> None:
    changes = [
        {"op": "replace", "path": "/steps/gate/signal/every", "value": "10 min"},
        {"op": "add", "path": "/steps/-", "value": {**GATE, "id": "second"}},
        {"op": "replace", "path": "/steps/out/name", "value": "/steps/gate/signal"},
    ]
    lever = {"id": "often", "name": "How often", "sets": ["/steps/gate/signal/every"]}
    scenario = {"id": "faster", "name": "Faster", "levers": {"often": "5 min"}, "changes": changes[1:2]}
    patched = {"id": "patched", "name": "Patched", "changes": changes[:1]}
    study = read_study(of_format_1(levers=[lever], scenarios=[scenario, patched]))
    assert study.levers[0].sets == ["/steps/gate/clears/every"]
    faster, patched_study = apply_scenario(study, "faster"), apply_scenario(study, "patched")
    assert [step.kind for step in faster.steps] == ["signal", "exit", "signal"]
    assert faster.steps[0].clears.every == "5 min"  # type: ignore[union-attr]
    assert patched_study.steps[0].clears.every == "10 min"  # type: ignore[union-attr]


@pytest.mark.parametrize("number", [0, 3, "1", 1.5, True, None])
def test_another_format_is_told(number: Any) -> None:
    with pytest.raises(StudyError, match="format"):
        read_study(of_format_1() | {"format": number})


@pytest.mark.parametrize("odd", [[], "text", None, 3, {"format": 1}, {"format": 1, "steps": 3, "scenarios": "x"}])
def test_what_is_no_document_is_left_as_it_is(odd: Any) -> None:
    up = brought_up(odd)
    assert up == (odd | {"format": 2} if isinstance(odd, dict) else odd)
