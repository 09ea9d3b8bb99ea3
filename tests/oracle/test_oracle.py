"""The kernel and a second engine agree, case by case, on small studies put together at random from every construct.

`python -m tests.oracle FIRST COUNT [CONSTRUCT,…]` tries many more by hand, without some constructs.
"""

import pytest

from flowcore.checks import errors_of
from flowcore.study import read_study
from tests.oracle.compare import difference
from tests.oracle.constructs import frequencies, unmet_pairs
from tests.oracle.engine import Oracle
from tests.oracle.studies import study

STUDIES = 3_000
AT_ONCE = 100


def differences(seeds: range) -> dict[int, str]:
    """Return in words, by seed, where the engines differ; every study can be run."""
    found = {}
    for seed in seeds:
        read = read_study(study(seed))
        assert not errors_of(read), seed
        if (where := difference(read)) is not None:
            found[seed] = where
    return found


@pytest.mark.parametrize("first", range(0, STUDIES, AT_ONCE))
def test_both_engines_agree(first: int) -> None:
    assert differences(range(first, first + AT_ONCE)) == {}


def test_every_construct_is_in_a_hundredth_of_the_studies_and_every_pair_in_some() -> None:
    documents = [study(seed) for seed in range(STUDIES)]
    shares = frequencies(documents)
    print(*(f"{share:7.2%}  {construct}" for construct, share in sorted(shares.items())), sep="\n")
    assert [construct for construct, share in shares.items() if share < 0.01] == []
    assert unmet_pairs(documents) == []


def test_a_line_taken_in_another_order_is_seen(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(Oracle, "order_in_line", lambda _, case: (0.0, -case.turn))
    assert differences(range(10))
