"""What the stand-ins write of a study whose truth is known gives that truth back, quirks and all."""

import json
import socket
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from flowcore.calibration.durations import fitted
from flowcore.calibration.shares import shares_after
from flowcore.logs.doubts import Treatment, doubts_in
from flowcore.logs.looks import waits_of
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.visits import Outcome, Visits
from stand_ins import kiosk, phone_switch
from tests.flowcore.logs.service import PATIENCE, a_service, read

SURE = 0.999
"""So sure that none of these intervals misses the truth by chance."""


@pytest.fixture(scope="module")
def study_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path: Path = tmp_path_factory.mktemp("service") / "study.json"
    path.write_text(json.dumps(a_service()))
    return path


def at_counter(visits: Visits) -> Any:
    return visits.step == visits.steps.index("Counter")


@pytest.mark.parametrize(
    ("device", "quirks"),
    [
        (kiosk, []),
        (phone_switch, []),
        (kiosk, ["--twice", "0.02", "--missing", "0.03", "--late", "9"]),
        (phone_switch, ["--twice", "0.02", "--missing", "0.03"]),
    ],
)
def test_a_log_gives_its_truth_back(study_file: Path, tmp_path: Path, device: Any, quirks: list[str]) -> None:
    path = tmp_path / "log.csv"
    assert device.main(["--study", str(study_file), "--out", str(path), *quirks]) == 0
    visits = read(path)
    here = at_counter(visits)
    served = here & (visits.outcome == Outcome.SERVED)
    work = visits.work[served]
    found = fitted(work[work >= 0], confidence=SURE)
    own = next(each for each in found.fits if each.dist == "lognormal")
    assert found.fits[0].dist == "lognormal"
    assert own.intervals["mean"][0] <= 6.0 <= own.intervals["mean"][1]
    assert own.intervals["sd"][0] <= 4.0 <= own.intervals["sd"][1]
    waits = waits_of(visits)
    left = waits[here & (visits.outcome == Outcome.GAVE_UP)]
    patience = fitted(left, waits[served & ~np.isnan(waits)], SURE)
    low, high = next(each for each in patience.fits if each.dist == "exponential").intervals["mean"]
    assert low <= PATIENCE <= high
    onward = {share.to: share for share in shares_after(visits.only(served | ~here), "Counter", None, SURE)}
    assert onward["Till"].low <= 0.3 <= onward["Till"].high


def test_the_quirks_are_found(study_file: Path, tmp_path: Path) -> None:
    path = tmp_path / "log.csv"
    kiosk.main(["--study", str(study_file), "--out", str(path), "--twice", "0.02", "--missing", "0.03", "--late", "9"])
    visits, report = read_log(path, recognised(path).reading)
    doubts = {doubt.kind: doubt for doubt in doubts_in(visits, Treatment())}
    assert doubts["double"].many == pytest.approx(0.02 * report.rows, rel=0.3)
    assert doubts["no_end"].many == pytest.approx(0.03 * report.rows, rel=0.3)
    assert "9 min" in doubts["late_clock"].words
    clean = tmp_path / "clean.csv"
    kiosk.main(["--study", str(study_file), "--out", str(clean)])
    kinds = {each.kind for each in doubts_in(read_log(clean, recognised(clean).reading)[0], Treatment())}
    assert kinds <= {"no_begin", "no_end"}, "of those who are still there"


def test_a_live_feed_is_the_same_log(study_file: Path, tmp_path: Path) -> None:
    path = tmp_path / "log.csv"
    asked = ["--study", str(study_file), "--out", str(path), "--length", "1 d", "--port", "0", "--pace", "1e9"]
    with subprocess.Popen(
        [sys.executable, "-m", "stand_ins.kiosk", *asked], stdout=subprocess.PIPE, text=True
    ) as running:
        assert running.stdout
        port = int(running.stdout.readline().split()[-1])
        with socket.create_connection(("127.0.0.1", port)) as there:
            fed = b"".join(iter(lambda: there.recv(65536), b""))
    assert running.returncode == 0
    assert fed.decode() == path.read_text()


def test_a_study_that_cannot_run_says_so(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "study.json"
    path.write_text("{}")
    assert kiosk.main(["--study", str(path), "--out", str(tmp_path / "log.csv")]) == 1
    assert capsys.readouterr().err
    assert not (tmp_path / "log.csv").exists()
