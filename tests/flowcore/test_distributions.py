"""What a distribution says of itself: moments, middle, curve, and other shapes with its mean."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from flowcore.problems import StudyError
from flowcore.study.distributions import mean_of, sd_of
from flowcore.study.distributions.described import Measure, described, read_distribution, reshaped, shapes

CASES = json.loads((Path(__file__).parent / "distributions.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: json.dumps(case["value"]))
def test_moments_and_middle(case: dict[str, Any]) -> None:
    value = read_distribution(case["value"], Measure(case["measure"]))
    told = described(value)
    assert mean_of(value) == told.mean == pytest.approx(case["mean"], rel=1e-7)
    assert sd_of(value) == pytest.approx(case["sd"], rel=1e-6, abs=1e-6)
    assert [told.low, told.high] == pytest.approx([case["low"], case["high"]], rel=1e-6, abs=1e-6)


@pytest.mark.parametrize("case", CASES, ids=lambda case: json.dumps(case["value"]))
def test_the_curve_has_its_mean_where_the_numbers_say(case: dict[str, Any]) -> None:
    told = described(read_distribution(case["value"], Measure(case["measure"])))
    if not told.points:
        assert told.low == told.high == told.mean
        return
    at, weight = np.array([(point.at, point.weight) for point in told.points]).T
    assert (weight >= 0).all()
    assert (at * weight).sum() / weight.sum() == pytest.approx(case["mean"], abs=0.1 * max(case["sd"], 0.01))


KINDS = [(measure, choice.name) for choice in shapes() for measure in choice.measures]
STARTS: dict[Measure, list[Any]] = {
    Measure.TIME: ["90 s", "0 min", {"dist": "empirical", "values": ["1 h", "1 h", "1 h", "10 h"]}],
    Measure.OFFSET: ["-4 min", "0 min", "4 min"],
    Measure.NUMBER: [2, 0, -3.5],
}


@pytest.mark.parametrize(("measure", "name"), KINDS)
def test_another_shape_keeps_mean_and_unit(measure: Measure, name: str) -> None:
    for start in STARTS[measure]:
        value = read_distribution(start, measure)
        changed = reshaped(value, name, measure)
        wanted = mean_of(value)
        if wanted > 0 or measure is Measure.OFFSET or name == "constant":
            assert mean_of(changed) == pytest.approx(wanted, rel=0.01, abs=0.1)
        written = json.dumps(described(changed).value)
        unit = {"90 s": " s", "0 min": " min", "-4 min": " min", "4 min": " min"}
        assert unit.get(str(start), " h" if measure is Measure.TIME else "") in written
        assert read_distribution(described(changed).value, measure) == changed


def test_what_is_out_of_order_is_told_at_its_place() -> None:
    with pytest.raises(StudyError, match=r"least .5 min. is above the most likely") as refused:
        read_distribution({"dist": "triangular", "low": "5 min", "mode": "2 min", "high": "9 min"}, Measure.TIME)
    assert refused.value.problems[0].mend == "Put them in order: least ≤ most likely ≤ most."
    with pytest.raises(StudyError, match="no unit") as refused:
        read_distribution({"dist": "exponential", "mean": "5"}, Measure.TIME)
    assert refused.value.problems[0].where == "mean"
    with pytest.raises(StudyError, match="not a known kind"):
        read_distribution({"dist": "poisson", "mean": 3}, Measure.TIME)
    with pytest.raises(StudyError, match="not a known kind"):
        reshaped("3 min", "wobbly", Measure.TIME)
