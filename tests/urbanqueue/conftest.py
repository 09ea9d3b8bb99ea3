"""A signed-in client, a worker in the test's own thread, and the demo study."""

import asyncio
import json
import os
import subprocess
import sys
import time
from collections.abc import Callable
from typing import Any

import pytest
from django.conf import settings
from django.db import connection, connections
from django.test import Client
from procrastinate.contrib.django import app

from urbanqueue.accounts.models import Person
from urbanqueue.api.aside import pulses, replays

LONG_ENOUGH = 600
"""Seconds in which all that is waited for happens, however slow the machine is."""


@pytest.fixture
def demo() -> dict[str, Any]:
    document: dict[str, Any] = json.loads(
        (settings.ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json").read_text()
    )
    document["run"] |= {"length": "2 d", "warm_up": "0 min", "replications": 6}
    return document


@pytest.fixture
def person(transactional_db: None) -> Person:
    with connection.cursor() as cursor:
        cursor.execute("truncate procrastinate_jobs, procrastinate_workers restart identity cascade")
    return Person.objects.create_person("ana@portalder.example", "tern-street", name="Ana")


@pytest.fixture(autouse=True)
def unhurried(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is computed beside may take its time, however slow the machine is."""
    for beside in (pulses, replays):
        monkeypatch.setattr(beside, "seconds_to_answer", 300)


class Api:
    """Calls the API as one person, with JSON in and out."""

    def __init__(self, person: Person | None = None) -> None:
        self.client = Client()
        if person:
            self.client.force_login(person)

    def __call__(self, method: str, path: str, body: Any = None, **headers: str) -> tuple[int, Any]:
        response = self.client.generic(
            method,
            f"/api{path}",
            "" if body is None else json.dumps(body),
            "application/json",
            headers={name.replace("_", "-"): value for name, value in headers.items()},
        )
        return response.status_code, response.json() if response.content else None


@pytest.fixture
def api(person: Person) -> Api:
    return Api(person)


@pytest.fixture
def stranger(transactional_db: None) -> Api:
    return Api(Person.objects.create_person("bo@portalder.example", "tern-street", name="Bo"))


@pytest.fixture
def study_id(api: Api, demo: dict[str, Any]) -> int:
    status, study = api("POST", "/studies", {"document": demo})
    assert status == 201
    return int(study["id"])


@pytest.fixture
def work(transactional_db: None) -> Callable[[], None]:
    """A function that works off the queue."""

    async def work() -> None:
        worker = app.with_connector(app.connector.get_worker_connector())
        async with worker.open_async():
            await worker.run_worker_async(wait=False, install_signal_handlers=False, listen_notify=False)

    def work_off() -> None:
        asyncio.run(work())

    connections.settings["default"]["CONN_MAX_AGE"] = 0
    return work_off


def spawn_worker() -> subprocess.Popen[bytes]:
    database = connection.settings_dict
    url = "postgresql://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**database)
    return subprocess.Popen(
        [sys.executable, "manage.py", "work"], cwd=settings.ROOT, env={**os.environ, "DATABASE_URL": url}
    )


def wait_for(true: Callable[[], object]) -> None:
    deadline = time.monotonic() + LONG_ENOUGH
    while not true():
        assert time.monotonic() < deadline, "it did not happen in time"
        time.sleep(0.05)


class Workers:
    """Workers as processes of their own."""

    def __init__(self) -> None:
        self._running: list[subprocess.Popen[bytes]] = []

    def start(self) -> None:
        self._running.append(spawn_worker())

    def kill_first(self) -> None:
        first = self._running.pop(0)
        first.kill()
        first.wait()

    def end(self) -> None:
        for each in self._running:
            each.terminate()
        for each in self._running:
            each.wait()
