"""One hour of the week: the same as what the run says of it, taken apart."""

import json
from pathlib import Path

import numpy as np
import pytest

from flowcore.problems import StudyError
from flowcore.reports.hour import hour_told
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import exit_step, serve

HALL = json.loads((Path(__file__).parent / "formats" / "2" / "residents-hall.json").read_text())
MONDAY_AT_TEN = 10
NUMBERS = range(3)


@pytest.fixture(scope="module")
def study() -> StudyDocument:
    run = {"length": "2 wk", "warm_up": "1 d", "replications": 3, "seed": 5}
    return read_study(HALL | {"run": run})


@pytest.fixture(scope="module")
def results(study: StudyDocument) -> Results:
    return simulate(study)


@pytest.mark.parametrize("quantity", ["step/counter/wait", "type/all/wait", "type/parking/wait"])
def test_an_hour_says_what_the_week_says(study: StudyDocument, results: Results, quantity: str) -> None:
    told = hour_told(study, quantity, MONDAY_AT_TEN, NUMBERS)
    assert told.wait.mean == pytest.approx(float(np.mean(results.by_hour(quantity)[:, MONDAY_AT_TEN])))
    assert told.hour == "Monday 10:00 to 11:00"
    assert told.minutes is not None
    assert told.minutes.whole == pytest.approx(sum(part.minutes for part in told.minutes.parts))
    waited = sum(part.minutes for part in told.minutes.parts if part.part not in ("work", "travel", "next-line"))
    assert waited == pytest.approx(told.spread.percentiles["mean"].mean)
    assert sum(told.spread.bars) + told.spread.none + told.spread.beyond == pytest.approx(1)


def test_the_minutes_of_an_hour_by_hand() -> None:
    """Two come at 8:00 and 8:05 for ten minutes with the one clerk, one at 9:30: of the two the second waits 5."""
    moments = ["2027-03-01T08:00", "2027-03-01T08:05", "2027-03-01T09:30"]
    arrivals = [{"at": moment} for moment in moments]
    found = read_study(
        {
            "name": "Three",
            "start": "2027-03-01T07:00",
            "streams": [{"id": "in", "name": "In", "kind": "dates", "arrivals": arrivals, "to": "desk"}],
            "steps": [serve("desk", "10 min", "clerks", {"out": 1}), exit_step()],
            "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
            "run": {"length": "4 h", "replications": 1},
        }
    )
    told = hour_told(found, "step/desk/wait", 8, [0])
    assert (told.cases.mean, told.wait.mean, told.spread.none) == (2, 2.5, 0.5)
    assert told.minutes is not None
    assert {part.part: part.minutes for part in told.minutes.parts} == {"work": 10, "busy": 2.5}
    later = hour_told(found, "type/all/wait", 9, [0])
    assert (later.cases.mean, later.wait.mean) == (1, 0)
    with pytest.raises(StudyError, match="Nobody came in this hour"):
        hour_told(found, "step/desk/wait", 10, [0])


@pytest.mark.parametrize(
    "quantity", ["step/desk/line", "step/moon/wait", "team/clerks/utilisation", "wait", "type//wait"]
)
def test_what_has_no_waits_is_told(study: StudyDocument, quantity: str) -> None:
    with pytest.raises(StudyError, match="No waits are known of that"):
        hour_told(study, quantity, MONDAY_AT_TEN, NUMBERS)
