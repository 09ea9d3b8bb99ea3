"""Durations fitted to draws of a known distribution: the shape is found, and its parameters lie in their intervals."""

from typing import Any

import numpy as np
import pytest

from flowcore.calibration.candidates import CANDIDATES, Seen
from flowcore.calibration.durations import MOST_OBSERVED, fitted
from flowcore.calibration.fits import fit_of
from flowcore.calibration.lasting import Lasting
from flowcore.study.distributions.described import Measure, read_distribution

LAWS: dict[str, dict[str, Any]] = {
    "exponential": {"mean": 4.0},
    "erlang": {"mean": 6.0, "k": 3},
    "gamma": {"mean": 5.0, "sd": 4.0},
    "lognormal": {"mean": 5.0, "sd": 4.0},
    "weibull": {"scale": 5.0, "shape": 3.0},
    "normal": {"mean": 10.0, "sd": 1.5},
    "uniform": {"low": 2.0, "high": 6.0},
    "triangular": {"low": 1.0, "mode": 2.0, "high": 9.0},
    "pert": {"low": 1.0, "mode": 3.0, "high": 12.0},
}


def drawn(dist: str, many: int, seed: int) -> Any:
    shape: Any = read_distribution({"dist": dist, **LAWS[dist]}, Measure.NUMBER)
    return shape.law().rvs(many, random_state=seed)


@pytest.mark.parametrize("dist", LAWS)
def test_the_shape_that_was_drawn_from_is_among_the_nearest(dist: str) -> None:
    found = fitted(drawn(dist, 4000, 7))
    nearest = found.fits[0]
    own = next(each for each in found.fits if each.dist == dist)
    assert own.criterion - min(each.criterion for each in found.fits) < 4
    assert own.off < 0.03
    assert own.by_chance is not None
    assert own.by_chance > 0.001
    assert nearest.off < 0.03
    assert found.doubt == ""
    mean = read_distribution({"dist": dist, **LAWS[dist]}, Measure.NUMBER).average()  # type: ignore[union-attr]
    for value in (nearest.value, found.as_observed):
        taken: Any = read_distribution(value, Measure.TIME)
        assert taken.average() == pytest.approx(mean, rel=0.05)


@pytest.mark.parametrize("dist", [dist for dist in LAWS if CANDIDATES[dist].free and dist != "erlang"])
def test_true_parameters_lie_in_their_intervals_as_often_as_is_said(dist: str) -> None:
    looks = 120
    inside = dict.fromkeys(CANDIDATES[dist].free, 0)
    for seed in range(looks):
        seen = Seen(drawn(dist, 200, seed), np.empty(0))
        own = fit_of(seen, dist, CANDIDATES[dist], Lasting(seen), "min", 0.95)
        assert own is not None
        for name, (low, high) in own.intervals.items():
            inside[name] += low <= LAWS[dist][name] <= high
    for name, count in inside.items():
        assert 0.89 * looks <= count <= looks, f"{name}: {count} of {looks}"


def test_what_has_not_ended_counts() -> None:
    """Exponential times watched for 5 minutes: those that end before then alone would look shorter than they are."""
    times = np.random.default_rng(3).exponential(6.0, 3000)
    found = fitted(times[times <= 5], np.full(int((times > 5).sum()), 5.0))
    own = next(each for each in found.fits if each.dist == "exponential")
    low, high = own.intervals["mean"]
    assert low <= 6.0 <= high
    assert high - low < 1
    assert found.longer > 1000
    assert {each.dist for each in found.fits} <= {"exponential", "erlang", "gamma", "lognormal", "weibull", "normal"}
    assert found.doubt == ""


def test_the_share_that_lasts_by_hand() -> None:
    """Five times, of which the second and the fourth are only known to be longer: Kaplan and Meier by hand."""
    lasting = Lasting(Seen(np.array([1.0, 3.0, 5.0]), np.array([2.0, 4.0])))
    assert lasting.times.tolist() == [1, 3, 5]
    assert lasting.shares.tolist() == pytest.approx([1 - 4 / 5, 1 - 4 / 5 * 2 / 3, 1])
    assert lasting.mean() == pytest.approx(1 + 2 * 4 / 5 + 2 * 4 / 5 * 2 / 3)


def test_times_that_are_all_the_same_are_a_constant() -> None:
    found = fitted(np.full(50, 5.0))
    assert found.fits == []
    assert found.as_observed == "5 min"
    assert fitted(np.full(50, 0.5)).as_observed == "30 s"


@pytest.mark.parametrize(
    ("many", "doubt"), [(1, "Only 1 time is known"), (9, "Only 9 times"), (20, "a guess"), (40, "")]
)
def test_few_times_are_doubted(many: int, doubt: str) -> None:
    found = fitted(np.random.default_rng(1).exponential(4.0, many))
    assert doubt in found.doubt
    assert bool(found.doubt) == bool(doubt)
    assert bool(found.fits) == (many >= 10)


def test_two_kinds_of_work_in_one_are_better_taken_as_observed() -> None:
    random = np.random.default_rng(5)
    times = np.concatenate([random.normal(2.0, 0.2, 1000), random.normal(20.0, 1.0, 1000)])
    found = fitted(times)
    assert "as observed" in found.doubt
    taken: Any = read_distribution(found.as_observed, Measure.TIME)
    assert taken.average() == pytest.approx(times.mean(), rel=0.02)
    assert len(taken.values) == MOST_OBSERVED


def test_none_at_all_cannot_be_fitted() -> None:
    with pytest.raises(ValueError, match="no duration"):
        fitted(np.empty(0), np.array([4.0]))


def test_times_of_zero_are_less_than_the_clock_tells() -> None:
    found = fitted(np.random.default_rng(2).exponential(1.0, 500).round())
    assert found.fits
    assert all(np.isfinite(each.criterion) for each in found.fits)
