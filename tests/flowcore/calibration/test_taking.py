"""What a log proposes is taken over into a document."""

import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.calibration.proposals import take
from flowcore.calibration.proposals.proposal import Proposal

CASES = json.loads((Path(__file__).parents[2] / "shared" / "taking.json").read_text())


def proposal(taken: dict[str, Any]) -> Proposal:
    told = {"kind": "time", "name": "", "what": "", "old": None, "new": None, "agrees": None, "method": "by hand"}
    return Proposal.model_validate({**told, "evidence": "", **taken})


def without_none(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: without_none(each) for key, each in value.items() if each is not None}
    return [without_none(each) for each in value] if isinstance(value, list) else value


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_what_is_proposed_is_put_where_it_belongs_with_its_source(case: dict[str, Any]) -> None:
    now = json.loads(json.dumps(case["before"]))
    take(now, map(proposal, case["taken"]), "kiosk.csv", 300, "2027-05-01")
    source = {"file": "kiosk.csv", "rows": 300, "date": "2027-05-01", "method": "by hand"}
    assert without_none(now) == case["after"] | {"sources": {each["at"]: source for each in case["taken"]}}
