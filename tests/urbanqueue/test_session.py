"""Signing in and out."""

from contextlib import ExitStack
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from tests.urbanqueue.conftest import Api
from urbanqueue.accounts import throttle
from urbanqueue.accounts.models import FailedSignIns, Person


def test_signing_in_and_out(person: Person) -> None:
    api = Api()
    assert api("GET", "/session") == (200, {"email": None, "name": None})
    assert api("GET", "/studies")[0] == 401
    status, session = api("POST", "/session", {"email": " ANA@portalder.example ", "password": "tern-street"})
    assert (status, session["name"]) == (200, "Ana")
    assert api("GET", "/studies") == (200, [])
    assert api("DELETE", "/session")[0] == 204
    status, body = api("GET", "/studies")
    assert status == 401
    assert body["problems"][0]["mend"] == "Sign in."


def test_a_wrong_password_is_refused_in_words(person: Person) -> None:
    status, body = Api()("POST", "/session", {"email": "ana@portalder.example", "password": "nope"})
    assert status == 401
    assert "No account" in body["problems"][0]["what"]


def test_an_account_that_was_closed_cannot_sign_in(person: Person) -> None:
    Person.objects.update(is_active=False)
    assert Api()("POST", "/session", {"email": "ana@portalder.example", "password": "tern-street"})[0] == 401


@pytest.mark.parametrize("path", ["/api/session", "/api/studies"])
def test_changes_need_the_pages_token(person: Person, path: str) -> None:
    client = Client(enforce_csrf_checks=True)
    client.force_login(person)
    body = {"email": "ana@portalder.example", "password": "tern-street"}
    refused = client.post(path, body, "application/json")
    assert refused.status_code == 403
    assert refused.json()["problems"][0]["mend"] == "Reload the page."
    client.get("/api/session")
    token = client.cookies["csrftoken"].value
    sent = body if path.endswith("session") else {"name": "S"}
    allowed = client.post(path, sent, "application/json", headers={"X-CSRFToken": token})
    assert allowed.status_code in (200, 201)


def test_health_and_description_are_open_to_all(transactional_db: None) -> None:
    assert Api()("GET", "/health")[0] == 200
    status, description = Api()("GET", "/openapi.json")
    assert status == 200
    assert {"/api/studies", "/api/studies/{study_id}/comparison"} <= set(description["paths"])


def sign_in(password: str, address: str = "10.0.0.1", email: str = "ana@portalder.example") -> Any:
    body = {"email": email, "password": password}
    return Client().post("/api/session", body, "application/json", REMOTE_ADDR=address)


def test_too_many_wrong_passwords_have_to_wait(person: Person) -> None:
    tries = [sign_in("nope").status_code for _ in range(throttle.MOST_PER_ACCOUNT)]
    assert set(tries) == {401}
    refused = sign_in("tern-street", address="10.0.0.2")
    assert refused.status_code == 429, "whoever tries, from wherever: the account has to wait"
    assert int(refused.headers["Retry-After"]) in range(590, 602)
    assert refused.json()["problems"][0]["mend"] == "Try again in 10 minutes."
    FailedSignIns.objects.update(since=timezone.now() - throttle.WHILE)
    assert sign_in("tern-street").status_code == 200


def test_whoever_knows_the_password_begins_anew(person: Person) -> None:
    for _ in range(3):
        assert sign_in("nope").status_code == 401
        assert sign_in("tern-street").status_code == 200
    assert list(FailedSignIns.objects.values_list("key", "count")) == [("address:10.0.0.1", 3)]


def test_one_address_cannot_try_every_account(person: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(throttle, "MOST_PER_ADDRESS", 3)
    tries = [sign_in("nope", email=f"{n}@portalder.example").status_code for n in range(5)]
    assert tries == [401, 401, 401, 429, 429]
    assert sign_in("tern-street", address="10.0.0.2").status_code == 200


def test_only_so_many_passwords_are_tried_at_once(person: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(throttle, "SECONDS_FOR_A_TURN", 0.01)
    with ExitStack() as others:
        for _ in range(throttle.PASSWORDS_AT_ONCE):
            others.enter_context(throttle.a_turn())
        crowded = sign_in("tern-street")
    assert crowded.status_code == 503
    assert crowded.json()["problems"][0]["mend"] == "Try again in a moment."
    assert sign_in("tern-street").status_code == 200
