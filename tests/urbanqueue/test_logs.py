"""Logs over the API: brought, recognised, read by a worker, treated, and nobody else's."""

import gzip
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings

from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.roles import Role
from flowcore.study import read_study
from flowcore.study.document import written
from tests.flowcore.logs.files import KIOSK
from tests.urbanqueue.conftest import Api
from urbanqueue.accounts.models import Person
from urbanqueue.logs import actions
from urbanqueue.logs.demo import bring_demo_logs
from urbanqueue.logs.models import LogColumn, LogFile, LogPiece
from urbanqueue.logs.packing import visits_of
from urbanqueue.logs.queue import put_logs_back
from urbanqueue.studies.actions import create_study

ROWS = "".join(
    f"A{n:05};Passport;Counter;{1 + n // 30:02}.03.2027 {8 + n % 8:02}:00:00;{1 + n // 30:02}.03.2027 "
    f"{8 + n % 8:02}:0{n % 5}:00;{1 + n // 30:02}.03.2027 {8 + n % 8:02}:{10 + n % 23}:00;Desk {n % 3};\n"
    for n in range(300)
)
LOG = KIOSK.splitlines()[0] + "\n" + ROWS
Work = Callable[[], None]


def bring(api: Api, study_id: int, content: bytes | str, name: str = "kiosk.csv") -> tuple[int, Any]:
    body = content.encode() if isinstance(content, str) else content
    path = f"/api/studies/{study_id}/logs?name={name}"
    response = api.client.post(path, body, content_type="application/octet-stream")
    return response.status_code, response.json()


def brought(api: Api, study_id: int, content: str = LOG) -> dict[str, Any]:
    status, log = bring(api, study_id, content)
    assert status == 201, log
    return dict(log)


def read(api: Api, log: dict[str, Any], work: Work, **changes: Any) -> dict[str, Any]:
    status, answer = api("PUT", f"/logs/{log['id']}/reading", log["preview"]["reading"] | changes)
    assert (status, answer["state"]) == (200, "waiting"), answer
    work()
    return dict(api("GET", f"/logs/{log['id']}")[1])


def test_from_a_file_to_what_is_found(api: Api, study_id: int, work: Work) -> None:
    log = brought(api, study_id)
    assert (log["state"], log["name"], log["size"]) == ("recognised", "kiosk.csv", len(LOG))
    assert len(log["preview"]["rows"]) == 12
    assert (log["reading"], log["report"], log["look"]) == (None, None, None)
    done = read(api, log, work)
    assert (done["state"], done["problems"], done["rows"], done["share"]) == ("read", [], 300, 1)
    assert (done["report"]["unread"], done["look"]["cases"]) == (0, 300)
    [entry] = api("GET", f"/studies/{study_id}/logs")[1]
    assert (entry["id"], entry["state"], entry["brought_by"]) == (log["id"], "read", "Ana")
    status, found = api("GET", f"/logs/{log['id']}/found")
    assert status == 200
    [step] = found["steps"]
    assert (step["step"], step["visits"], step["work"]["many"]) == ("Counter", 300, 300)
    assert found["arrivals"]["week"]["mon"][8] > 0
    assert len(visits_of(LogFile.objects.get())) == 300


def test_what_is_doubtful_is_treated_and_all_found_anew(api: Api, study_id: int, work: Work) -> None:
    twice = ROWS.splitlines()[5] + "\n"
    done = read(api, brought(api, study_id, LOG + twice), work)
    [doubt] = done["doubts"]
    assert (doubt["kind"], doubt["many"], doubt["lines"], doubt["chosen"]) == ("double", 1, [302], "leave-out")
    assert done["look"]["visits"] == 300
    status, answer = api("PUT", f"/logs/{done['id']}/treatment", done["treatment"] | {"double": "keep"})
    assert (status, answer["state"], answer["look"]) == (200, "waiting", None)
    work()
    again = api("GET", f"/logs/{done['id']}")[1]
    assert (again["state"], again["look"]["visits"], again["doubts"][0]["chosen"]) == ("read", 301, "keep")


def test_what_cannot_be_read_is_said_and_nothing_is_kept(api: Api, study_id: int) -> None:
    status, answer = bring(api, study_id, b"\xd0\xcf\x11\xe0 an old workbook")
    assert (status, answer["problems"][0]["where"]) == (422, "file")
    assert not LogFile.objects.exists()
    assert not LogPiece.objects.exists()


def test_a_log_of_which_no_row_can_be_read_fails_with_the_first_reason(api: Api, study_id: int, work: Work) -> None:
    log = brought(api, study_id)
    columns = log["preview"]["reading"]["columns"]
    wrong = [column | ({"form": "month-first"} if column["form"] else {}) for column in columns]
    later = "".join(line for line in LOG.splitlines(keepends=True)).replace(".03.2027", ".2027.03")
    log = brought(api, study_id, later.replace(";01.2027.03", ";99.2027.03"))
    done = read(api, log | {"preview": {"reading": log["preview"]["reading"] | {"columns": wrong}}}, work)
    assert done["state"] == "failed"
    assert "None of the" in done["problems"][0]["what"]
    assert not LogColumn.objects.exists(), "nothing is half read"


def test_columns_that_do_not_suffice_are_refused(api: Api, study_id: int) -> None:
    log = brought(api, study_id)
    reading = log["preview"]["reading"]
    reading["columns"] = [column | {"role": "nothing"} for column in reading["columns"]]
    status, answer = api("PUT", f"/logs/{log['id']}/reading", reading)
    assert status == 422
    assert [problem["where"] for problem in answer["problems"]] == ["columns", "columns"]
    assert api("GET", f"/logs/{log['id']}/found")[0] == 422
    assert api("PUT", f"/logs/{log['id']}/treatment", {})[0] == 422


def test_recognised_anew_with_another_separator(api: Api, study_id: int) -> None:
    log = brought(api, study_id)
    wanted = log["preview"]["reading"] | {"separator": ",", "columns": []}
    status, preview = api("POST", f"/logs/{log['id']}/recognised", wanted)
    assert status == 200
    assert len(preview["reading"]["columns"]) == 1
    assert api("POST", f"/logs/{log['id']}/recognised", wanted | {"encoding": "rot13"})[0] == 422


def test_logs_are_nobody_elses(api: Api, stranger: Api, study_id: int) -> None:
    log = brought(api, study_id)
    reading = log["preview"]["reading"]
    assert bring(stranger, study_id, LOG)[0] == 404
    assert stranger("GET", f"/studies/{study_id}/logs")[0] == 404
    for method, path, body in (
        ("GET", "", None), ("GET", "/found", None), ("DELETE", "", None), ("PUT", "/reading", reading),
        ("PUT", "/treatment", {}), ("POST", "/recognised", reading),
    ):  # fmt: skip
        assert stranger(method, f"/logs/{log['id']}{path}", body)[0] == 404, path
    assert api("DELETE", f"/logs/{log['id']}")[0] == 204
    assert not LogPiece.objects.exists()


def test_more_than_a_study_or_a_file_can_have(api: Api, study_id: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(actions, "MOST_LOGS", 1)
    monkeypatch.setattr(actions, "MOST_SENT", 2 * len(LOG))
    assert "more than" in bring(api, study_id, LOG * 3)[1]["problems"][0]["what"]
    brought(api, study_id)
    assert "1 logs" in bring(api, study_id, LOG)[1]["problems"][0]["what"]


@pytest.mark.parametrize("kind", ["application/json", "multipart/form-data", "text/csv"])
def test_a_file_is_sent_as_it_is(api: Api, study_id: int, kind: str) -> None:
    response = api.client.post(f"/api/studies/{study_id}/logs?name=a", b"{}", content_type=kind)
    assert response.status_code == 415


def test_a_packed_file(api: Api, study_id: int, work: Work) -> None:
    status, log = bring(api, study_id, gzip.compress(LOG.encode()), "kiosk.csv.gz")
    assert status == 201
    assert read(api, log, work)["look"]["cases"] == 300


def test_a_log_whose_job_is_lost_is_read_all_the_same(api: Api, study_id: int, work: Work) -> None:
    log = brought(api, study_id)
    api("PUT", f"/logs/{log['id']}/reading", log["preview"]["reading"])
    LogFile.objects.update(job=0, state=LogFile.LogState.READING)
    put_logs_back()
    work()
    assert api("GET", f"/logs/{log['id']}")[1]["state"] == "read"


def test_a_log_that_is_deleted_meanwhile_ends_quietly(
    api: Api, study_id: int, work: Work, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("flowcore.logs.reading.TOLD_EVERY", 50)
    log = brought(api, study_id)
    api("PUT", f"/logs/{log['id']}/reading", log["preview"]["reading"])
    monkeypatch.setattr("urbanqueue.logs.reader.columns_of", lambda log, visits: log.delete() and ())
    work()
    assert not LogFile.objects.exists()


def test_the_demo_log_differs_where_the_service_really_does(api: Api, person: Person, work: Work) -> None:
    document = read_study(json.loads((settings.ROOT / "demo" / "residents-hall.json").read_text()))
    study = create_study(person, document)
    bring_demo_logs(study, document)
    work()
    [entry] = api("GET", f"/studies/{study.pk}/logs")[1]
    assert (entry["name"], entry["state"]) == ("kiosk-march.csv", "read")
    told = api("POST", f"/logs/{entry['id']}/proposals", written(document))[1]
    work_of = {each["at"]: each["agrees"] for each in told["proposals"] if each["kind"] == "time"}
    assert {at for at, agrees in work_of.items() if not agrees} == {
        "/steps/counter/work/by_type/parking", "/steps/counter/work/by_type/address", "/steps/cashier/work",
    }  # fmt: skip


def test_what_a_log_says_of_a_study(api: Api, study_id: int, work: Work) -> None:
    log = read(api, brought(api, study_id), work)
    document = api("GET", f"/studies/{study_id}")[1]["document"]
    status, told = api("POST", f"/logs/{log['id']}/proposals", document)
    assert status == 200
    assert told["matching"]["steps"] == {"Counter": "counter"}
    assert {each["at"] for each in told["proposals"]} >= {"/steps/counter/work"}
    status, answer = api("PUT", f"/logs/{log['id']}/matching", {"steps": {"Counter": None}})
    assert (status, answer["matching"]["steps"]) == (200, {"Counter": None})
    assert api("POST", f"/logs/{log['id']}/proposals", document)[1]["proposals"] == []
    status, draft = api("GET", f"/logs/{log['id']}/draft?covers=0.8")
    assert (status, draft["covers"], [each["name"] for each in draft["steps"]]) == (200, 1, ["Counter", "Leaves"])
    assert draft["sources"]["/steps/counter/work"]["file"] == "kiosk.csv"


def test_a_log_is_set_beside_a_run(api: Api, study_id: int, work: Work) -> None:
    log = read(api, brought(api, study_id), work)
    run = api("POST", f"/studies/{study_id}/runs", {})[1]
    work()
    status, check = api("GET", f"/logs/{log['id']}/check?run_id={run['id']}")
    assert status == 200
    fits = {each["address"]: each for each in check["fits"]}
    assert fits["step/counter/wait/mean"]["figure"]["n"] > 1
    assert fits["step/counter/wait/mean"]["source"] == "kiosk.csv, 300 rows"
    assert {week["quantity"] for week in check["weeks"]} >= {"stream/all/arrived", "step/counter/wait"}
    assert all(len(week["observed"]) == len(week["simulated"]) == 168 for week in check["weeks"])


def test_what_is_said_of_logs_is_said_to_their_owner_alone(api: Api, stranger: Api, study_id: int, work: Work) -> None:
    unread = brought(api, study_id)
    document = api("GET", f"/studies/{study_id}")[1]["document"]
    status, answer = api("POST", f"/logs/{unread['id']}/proposals", document)
    assert (status, answer["problems"][0]["what"]) == (422, "Nothing has been found yet.")
    log = read(api, unread, work)
    run = api("POST", f"/studies/{study_id}/runs", {})[1]
    path = f"/logs/{log['id']}"
    assert stranger("POST", f"{path}/proposals", document)[0] == 404
    assert stranger("PUT", f"{path}/matching", {})[0] == 404
    assert stranger("GET", f"{path}/draft")[0] == 404
    assert stranger("GET", f"{path}/check?run_id={run['id']}")[0] == 404
    assert api("GET", f"{path}/check?run_id=999999")[0] == 404


@pytest.mark.parametrize("kind", ["csv", "xes"])
def test_the_log_of_all_of_a_run_is_read_again(
    api: Api, stranger: Api, study_id: int, work: Work, tmp_path: Path, kind: str
) -> None:
    run = api("POST", f"/studies/{study_id}/runs", {})[1]
    path = f"/runs/{run['id']}"
    assert api("GET", f"{path}/log")[0] == 422, "nothing has been run yet"
    work()
    response = api.client.get(f"/api{path}/log?kind={kind}")
    assert response["Content-Disposition"] == f'attachment; filename="residents-hall-run-1-log.{kind}.gz"'
    file = tmp_path / f"log.{kind}.gz"
    file.write_bytes(b"".join(response.streaming_content))
    reading = recognised(file).reading
    assert reading.place(Role.REPLICATION) is not None
    visits, report = read_log(file, reading)
    assert report.unread == 0
    arrived = api("GET", f"{path}/replications?address=type/all/arrived")[1]["type/all/arrived"]
    assert len(arrived) == 6
    assert len(visits.cases) == sum(arrived)
    assert stranger("GET", f"{path}/log")[0] == 404
