"""The laws of the flow: who takes which way, and what is reached."""

import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.study import read_study
from flowcore.study.graph import (
    all_ways,
    backwards,
    parts_by_share,
    passed_between,
    reach,
    shares_of,
    types_of,
    types_passing,
)
from tests.flowcore.builders import exit_step, serve, study

CASES = json.loads((Path(__file__).parents[1] / "shared" / "flow.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_types_and_shares(case: dict[str, Any]) -> None:
    flow = read_study(case["study"])
    steps = {step.id: step for step in flow.steps}
    assert {stream.id: sorted(types_of(flow, stream)) for stream in flow.streams} == case["streams"]
    assert {step: sorted(types) for step, types in types_passing(flow).items()} == case["steps"]
    for step, by_type in case["shares"].items():
        assert {kind: shares_of(steps[step], kind) for kind in by_type} == by_type
    assert {step: parts_by_share(steps[step]) for step in case["by_share"]} == case["by_share"]


def test_reach_forwards_backwards_and_between() -> None:
    steps = [serve("a", "1 min", None, {"b": 1}), serve("b", "1 min", None, {"c": 0.5, "a": 0.5})]
    flow = study([*steps, serve("c", "1 min", None, {"out": 1}), exit_step()], {}, "1 min")
    ways = all_ways(flow)
    assert reach(["b", "unknown"], ways) == {"a", "b", "c", "out"}
    assert reach(["out"], backwards(ways)) == {"a", "b", "c", "out"}
    assert reach(["c"], ways) == {"c", "out"}
    assert passed_between(flow, "a", "b") == {"b"}
    assert passed_between(flow, "b", "c") == {"a", "b", "c"}
