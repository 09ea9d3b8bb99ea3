"""Signing in and out."""

import pytest
from django.test import Client

from tests.urbanqueue.conftest import Api
from urbanqueue.accounts.models import Person


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
    allowed = client.post(path, {**body, "name": "S"}, "application/json", headers={"X-CSRFToken": token})
    assert allowed.status_code in (200, 201)


def test_health_and_description_are_open_to_all(transactional_db: None) -> None:
    assert Api()("GET", "/health")[0] == 200
    status, description = Api()("GET", "/openapi.json")
    assert status == 200
    assert {"/api/studies", "/api/runs/{run_id}/against/{other_id}"} <= set(description["paths"])
