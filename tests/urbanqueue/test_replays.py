"""Replays over the API: of a document and of a run, in pieces, with the ways of cases and the logbook."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from flowcore import read_study
from flowcore.replay.outline import long_waits, outline_of
from flowcore.replay.recorder import Recorder
from flowcore.replay.shift import time_of_member
from flowcore.replay.way import way_of
from flowcore.replay.written import written
from flowcore.reports.event_log import event_log, write_xes
from flowcore.study import written as text_of
from tests.flowcore.replay.reading import columns_in
from tests.flowcore.replay.test_written import a_morning
from tests.urbanqueue.conftest import Api
from urbanqueue.api import replays
from urbanqueue.api.aside import Aside, Busy


def piece(api: Api, document: dict[str, Any], query: str) -> Any:
    return api.client.post(f"/api/replays/piece?{query}", json.dumps(document), "application/json")


def test_a_piece_is_what_the_engine_writes(api: Api, demo: dict[str, Any]) -> None:
    recorder = Recorder(read_study(demo), 3)
    for begins, ends in ((600, 660), (660, 720), (60, 120)):
        response = piece(api, demo, f"number=3&begins={begins}&ends={ends}")
        assert response.status_code == 200
        assert response.headers["Content-Encoding"] == "gzip"
        assert response.content == written(recorder.piece(begins, ends))


def test_an_outline_a_way_and_the_logbook(api: Api, demo: dict[str, Any]) -> None:
    study = read_study(demo)
    status, outline = api("POST", "/replays/outline?number=1", demo)
    assert status == 200
    assert outline == json.loads(outline_of(study, Recorder(study, 1).pieces(1440.0)).model_dump_json())
    status, way = api("POST", "/replays/way?number=1&case=5", demo)
    assert (status, way) == (200, way_of(study, 1, 5).model_dump(mode="json"))
    status, book = api("POST", "/replays/logbook?number=1&begins=0&ends=120&case=5", demo)
    assert status == 200
    assert {line["case"] for line in book["lines"]} == {5}


def test_the_logbook_of_a_member_or_of_a_kind(api: Api, demo: dict[str, Any]) -> None:
    asked = "/replays/logbook?number=1&begins=0&ends=1440"
    status, of_member = api("POST", f"{asked}&team=clerks&member=2", demo)
    assert status == 200
    assert {line["member"] for line in of_member["lines"]} == {"Clerks 2"}
    of_shifts = api("POST", "/replays/logbook?begins=0&ends=130&kind=members", text_of(a_morning()))[1]["lines"]
    assert [line["words"] for line in of_shifts] == ["Clerks 1 begins the shift"]
    assert "members" in api("GET", "/catalogue")[1]["log_kinds"]
    assert api("POST", f"{asked}&kind=weather", demo)[0] == 422
    assert api("POST", f"{asked}&team=clerks&member=99", demo)[0] == 422


def test_one_person_watches_only_so_much_at_once() -> None:
    aside = Aside(seconds_for_a_turn=0.01, seconds_to_answer=1, most_of_one=2)
    with aside._place_of(7), aside._place_of(7):
        with pytest.raises(Busy), aside._place_of(7):
            pass
        with aside._place_of(8):
            pass
    with aside._place_of(7):
        pass


def test_members_long_waits_and_the_log_as_files(api: Api, demo: dict[str, Any], tmp_path: Path) -> None:
    study = read_study(demo)
    status, told = api("POST", "/replays/member?number=1&team=clerks&member=2&begins=0&ends=300", demo)
    assert (status, told) == (200, time_of_member(study, 1, "clerks", 2, 0, 300).model_dump(mode="json"))
    status, waits = api("POST", "/replays/waits?number=1&over=5&step=counter", demo)
    assert status == 200
    pieces = Recorder(study, 1).pieces(1440.0)
    assert waits == long_waits(study, pieces, 5, "counter").model_dump(mode="json")
    log = api.client.post("/api/replays/log?begins=0&ends=60&kind=xes", json.dumps(demo), "application/json")
    write_xes(study, [(0, event_log(study, 0, begin=0, end=60))], tmp_path / "log.xes")
    assert log.content == (tmp_path / "log.xes").read_bytes()
    assert api("POST", "/replays/member?team=nobody&member=1&begins=0&ends=9", demo)[0] == 422


def test_what_cannot_be_watched_says_why(api: Api, demo: dict[str, Any]) -> None:
    status, answer = api("POST", "/replays/way?case=999999", demo)
    assert (status, answer["problems"][0]["what"]) == (422, "There is no case 999,999.")
    broken = demo | {"steps": [step | {"next": []} if step.get("next") else step for step in demo["steps"]]}
    assert api("POST", "/replays/outline", broken)[0] == 422
    for query in ("begins=-1&ends=5", "begins=5", "begins=0&ends=1&number=-1", "begins=nan&ends=1"):
        assert piece(api, demo, query).status_code == 422, query
    assert columns_in(piece(api, demo, "begins=9e9&ends=9e9").content)[0]["is_last"], "there is nothing so late"
    assert Api().client.post("/api/replays/outline", json.dumps(demo), "application/json").status_code == 401


def test_only_so_many_replications_are_kept_at_hand(demo: dict[str, Any]) -> None:
    study = read_study(demo)
    for number in range(5):
        replays._piece((study, number, 0.0, 30.0))
    assert len(replays._recorders) == replays.MOST_KEPT
    assert replays._recorder(study, 4) is replays._recorder(study, 4)


@pytest.fixture
def run(api: Api, study_id: int, work: Callable[[], None]) -> int:
    status, started = api("POST", f"/studies/{study_id}/runs")
    assert status == 201
    work()
    return int(started["id"])


def test_a_run_says_what_it_ran_and_what_is_worth_watching(
    api: Api, stranger: Api, run: int, demo: dict[str, Any]
) -> None:
    status, found = api("GET", f"/runs/{run}/replay")
    assert status == 200
    assert read_study(found["document"]).steps == read_study(demo).steps
    [nearest, longest, *_] = found["candidates"]
    assert nearest["words"] == "the one nearest the mean"
    waits = api("GET", f"/runs/{run}/replications?address=type/all/wait/mean")[1]["type/all/wait/mean"]
    assert longest["number"] == waits.index(max(waits)) or nearest["number"] == waits.index(max(waits))
    assert stranger("GET", f"/runs/{run}/replay")[0] == 404


@pytest.mark.parametrize(
    "asked", ["way?case=1e30", "way?case=99999999999999999999", "member?team=clerks&member=99999999999"]
)
def test_a_number_that_is_too_large_is_refused(api: Api, demo: dict[str, Any], asked: str) -> None:
    assert api("POST", f"/replays/{asked}&begins=0&ends=60", demo)[0] == 422
