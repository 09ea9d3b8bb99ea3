"""Out and in again: what BPMN can say comes back as it was."""

import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.checks import check_study
from flowcore.exchange.bpmn.file.times import as_period, from_period
from flowcore.exchange.bpmn.read import read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.problems import Severity
from flowcore.study import StudyDocument, read_study, written
from tests.browser.everything import everything
from tests.flowcore.exchange.sayable import Sayable
from tests.flowcore.exchange.schemas import faults_in
from tests.oracle.studies import study


def by_id(study: StudyDocument) -> dict[str, Any]:
    """Return a study as a document whose lists of elements are in no order."""
    document = written(study)
    return {
        key: {each["id"]: each for each in part} if isinstance(part, list) else part for key, part in document.items()
    }


@pytest.mark.parametrize("seed", range(300))
def test_in_and_out_again_is_the_same_study(seed: int) -> None:
    whole = read_study(Sayable(seed).study())
    content = write_process(whole).content
    read = read_process(content)
    assert faults_in(content) == []
    assert by_id(read.study) == by_id(whole)
    assert (read.missing, [each for each in read.not_kept if "interrupts" not in each.what]) == ([], [])


def every_study() -> dict[str, StudyDocument]:
    """Return the demo studies, one with every key, and some of all constructs."""
    demos = {path.stem: json.loads(path.read_text()) for path in sorted(Path("demo").glob("*.json"))}
    documents = demos | {"everything": everything()} | {f"random {seed}": study(seed) for seed in range(60)}
    return {name: read_study(document) for name, document in documents.items()}


def test_whatever_a_study_has_it_goes_out_and_comes_in_sound() -> None:
    """What BPMN has no word for is told, and nothing that comes back is wrong in itself."""
    for name, whole in every_study().items():
        process = write_process(whole)
        back = read_process(process.content).study
        sound = [problem for problem in check_study(whole) if problem.level is Severity.ERROR] == []
        wrong = [problem for problem in check_study(back) if problem.level is Severity.ERROR]
        assert not (sound and wrong), name
        assert faults_in(process.content) == [], name
        assert len(process.not_kept) > 0, name
        assert len(write_process(back).content) > 0, name


@pytest.mark.parametrize(
    ("duration", "period"),
    [
        ("90 min", "PT90M"),
        ("1.5 h", "PT1H30M"),
        ("4 wk", "P28DT0H"),
        ("28 d", "P28D"),
        ("0.5 d", "P0DT12H"),
        ("1.149 min", "PT1M8.94S"),
        ("0.25 s", "PT0.25S"),
        ("0 min", "PT0M"),
        ("100 d", "P100D"),
        ("1.5 wk", "P10DT12H"),
        ("0.000000000001 min", "PT0M0.00000000006S"),
    ],
)
def test_a_duration_keeps_its_number_and_its_unit(duration: str, period: str) -> None:
    back = {"P10DT12H": "10.5 d"}.get(period, duration)
    assert (as_period(duration), from_period(period)) == (period, back)


@pytest.mark.parametrize(
    ("period", "duration"),
    [
        ("PT1H10M", "70 min"),
        ("PT1M20S", "80 s"),
        ("P1DT1H", "25 h"),
        ("P2W", "2 wk"),
        ("PT1,5H", "1.5 h"),
        ("P1M", "30 d"),
        ("P1Y", "365 d"),
        ("PT1H0M20S", "3620 s"),
        ("P", None),
        ("P1H", None),
        ("PT", None),
        ("5 min", None),
        ("P" + "9" * 5000 + "D", None),
        ("PT0.3333333333333333333333333S", "0.333333333333 s"),
    ],
)
def test_periods_from_elsewhere(period: str, duration: str | None) -> None:
    assert from_period(period) == duration
