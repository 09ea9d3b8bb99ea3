"""Where there are many steps, what the next events are about is fetched ahead: that changes no figure."""

from typing import Any

import pytest

from flowcore.kernel.clockwork.ahead import MANY_STEPS
from flowcore.simulate import Replicator
from flowcore.study import read_study
from tests.oracle.studies import study


def with_a_row_nobody_comes_to(document: dict[str, Any]) -> dict[str, Any]:
    """Return a study with so many steps more that it has many, to which no way leads."""
    more = [
        {
            "id": f"apart-{number}",
            "name": f"Apart {number}",
            "kind": "serve",
            "work": "1 min",
            "needs": [{"team": "apart"}],
            "next": [{"to": f"apart-{number + 1}" if number < MANY_STEPS else "apart-out"}],
        }
        for number in range(MANY_STEPS + 1)
    ]
    return document | {
        "steps": [*document["steps"], *more, {"id": "apart-out", "name": "Apart, out", "kind": "exit"}],
        "teams": [*document.get("teams", []), {"id": "apart", "name": "Apart", "size": 1}],
    }


@pytest.mark.parametrize("seed", range(40_000, 40_020))
def test_steps_that_nobody_comes_to_change_nothing(seed: int) -> None:
    document = study(seed)
    alone = Replicator(read_study(document))(0).figures
    among_many = Replicator(read_study(with_a_row_nobody_comes_to(document)))(0).figures
    assert {address: among_many[address] for address in alone} == pytest.approx(dict(alone), rel=1e-14, nan_ok=True)
