"""Files drawn elsewhere, put together at random: each becomes a study that runs, and goes out again."""

import json
import subprocess
from pathlib import Path
from typing import Any

import pytest

from flowcore.checks import check_study
from flowcore.exchange.bpmn.read import ProcessRead, read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.problems import Severity
from flowcore.simulate import simulate
from tests.flowcore.exchange.drawn_elsewhere import DrawnElsewhere
from tests.flowcore.exchange.schemas import faults_in

FILES = 200
READER = Path(__file__).with_name("read_bpmn.mjs")


@pytest.fixture(scope="module")
def drawn() -> list[bytes]:
    return [DrawnElsewhere(seed).file() for seed in range(FILES)]


@pytest.fixture(scope="module")
def read(drawn: list[bytes]) -> list[ProcessRead]:
    return [read_process(file) for file in drawn]


def test_the_files_are_as_the_standards_have_them(drawn: list[bytes]) -> None:
    assert [fault for file in drawn for fault in faults_in(file)] == []


def test_each_becomes_a_sound_study(read: list[ProcessRead]) -> None:
    wrong = [problem for each in read for problem in check_study(each.study) if problem.level is Severity.ERROR]
    assert not wrong


def test_each_study_runs(read: list[ProcessRead]) -> None:
    for each in read:
        study = each.study
        short = study.run.model_copy(update={"length": "8 h", "warm_up": "0 min", "replications": 1})
        values = simulate(study.model_copy(update={"run": short})).values
        assert values["type/all/arrived"][0] >= 0


def test_an_independent_reader_reads_what_goes_out(read: list[ProcessRead], tmp_path: Path) -> None:
    """In the drawing that was kept, and drawn anew: there with every step and its place."""
    kept, anew = ([tmp_path / f"{number}-{kind}.bpmn" for number in range(FILES)] for kind in ("kept", "anew"))
    for each, in_drawing, by_itself in zip(read, kept, anew, strict=True):
        in_drawing.write_bytes(write_process(each.study).content)
        by_itself.write_bytes(write_process(each.study.model_copy(update={"drawing": None})).content)
    assert [fault for file in kept + anew for fault in faults_in(file.read_bytes())] == []
    found = independently_read(kept + anew)
    assert all(told["warnings"] == [] for told in found.values())
    for file, each in zip(anew, read, strict=True):
        told = found[str(file)]
        steps = {f"step_{step.id}" for step in each.study.steps}
        assert steps <= set(told["ids"])
        assert steps <= set(told["drawn"])


def independently_read(files: list[Path]) -> dict[str, Any]:
    """Return what an independent reader finds in BPMN files."""
    told = subprocess.run(["node", READER, *files], capture_output=True, text=True, check=True, timeout=600)
    read: dict[str, Any] = json.loads(told.stdout)
    return read
