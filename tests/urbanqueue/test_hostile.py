"""Requests that nobody should send: each is refused as a list of problems, and none harms anybody else."""

import json
import time
from typing import Any

import pytest
from django.db import OperationalError
from django.test import Client
from psycopg.errors import DiskFull

from tests.urbanqueue.conftest import Api
from urbanqueue.api import session, studies
from urbanqueue.studies.models import Version

DEEP = "[" * 100_000
BODIES = {
    "not JSON": "{",
    "nothing": "",
    "not UTF-8": b"\xff\xfe",
    "nested deep": DEEP,
    "nested less deep": "[" * 80 + "]" * 80,
    "endless number": '{"name": ' + "9" * 5000 + "}",
    "not finite": '{"name": "A", "x": 1e999}',
    "not a number": '{"name": NaN}',
    "control character": '{"name": "a\\u0000b"}',
    "half a character": '{"name": "\\ud800"}',
    "control character in a key": '{"a\\u0007": 1}',
    "another kind": "[]",
    "a text": '"study"',
    "long text": json.dumps({"name": "x" * 1_000_000}),
    "long duration": json.dumps({"name": "A", "run": {"length": "1" + " " * 1_000_000 + "wk"}}),
    "many errors": json.dumps({"name": "A", "steps": [1] * 3000}),
    "many steps": json.dumps({"name": "A", "steps": [1] * 500_000}),
    "absurd date": '{"name": "A", "start": "9999-12-31T23:59"}',
    "year nought": '{"name": "A", "start": "0000-01-01T00:00"}',
}


def problems(response: Any) -> list[dict[str, Any]]:
    """Return the problems of a refusal; each says what and how to mend it."""
    assert response.headers["Content-Type"].startswith("application/json"), response.content[:200]
    found = response.json()["problems"]
    assert 0 < len(found) <= 100
    assert all(each["what"] and each["mend"] and each["level"] == "error" for each in found)
    return list(found)


@pytest.mark.parametrize("path", ["/api/studies", "/api/studies/1/document", "/api/pulse/theory", "/api/session"])
def test_what_is_no_request_is_refused_soon(api: Api, path: str) -> None:
    for name, body in BODIES.items():
        began = time.monotonic()
        response = api.client.generic("PUT" if path.endswith("document") else "POST", path, body, "application/json")
        assert 400 <= response.status_code < 500, name
        problems(response)
        assert time.monotonic() - began < 20, f"{name}: it must not grow with the square of its length"


def test_errors_are_worded_with_their_places(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    demo["currency"], demo["steps"][0]["id"], demo["start"] = "euro", "Not An Id", "yesterday"
    for method, path, body in (
        ("POST", "/api/studies", {"document": demo}),
        ("PUT", f"/api/studies/{study_id}/document", demo),
        ("POST", "/api/pulse/theory", demo),
    ):
        response = api.client.generic(method, path, json.dumps(body), "application/json", headers={"If-Match": '"1"'})
        assert response.status_code == 422
        assert {each["where"] for each in problems(response)} == {"currency", "steps/Not An Id/id", "start"}


def test_signed_in_or_not_nothing_here_is_a_page_of_errors(api: Api) -> None:
    signed, unsigned = api.client, Client()
    for client in (signed, unsigned):
        assert problems(client.get("/api/nowhere"))
        assert problems(client.get("/api/studies/none"))
        assert problems(client.get("/api/studies/99999999999999999999999"))
        assert problems(client.put("/api/session", "{}", "application/json"))[0]["what"] == "This cannot be done here."
        assert problems(client.get("/api/studies/1/runs?before=x"))
        assert problems(client.get("/api/studies", headers={"Host": "elsewhere.example"}))
        assert client.post("/api/studies", "name=x", "application/x-www-form-urlencoded").status_code == 415
        assert client.post("/api/studies", "<a/>", "text/xml").status_code == 415
        assert client.post("/api/studies", "x" * 17_000_000, "application/json").status_code in (401, 413)


def test_a_query_is_worded_as_a_document_is(api: Api, study_id: int) -> None:
    [found] = problems(api.client.get(f"/api/studies/{study_id}/runs?before=x"))
    assert (found["where"], found["mend"]) == ("before", "Give a whole number.")


@pytest.mark.parametrize("value", [5, None, [], "text", {"name": 5}])
def test_a_change_that_puts_something_else_in_place_of_the_study(
    api: Api, study_id: int, demo: dict[str, Any], value: Any
) -> None:
    """It was saved, and then the study could never be opened again."""
    changes = [{"op": "replace", "path": "", "value": value}]
    demo["scenarios"] = [{"id": "odd", "name": "Odd", "changes": changes}]
    status, saved = api("PUT", f"/studies/{study_id}/document", demo, If_Match='"1"')
    assert status == 200
    assert [each["where"] for each in saved["problems"]] in (["scenarios/odd"], ["scenarios/odd/changes/0"])
    assert api("GET", f"/studies/{study_id}")[0] == 200


def test_changes_that_copy_the_study_into_itself_end(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    changes = [{"op": "copy", "from": "/steps", "path": "/steps/0/next"}] * 200
    demo["scenarios"] = [{"id": "odd", "name": "Odd", "changes": changes}]
    status, saved = api("PUT", f"/studies/{study_id}/document", demo, If_Match='"1"')
    assert status == 200
    assert "copy more than 100000 parts" in saved["problems"][0]["what"]


def failing_with(error: Exception) -> Any:
    def fail(*_: Any, **__: Any) -> Any:
        raise error

    return fail


@pytest.fixture
def told() -> Client:
    """A client that is answered where the program fails, as a browser is."""
    return Client(raise_request_exception=False)


def test_a_database_that_is_away_is_told_and_tried_again(told: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(session, "get_token", failing_with(OperationalError("connection refused")))
    response = told.get("/api/session")
    assert response.status_code == 503
    assert response.headers["Retry-After"]
    assert problems(response)[0]["mend"] == "It is tried again in a moment."


def test_a_full_disk_is_told_and_nothing_is_lost(
    api: Api, told: Client, study_id: int, demo: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    told.cookies = api.client.cookies
    full = OperationalError("could not extend file: No space left on device")
    full.__cause__ = DiskFull()
    monkeypatch.setattr(Version.objects, "create", failing_with(full))
    demo["name"] = "Another"
    path = f"/api/studies/{study_id}/document"
    response = told.put(path, json.dumps(demo), "application/json", headers={"If-Match": '"1"'})
    assert response.status_code == 503
    assert "no room left" in problems(response)[0]["what"]
    monkeypatch.undo()
    assert api("GET", f"/studies/{study_id}")[1]["version"] == 1
    assert api("PUT", f"/studies/{study_id}/document", demo, If_Match='"1"')[1]["version"] == 2


def test_a_mistake_of_ours_is_told_without_its_details(api: Api, told: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    told.cookies = api.client.cookies
    monkeypatch.setattr(studies, "StudyPolicy", failing_with(KeyError("secret")))
    response = told.get("/api/studies")
    assert response.status_code == 500
    assert "secret" not in response.content.decode()
    assert problems(response)[0]["what"] == "The program failed; it has been noted."


def test_pages_may_run_our_scripts_and_nothing_else(api: Api) -> None:
    for path in ("/", "/api/health", "/studies/1/flow"):
        policy = api.client.get(path).headers["Content-Security-Policy"]
        assert "default-src 'self'" in policy
        assert "script-src" not in policy
        assert "frame-ancestors 'none'" in policy
