"""The kernel and a second engine agree, case by case, on small studies put together at random.

`python -m tests.oracle FIRST COUNT [CONSTRUCT,…]` tries many more by hand, without some constructs.
"""

import pytest

from flowcore.checks import errors_of
from flowcore.study import read_study
from tests.oracle.compare import difference
from tests.oracle.engine import Oracle
from tests.oracle.studies import study

BRANCHES = {"fork", "gather", "fork-gather"}
AT_ONE_PLACE = frozenset({*BRANCHES, "least-used", "site", "escort"})
AT_SEVERAL_PLACES = frozenset({*BRANCHES, "least-used", "escort", "max"})


def differences(seeds: range, without: frozenset[str]) -> dict[int, str]:
    """Return in words, by seed, where the engines differ; studies that cannot be run are none."""
    found = {}
    for seed in seeds:
        read = read_study(study(seed, without))
        assert not errors_of(read), seed
        if (where := difference(read)) is not None:
            found[seed] = where
    return found


@pytest.mark.parametrize("first", range(0, 300, 50))
def test_both_engines_agree_at_one_place(first: int) -> None:
    assert differences(range(first, first + 50), AT_ONE_PLACE) == {}


@pytest.mark.parametrize("first", range(300, 390, 45))
def test_both_engines_agree_at_several_places(first: int) -> None:
    assert differences(range(first, first + 45), AT_SEVERAL_PLACES) == {}


def test_a_line_taken_in_another_order_is_seen(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(Oracle, "order_in_line", lambda _, case: (0.0, -case.turn))
    assert differences(range(10), AT_ONE_PLACE)
