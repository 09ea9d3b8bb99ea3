"""Tables as files, opened again by readers that know nothing of how they were written."""

import csv
import io
import json
from pathlib import Path

import openpyxl
import pytest

from flowcore.cli import main
from flowcore.exchange.tables import harmless, written_csv, written_xlsx
from flowcore.reports.run import run_tables
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study

DEMO = Path(__file__).parents[2] / "demo"
HEAD = ["name", "wait, min"]
ROWS: list[list[str | float | None]] = [["=1+1", 2.5], ["+49", None], ['Desk, "A"\n', -3], ["bell\x07", 0.1]]


def hall() -> StudyDocument:
    study = read_study(json.loads((DEMO / "residents-hall.json").read_text()))
    return study.model_copy(update={"run": study.run.model_copy(update={"length": "2 d", "replications": 3})})


def test_a_workbook_has_numbers_as_numbers_and_no_formulas() -> None:
    book = openpyxl.load_workbook(io.BytesIO(written_xlsx([("Where: the minutes / go?", HEAD, ROWS), ("", [], [])])))
    sheet = book.worksheets[0]
    assert [each.title for each in book.worksheets] == ["Where  the minutes   go", "Table"]
    assert [cell.value for cell in sheet[1]] == HEAD
    assert [[cell.value for cell in row] for row in sheet.iter_rows(min_row=2)] == [
        ["=1+1", 2.5], ["+49", None], ['Desk, "A"\n', -3], ["bell", 0.1],
    ]  # fmt: skip
    assert {cell.data_type for row in sheet for cell in row} == {"s", "n"}


def test_csv_is_read_back_and_begins_no_formula() -> None:
    rows = list(csv.reader(io.StringIO(written_csv(HEAD, ROWS))))
    assert rows == [HEAD, ["'=1+1", "2.5"], ["'+49", ""], ['Desk, "A"\n', "-3"], ["bell\x07", "0.1"]]


@pytest.mark.parametrize("text", ["=SUM(A1)", "+1", "-1", "@x", "\tx"])
def test_what_a_spreadsheet_would_calculate_is_a_word(text: str) -> None:
    assert harmless(text) == f"'{text}"
    assert harmless("a=1") == "a=1"


def test_all_figures_of_a_run_as_tables() -> None:
    results = simulate(hall())
    figures, replications, week = run_tables(hall(), results)
    means = {row[0]: row[3] for row in figures[2]}
    assert means["step/counter/wait/mean"] == results.figure("step/counter/wait/mean").mean
    assert means.keys() == results.figures().keys()
    each = {row[0]: row[3:] for row in replications[2]}
    assert each["type/all/completed"] == results.values["type/all/completed"].tolist()
    nine = week[1].index("Monday 9:00 to 10:00")
    hours = {row[0]: row[nine] for row in week[2]}
    assert hours["step/counter/wait"] == results.figure("step/counter/wait/hour:9").mean


def test_the_command_line_writes_what_spreadsheets_open(tmp_path: Path) -> None:
    study = str(DEMO / "residents-hall.json")
    run = ["run", study, "--replications", "2", "--length", "2d", "--out"]
    assert main([*run, str(tmp_path / "figures.json")]) == 0
    assert main([*run, str(tmp_path / "figures.xlsx")]) == 0
    assert main([*run, str(tmp_path / "figures.csv")]) == 0
    figures = json.loads((tmp_path / "figures.json").read_text())["figures"]
    sheet = openpyxl.load_workbook(tmp_path / "figures.xlsx")["Figures"]
    rows = list(csv.reader((tmp_path / "figures.csv").read_text("utf-8-sig").splitlines()))
    assert [cell.value for cell in sheet[1]] == rows[0]
    for row, line in zip(sheet.iter_rows(min_row=2, values_only=True), rows[1:], strict=True):
        mean = figures[row[0]]["mean"]
        assert row[3] == (None if mean is None else pytest.approx(mean, rel=1e-12))
        assert line[3] == ("" if mean is None else str(mean))


def test_the_command_line_says_what_a_run_found(capsys: pytest.CaptureFixture[str]) -> None:
    study = str(DEMO / "residents-hall.json")
    assert main(["findings", study, "--replications", "2", "--length", "1wk", "--scenario", "busier"]) == 0
    assert main(["findings", study, "--replications", "2", "--length", "1wk"]) == 0
    said = capsys.readouterr().out.splitlines()
    assert any(line.startswith("Half of the cases wait under ") for line in said)
    assert said[-1].startswith("2 replications of 1wk, ")
