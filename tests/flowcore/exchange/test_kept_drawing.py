"""A drawing that came from elsewhere goes out again as it came: its ids, its diagram, and what has changed since."""

import json
from pathlib import Path
from typing import Any

import pytest
from lxml import etree

from flowcore.exchange.bpmn.file.names import BPMNDI, BPSIM
from flowcore.exchange.bpmn.read import read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.simulate import simulate
from flowcore.study import read_study, written
from flowcore.study.scenarios import apply_scenario
from tests.flowcore.builders import Part
from tests.flowcore.exchange.drawn_elsewhere import DrawnElsewhere
from tests.flowcore.exchange.test_round_trip import by_id

STALLS = Path("demo/stall-permits.bpmn").read_bytes()


def drawn(content: bytes) -> tuple[list[str | None], list[bytes]]:
    """Return the ids of a file without its parameters, in order, and its diagrams as they stand."""
    root = etree.fromstring(content, etree.XMLParser(remove_blank_text=True))
    ids = [each.get("id") for each in root.iter() if isinstance(each.tag, str) and BPSIM not in each.tag]
    diagrams = root.findall(f"{{{BPMNDI}}}BPMNDiagram")
    return [each for each in ids if each], [etree.tostring(each, method="c14n", exclusive=True) for each in diagrams]


@pytest.fixture
def document() -> Part:
    read = read_process(STALLS, "stall-permits.bpmn")
    assert (read.missing, read.not_kept) == ([], [])
    return written(read.study)


def step_of(document: Part, step_id: str) -> Any:
    return next(step for step in document["steps"] if step["id"] == step_id)


def test_a_scenario_that_inherits_changes_what_it_says_alone(document: Part) -> None:
    paths = [change["path"] for scenario in document["scenarios"] for change in scenario["changes"]]
    assert paths == ["/teams/market-officers/roster"]


def test_ids_and_diagram_stay(document: Part) -> None:
    process = write_process(read_study(document))
    assert (drawn(process.content), process.not_kept) == (drawn(STALLS), [])
    again = read_process(process.content, "stall-permits.bpmn").study
    assert by_id(again.model_copy(update={"drawing": None})) == by_id(read_study(document | {"drawing": None}))


def test_what_has_changed_goes_out_in_the_drawing(document: Part) -> None:
    step_of(document, "register-it").update(name="Write it down", work="12 min", needs=[{"team": "market-officers"}])
    document["teams"][0]["rate"] = 30
    process = write_process(read_study(document))
    assert (drawn(process.content), process.not_kept) == (drawn(STALLS), [])
    again = written(read_process(process.content, "stall-permits.bpmn").study)
    step = step_of(again, "write-it-down")
    assert (step["work"], step["needs"]) == ("12 min", [{"team": "market-officers"}])
    assert [team["rate"] for team in again["teams"] if team["id"] == "front-desk"] == [30]


def test_what_the_drawing_has_no_place_for_is_told(document: Part) -> None:
    step_of(document, "register-it")["line"] = {"discipline": "last-come"}
    told = write_process(read_study(document)).not_kept
    assert [each.element for each in told] == ["register-it"]


def test_another_flow_is_drawn_anew_with_the_ids_that_are_left(document: Part) -> None:
    step_of(document, "wait-for-the-answer-over")["next"] = [{"to": "rests"}]
    document["steps"].append(
        {"id": "rests", "name": "Rests", "kind": "delay", "time": "1 h", "next": [{"to": "answered"}]}
    )
    ids, _ = drawn(write_process(read_study(document)).content)
    assert {"Register", "Examine", "Await_answer", "Stall_wanted", "step_rests"} <= set(ids)


@pytest.mark.parametrize("seed", range(40))
def test_any_drawing_goes_out_with_its_ids(seed: int) -> None:
    file = DrawnElsewhere(seed).file()
    assert drawn(write_process(read_process(file).study).content) == drawn(file)


def test_the_demo_process_runs_and_a_third_officer_spares_the_reminders(document: Part) -> None:
    """As it is, some ask where the answer is, and each letter is looked up; with a third officer nobody has to."""
    study = read_study(json.loads(json.dumps(document)))
    short = study.model_copy(update={"run": study.run.model_copy(update={"replications": 2})})
    now, third = (simulate(apply_scenario(short, each)).values for each in ("", "a-third-officer"))
    asked = "deadline/no-answer-in-two-weeks/missed"
    looked = "step/look-it-up-and-write-back/arrived"
    assert now[asked].sum() > 10
    assert now[looked].sum() > 10
    assert third["type/all/total/mean"].mean() < now["type/all/total/mean"].mean()
    assert third[asked].sum() == third[looked].sum() == 0
