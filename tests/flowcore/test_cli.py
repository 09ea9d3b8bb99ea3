"""The command line as an analyst uses it."""

import csv
import json
from pathlib import Path
from typing import Any

import pytest
from lxml import etree

from flowcore.cli import main
from flowcore.study.document import written as in_file
from tests.flowcore.builders import document, exit_step, exponential, serve
from tests.flowcore.exchange.drawn_elsewhere import x
from tests.flowcore.exchange.files import file, flows
from tests.flowcore.exchange.schemas import faults_in
from tests.flowcore.sizing.studies import busy_noon

LEVER = {"id": "crew", "name": "Crew", "sets": ["/teams/clerks/size"]}
SCENARIOS = [
    {"id": "one-more", "name": "One more", "levers": {"crew": 2}},
    {"id": "slower", "name": "Slower", "changes": [{"op": "replace", "path": "/steps/desk/work", "value": "4 min"}]},
]


@pytest.fixture
def path(tmp_path: Path) -> Path:
    steps = [serve("desk", exponential(3), "clerks", {"out": 1}), exit_step()]
    whole = document(steps, {"clerks": 1}, exponential(5), length="2 d", warm_up="2 h", replications=3)
    place = tmp_path / "study.json"
    place.write_text(json.dumps(whole | {"levers": [LEVER], "scenarios": SCENARIOS}))
    return place


def written(path: Path) -> Any:
    return json.loads(path.read_text())


def test_run_writes_figures_series_and_doubts(path: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "run.json"
    assert main(["run", str(path), "--replications", "1", "--out", str(out)]) == 0
    report = written(out)
    assert report["figures"]["type/all/completed"]["n"] == 1
    assert len(report["series"]["type/all/inside"]) >= 48
    assert len(report["week"]["type/all/inside"]) == 168
    assert [doubt["where"] for doubt in report["doubts"]] == ["run/replications"]
    assert "One replication" in capsys.readouterr().err


def test_run_of_a_scenario_is_that_of_its_study(path: Path, tmp_path: Path) -> None:
    out = tmp_path / "run.json"
    main(["run", str(path), "--scenario", "one-more", "--out", str(out)])
    assert written(out)["figures"]["team/clerks/present"]["mean"] == pytest.approx(2)


def test_compare_gives_paired_verdicts(path: Path, tmp_path: Path) -> None:
    out = tmp_path / "compare.json"
    assert main(["compare", str(path), "--figure", "type/all/wait/mean", "--replications", "8", "--out", str(out)]) == 0
    found = written(out)["scenarios"]
    assert {scenario: row["type/all/wait/mean"]["verdict"] for scenario, row in found.items()} == {
        "one-more": "better",
        "slower": "worse",
    }
    first = [row["type/all/wait/mean"]["first"]["mean"] for row in found.values()]
    assert first[0] == first[1]


@pytest.mark.parametrize(
    ("arguments", "place"),
    [
        (["compare", "STUDY", "--figure", "type/all/patience"], "--figure"),
        (["compare", "STUDY", "--scenario", "none"], "scenarios"),
        (["run", "STUDY", "--threads", "0"], "--threads"),
        (["run", "STUDY", "--length", "4 moons"], "--length"),
        (["run", "STUDY", "--out", "/nowhere/at/all.json"], "--out"),
        (["run", "/nowhere/study.json"], "/nowhere/study.json"),
        (["log", "STUDY", "--out", "log.txt"], "--out"),
        (["journey", "STUDY", "--case", "99999"], "--case"),
    ],
)
def test_what_is_wrong_is_named(
    arguments: list[str], place: str, path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main([str(path) if each == "STUDY" else each for each in arguments]) == 1
    assert place in capsys.readouterr().err


def test_check_says_what_is_doubtful(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", str(path)]) == 0
    assert "Nothing is wrong" in capsys.readouterr().out
    whole = written(path)
    whole["steps"][0]["next"] = [{"to": "nowhere"}]
    path.write_text(json.dumps(whole))
    assert main(["check", str(path)]) == 1
    assert "nowhere" in capsys.readouterr().out


def test_log_and_journey_tell_of_the_same_case(path: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "log.csv"
    assert main(["log", str(path), "--to", "2h", "--out", str(out)]) == 0
    with out.open() as lines:
        rows = [row for row in csv.DictReader(lines) if row["case"] == "1"]
    assert main(["journey", str(path), "--case", "1"]) == 0
    told = capsys.readouterr().out.splitlines()
    assert len(told) == len(rows)
    assert all(row["event"] in line for row, line in zip(rows, told, strict=True))


def test_size_writes_needs_and_proposals(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    place, out = tmp_path / "noon.json", tmp_path / "found.json"
    place.write_text(json.dumps(in_file(busy_noon())))
    assert main(["size", str(place), "--threads", "2", "--seed", "5", "--out", str(out)]) == 0
    found = written(out)
    assert found["seed"] == 5
    assert len(found["need"]["clerks"]) == 336
    today, cheapest, *_ = found["proposals"]
    assert today["name"] == "As it is today"
    assert cheapest["holds"]
    assert cheapest["figures"]["step/desk/wait/within:5min"]["mean"] > 0.8
    assert sum(row["people"] for row in cheapest["teams"]["clerks"]["roster"]) >= cheapest["people"]
    assert found["weeks_simulated"] > found["tried"] > 50
    assert "keep at least 80 % of the waits at Desk within 5 min for EUR" in capsys.readouterr().err


def test_size_names_a_search_that_is_not_there(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["size", str(path), "--sizing", "moon"]) == 1
    assert "There is no search “moon”" in capsys.readouterr().err


def test_schema_is_json_schema(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "StudyDocument"


def test_a_process_comes_in_runs_and_goes_out(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    study, drawn, results = (tmp_path / name for name in ("stalls.json", "stalls.bpmn", "stalls.bpsim"))
    assert main(["import", "demo/stall-permits.bpmn", "--out", str(study)]) == 0
    assert main(["check", str(study)]) == 0
    assert main(["export", str(study), "--out", str(drawn)]) == 0
    short = ["--replications", "2", "--length", "2wk", "--warm-up", "0s"]
    assert main(["run", str(study), *short, "--out", str(results)]) == 0
    shapes = [len(list(etree.parse(path).iter("{*}BPMNShape"))) for path in (drawn, "demo/stall-permits.bpmn")]
    assert shapes[0] == shapes[1]
    assert [faults_in(path.read_bytes()) for path in (results, drawn, Path("demo/stall-permits.bpmn"))] == [[], [], []]
    examined = etree.parse(results).find(".//{*}ElementParameters[@elementRef='Examine']")
    assert examined is not None
    for parameter, result in (("QueueTime", "mean"), ("ProcessingTime", "max"), ("TriggerCount", "count")):
        assert examined.find(f".//{{*}}{parameter}/{{*}}FloatingParameter[@result='{result}']") is not None
    assert "not kept" not in capsys.readouterr().err


def test_what_a_process_does_not_say_and_what_is_no_process_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    bare, page = tmp_path / "bare.bpmn", tmp_path / "page.bpmn"
    bare.write_bytes(file(x("startEvent", id="S") + x("task", id="A", name="Look") + flows("S A")))
    page.write_text("<html/>")
    assert main(["import", str(bare), "--out", str(tmp_path / "bare.json")]) == 0
    told = capsys.readouterr().err
    assert "missing: A: Look: How long does it take? 10 min is taken." in told
    assert "not kept: A: Look: Nobody is named who does it." in told
    assert main(["import", str(page)]) == 1
    assert "no BPMN 2.0" in capsys.readouterr().err
