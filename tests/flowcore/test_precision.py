"""Replications until precise enough, p-values of many scenarios, and a service that stands still."""

import numpy as np
import pytest

from flowcore.problems import StudyError
from flowcore.results.comparison import Verdict, compare
from flowcore.simulate import simulate
from flowcore.study import read_study
from tests.flowcore.builders import document, exit_step, exponential, serve
from tests.flowcore.days import cases_at, day, desk, team


def test_replications_are_added_until_the_wait_is_precise() -> None:
    of = document([serve("desk", exponential(0.7), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(1))
    precision = {"figure": "step/desk/wait/mean", "within": 0.05, "at_most": 200}
    of["run"] = {"length": "2 d", "replications": 4, "seed": 5, "precision": precision}
    found = simulate(read_study(of))
    wait = found.figure("step/desk/wait/mean")
    assert 4 < wait.n < 200
    assert wait.half_width is not None
    assert wait.mean is not None
    assert wait.half_width <= 0.05 * wait.mean
    assert [each.number for each in found.replications] == list(range(wait.n))
    of["run"]["precision"]["at_most"] = 5
    assert len(simulate(read_study(of)).replications) == 5


def test_holm_raises_p_values_of_many_scenarios() -> None:
    luck = np.random.default_rng(3).normal(10, 1, 12)
    shifts = (0.0, 0.01, 5.0)
    noise = np.random.default_rng(4).normal(0, 0.02, (3, 12))
    pairs = [(luck, luck + s + n) for s, n in zip(shifts, noise, strict=True)]
    raw = sorted(compare("type/all/wait/mean", [pair], 0.95)[0].p or 0.0 for pair in pairs)
    found = compare("type/all/wait/mean", pairs, 0.95)
    assert sorted(each.p or 0.0 for each in found) == pytest.approx(
        [min(1, 3 * raw[0]), max(3 * raw[0], min(1, 2 * raw[1])), max(2 * raw[1], raw[2])]
    )
    assert found[2].verdict is Verdict.WORSE
    assert found[0].verdict is Verdict.UNCLEAR


def test_a_service_that_stands_still_says_who_waits_for_whom() -> None:
    """Each of two cases keeps one of two nurses and waits for the other."""
    keeps = {"team": "nurses", "keep_until": "both"}
    steps = [
        desk("1 min", id="fetch", needs=[keeps], to="both"),
        desk("1 min", id="both", needs=[{"team": "nurses", "count": 2}]),
    ]
    with pytest.raises(StudyError) as trouble:
        simulate(day([cases_at([0, 0], to="fetch")], steps, [team(2, id="nurses")]))
    said = str(trouble.value)
    assert "case 1 at Both, holding Nurses, waits for Nurses" in said
    assert "2 cases inside" in said
