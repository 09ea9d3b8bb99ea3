"""Processes over the API: read before anything is made, written with what is not kept."""

from pathlib import Path
from typing import Any

from flowcore.exchange.bpmn.read import read_process
from flowcore.study import read_study, written
from tests.flowcore.exchange.drawn_elsewhere import x
from tests.flowcore.exchange.files import file, flows
from tests.urbanqueue.conftest import Api
from urbanqueue.studies.models import Study

BODY = x("startEvent", id="S") + x("task", id="A", name="Büro") + x("endEvent", id="E") + flows("S A", "A E")
STALLS = Path("demo/stall-permits.bpmn").read_text()


def post(api: Api, path: str, body: Any) -> tuple[int, Any]:
    return api("POST", f"/processes/{path}", body)


def test_a_process_is_read_and_nothing_is_made(api: Api) -> None:
    status, read = post(api, "read", {"text": file(BODY).decode(), "file": "desk.bpmn"})
    assert (status, read["study"]["name"]) == (200, "desk")
    assert [step["name"] for step in read["study"]["steps"]] == ["Büro", "End"]
    assert [each["key"].partition(":")[0] for each in read["missing"]] == ["A", "S"]
    assert not Study.objects.exists()


def test_answers_stand_in_the_study(api: Api) -> None:
    body = {"text": file(BODY).decode(), "answers": {"A:How long does it take?": "3 h"}}
    _, read = post(api, "read", body)
    assert read["study"]["steps"][0]["work"] == "3 h"
    status, refused = post(api, "read", body | {"answers": {"A:How long does it take?": "long"}})
    assert (status, refused["problems"][0]["where"]) == (422, "Büro")


def test_a_study_is_written_as_a_process_at_the_places_of_the_map(api: Api) -> None:
    study = read_process(file(BODY)).study.model_copy(update={"drawing": None})
    body = {"study": written(study), "positions": {"buro": [10, 20], "end": [300, 20]}}
    _, answer = post(api, "write", body)
    assert read_process(answer["text"].encode()).study.steps[0].name == "Büro"


def test_what_came_in_goes_out_in_its_drawing(api: Api) -> None:
    _, read = post(api, "read", {"text": STALLS, "file": "stall-permits.bpmn"})
    assert read_study(read["study"]).drawing is not None
    _, answer = post(api, "write", {"study": read["study"]})
    assert (answer["not_kept"], 'id="Await_answer"' in answer["text"]) == ([], True)


def test_harm_is_a_problem_in_words(api: Api) -> None:
    for text in ("", "<a", '<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>', "<a/>" * 3, "{}"):
        status, answer = post(api, "read", {"text": text})
        assert status == 422
        assert answer["problems"][0]["mend"]


def test_who_is_not_signed_in_reads_nothing(transactional_db: None) -> None:
    assert post(Api(), "read", {"text": STALLS})[0] == 401
