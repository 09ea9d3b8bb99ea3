"""Distributions against SciPy: mean, variance and goodness of fit of what the engine draws."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import stats

from flowcore.kernel.run.worlds import go_until, new_world
from flowcore.plan import compile_study
from flowcore.plan.keys import stable_key
from flowcore.plan.loops import find_loops
from tests.flowcore.builders import exit_step, serve, study

SURE = 1e-4


def sample(work: Any) -> NDArray[np.float64]:
    """Draw 20,000 working times through the kernel itself."""
    of = study([serve("only", work, None, {"out": 1}), exit_step()], {}, "1 min", length="14 d", warm_up="0 min")
    world, _ = go_until(new_world(compile_study(of), 3, 0), 20_160.0)
    return np.array(world.visits.work[: world.clock[0].visits])


CASES: list[tuple[Any, Any]] = [
    ({"dist": "exponential", "mean": "2 min"}, stats.expon(scale=2)),
    ({"dist": "uniform", "low": "1 min", "high": "3 min"}, stats.uniform(1, 2)),
    ({"dist": "triangular", "low": "1 min", "mode": "2 min", "high": "5 min"}, stats.triang(0.25, 1, 4)),
    ({"dist": "triangular", "low": "1 min", "mode": "1 min", "high": "5 min"}, stats.triang(0, 1, 4)),
    ({"dist": "lognormal", "mean": "2 min", "sd": "1 min"},
     stats.lognorm(np.sqrt(np.log(1.25)), scale=2 / np.sqrt(1.25))),
    ({"dist": "normal", "mean": "3 min", "sd": "1 min"}, stats.truncnorm(-3, np.inf, 3, 1)),
    ({"dist": "normal", "mean": "1 min", "sd": "2 min"}, stats.truncnorm(-0.5, np.inf, 1, 2)),
    ({"dist": "erlang", "mean": "3 min", "k": 4}, stats.gamma(4, scale=0.75)),
    ({"dist": "pert", "low": "1 min", "mode": "2 min", "high": "5 min"}, stats.beta(2, 4, 1, 4)),
    ({"dist": "gamma", "mean": "3 min", "sd": "2 min"}, stats.gamma(2.25, scale=4 / 3)),
    ({"dist": "gamma", "mean": "1 min", "sd": "2 min"}, stats.gamma(0.25, scale=4)),
    ({"dist": "weibull", "scale": "3 min", "shape": 1.5}, stats.weibull_min(1.5, scale=3)),
    ({"dist": "beta", "low": "1 min", "high": "5 min", "mean": "2 min", "sd": "0.5 min"}, stats.beta(2.75, 8.25, 1, 4)),
    ({"dist": "empirical", "values": ["1 min", "2 min", "4 min"]},
     stats.rv_histogram((np.array([1.0, 1.0]), np.array([1.0, 2.0, 4.0])), density=False)),
]  # fmt: skip


@pytest.mark.parametrize(("work", "truth"), CASES)
def test_draws_follow_their_distribution(work: Any, truth: Any) -> None:
    drawn = sample(work)
    assert len(drawn) > 20_000
    assert stats.kstest(drawn, truth.cdf).pvalue > SURE
    spread = truth.std() / np.sqrt(len(drawn))
    assert abs(drawn.mean() - truth.mean()) < 4 * spread
    assert drawn.var() == pytest.approx(truth.var(), rel=0.08)


def test_uniform_numbers_do_not_hang_together() -> None:
    drawn = sample({"dist": "uniform", "low": "0 min", "high": "1 min"})
    assert abs(np.corrcoef(drawn[:-1], drawn[1:])[0, 1]) < 4 / np.sqrt(len(drawn))
    cells = np.histogram2d(drawn[:-1:2], drawn[1::2], bins=20)[0].ravel()
    assert stats.chisquare(cells).pvalue > SURE


def test_keys_are_stable_for_good() -> None:
    assert stable_key("steps", "counter") == 2936516922380851129
    assert stable_key("steps", "counter") != stable_key("streams", "counter")


def test_circles_and_the_links_that_close_them() -> None:
    circles, closes = find_loops([[1], [2], [1, 3], [4], [3, 5], []])
    assert circles[0] == circles[5] == -1
    assert circles[1] == circles[2] != circles[3] == circles[4]
    assert closes == [[False], [False], [True, False], [False], [True, False], []]


def test_a_step_that_leads_to_itself_is_a_circle() -> None:
    assert find_loops([[0, 1], []]) == ([0, -1], [[True, False], []])
