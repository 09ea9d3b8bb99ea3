"""The demo studies: sound, runnable, and their scenarios too."""

import json
from pathlib import Path

import pytest

from flowcore.checks import check_study
from flowcore.results.run import Results
from flowcore.simulate import replications, simulate
from flowcore.study import StudyDocument, read_study, written
from flowcore.study.scenarios import apply_scenario

DEMO = {path.stem: path for path in sorted((Path(__file__).parents[2] / "demo").glob("*.json"))}


LONG_ENOUGH = {"tree-permits": "20 wk"}
"""Of casework it takes more than a week until as many cases are decided as are looked for."""


def demo(name: str, **run: object) -> StudyDocument:
    document = json.loads(DEMO[name].read_text())
    document["run"] |= run
    return read_study(document)


@pytest.mark.parametrize("name", DEMO)
def test_it_is_sound_and_written_as_it_was_read(name: str) -> None:
    study = demo(name)
    assert check_study(study) == []
    assert read_study(written(study)) == study


@pytest.mark.parametrize("name", DEMO)
def test_every_figure_has_a_value_that_could_be_one(name: str) -> None:
    """In every demo each kind of case comes and leaves before long, and every team works but never more than it can."""
    study = demo(name, length=LONG_ENOUGH.get(name, "1 wk"), warm_up="0 min", replications=1)
    [replication] = simulate(study).replications
    figures = replication.figures
    ways = ("completed", "abandoned", "turned-away")
    for kind in ["all", *(each.id for each in study.case_types)]:
        assert figures[f"type/{kind}/arrived"] > 10
        assert figures[f"type/{kind}/completed"] > 10
    gone = sum(figures[f"type/all/{way}"] for way in ways) + figures["type/all/inside/end"]
    assert figures["type/all/arrived"] == gone
    for team in study.teams:
        assert 0 < figures[f"team/{team.id}/utilisation"] <= 1


def test_more_rooms_and_more_vets_shorten_the_wait_at_the_clinic() -> None:
    study = demo("animal-clinic", replications=8)
    baseline = simulate(study).values["type/all/wait/mean"]
    for scenario in study.scenarios:
        other = simulate(apply_scenario(study, scenario.id)).values["type/all/wait/mean"]
        assert other.mean() < baseline.mean(), scenario.id


def test_a_day_at_the_hall_is_a_day() -> None:
    """Whoever has come has left before the last of the staff goes home, and the staff are paid for it."""
    study = demo("residents-hall", length="1 wk", replications=2)
    rows = list(replications(study))
    found = Results.of(rows, study.run.confidence)
    assert found.figure("type/all/inside/end").mean == 0
    assert (found.figure("cost/overtime-base/per:day").mean or 0) > 0
    for row in rows:
        nights = [value for hour, value in enumerate(row.series["team/clerks/present"]) if hour % 96 in range(40, 92)]
        assert max(nights) == 0, "nobody is there from 18:00 to 7:00"


def test_some_permits_are_not_decided_in_time() -> None:
    figures = simulate(demo("tree-permits", replications=6)).figures()
    assert 0 < (figures["deadline/three-weeks/missed"].mean or 0) < 20
    assert (figures["team/inspectors/state:absent"].mean or 0) > 0


def test_who_leaves_a_number_is_called_back_in_the_evening() -> None:
    study = demo("phone-line", length="1 wk", replications=1)
    figures = simulate(study).replications[0].figures
    assert figures["outcome/called-back/completed"] > 0
    assert figures["step/evening/cause:signal/mean"] > 60
    assert figures["step/evening/served"] == figures["step/call-back/arrived"]
