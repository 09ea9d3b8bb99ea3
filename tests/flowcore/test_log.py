"""The event log, a journey and the files they are written to."""

import csv
import json
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree

import pytest
from xmlschema import XMLSchema

from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.reports.event_log import event_log, journey, write_csv, write_xes
from flowcore.study import written
from tests.flowcore.days import cases_at, day, desk, shift, team

OF = day([cases_at([0, 4])], [desk()], [team()])


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "flowcore", *arguments], capture_output=True, text=True, check=False)


@pytest.fixture
def study_file(tmp_path: Path) -> str:
    path = tmp_path / "study.json"
    path.write_text(json.dumps(written(OF)))
    return str(path)


def test_a_journey_tells_a_cases_own_history() -> None:
    told = [(each.minute, each.event, each.member) for each in journey(OF, 0, 2)]
    assert told == [
        (4, "arrived", ""),
        (4, "came", ""),
        (4, "joined the line", ""),
        (10, "work began", "Clerks 1"),
        (20, "went on", "Clerks 1"),
        (20, "came", ""),
        (20, "left", ""),
    ]
    assert journey(OF, 0, 99) == []


def test_the_log_holds_all_cases_or_a_stretch_of_time() -> None:
    assert {each.case for each in event_log(OF, 0)} == {1, 2}
    assert [each.event for each in event_log(OF, 0, begin=5, end=12)] == ["went on", "came", "left", "work began"]


def test_log_as_csv(study_file: str, tmp_path: Path) -> None:
    out = tmp_path / "log.csv"
    assert run("log", study_file, "--out", str(out)).returncode == 0
    rows = list(csv.DictReader(out.open()))
    assert rows[0] == {
        "time": "2027-03-01T08:00:00", "minute": "0.000000", "case": "1", "type": "",
        "step": "", "event": "arrived", "member": "", "scenario": "", "replication": "1",
    }  # fmt: skip
    assert len(rows) == len(event_log(OF, 0))


def test_log_as_xes(study_file: str, tmp_path: Path) -> None:
    out = tmp_path / "log.xes"
    assert run("log", study_file, "--out", str(out)).returncode == 0
    traces = ElementTree.parse(out).getroot().findall("trace")
    assert len(traces) == 2
    transitions = [each.get("value") for each in traces[1].iter("string") if each.get("key") == "lifecycle:transition"]
    assert transitions == ["schedule", "start", "complete", "complete"]


@pytest.mark.parametrize("ending", ["csv", "xes"])
def test_several_replications_of_a_scenario(tmp_path: Path, ending: str) -> None:
    """Each case is one of its replication; read again they follow each other, whole weeks apart."""
    whole = written(OF) | {"scenarios": [{"id": "later", "name": "Later", "changes": []}]}
    path, out = tmp_path / "study.json", tmp_path / f"log.{ending}"
    path.write_text(json.dumps(whole))
    asked = ("log", str(path), "--replication", "1", "--replications", "3", "--scenario", "later", "--out", str(out))
    assert run(*asked).returncode == 0
    if ending == "csv":
        rows = list(csv.DictReader(out.open()))
        assert {(row["scenario"], row["replication"]) for row in rows} == {("later", each) for each in "234"}
    visits, report = read_log(out, recognised(out).reading)
    assert report.unread == 0
    assert sorted(visits.cases) == ["2/1", "2/2", "3/1", "3/2", "4/1", "4/2"]
    weeks = ((visits.arrived - visits.arrived.min()) // 10080).tolist()
    assert sorted(weeks) == [0, 0, 1, 1, 2, 2]
    served = visits.only(visits.step == visits.steps.index("Desk"))
    assert served.work.round(6).tolist() == [10] * 6


def test_no_replication_at_all_is_refused(study_file: str, tmp_path: Path) -> None:
    done = run("log", study_file, "--replications", "0", "--out", str(tmp_path / "log.csv"))
    assert (done.returncode, "--replications: It is below 1" in done.stderr) == (1, True)


def test_xes_is_valid_against_its_schema(tmp_path: Path) -> None:
    """With pauses, people who give up, and names that need escaping."""
    steps = [
        desk(
            "20 min",
            id="desk",
            line={"patience": {"dist": "exponential", "mean": "15 min"}, "gives_up_to": "out"},
        )
        | {"name": "Desk <A> & “B”"}
    ]
    busy = day([cases_at([0, 4, 9, 30, 33])], steps, [team(roster=[shift(0, 60)], at_shift_end="pause")])
    out = tmp_path / "log.xes"
    write_xes(busy, [(0, event_log(busy, 0))], out)
    schema = XMLSchema(Path(__file__).with_name("xes.xsd"))
    schema.validate(out)
    broken = out.read_text().replace("<date key", "<day key")
    assert not schema.is_valid(broken)


def test_what_cannot_be_written_or_found_is_said(study_file: str) -> None:
    wrong = run("log", study_file, "--out", "log.pdf")
    assert (wrong.returncode, "neither .csv nor .xes" in wrong.stderr) == (1, True)
    none = run("journey", study_file, "--case", "7")
    assert (none.returncode, "There is no such case" in none.stderr) == (1, True)
    told = run("journey", study_file, "--case", "1")
    assert "2027-03-01 08:00:00  work began" in told.stdout


def test_no_name_in_a_csv_is_a_formula(tmp_path: Path) -> None:
    types = [{"id": "a", "name": "@SUM(A1)"}]
    desks = [desk() | {"name": "=1+1"}]
    study = day([cases_at([0], types=["a"])], desks, [team(name="+Clerks")], case_types=types)
    out = tmp_path / "log.csv"
    write_csv(study, [(0, event_log(study, 0))], out)
    cells = {cell for row in csv.reader(out.open()) for cell in row}
    assert {"'=1+1", "'@SUM(A1)", "'+Clerks 1"} <= cells
    assert not any(cell.startswith(("=", "+", "-", "@")) for cell in cells)
