"""People who use the application that `./start` serves: each with a session of their own, over plain HTTP."""

import http.client
import json
import os
import statistics
import time
from contextlib import suppress
from typing import Any
from urllib.parse import urlsplit

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "urbanqueue.settings")

import django

django.setup()

from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY  # noqa: E402
from django.contrib.sessions.backends.db import SessionStore  # noqa: E402
from django.db import connection  # noqa: E402

from urbanqueue.accounts.models import Person  # noqa: E402

ADDRESS = "http://127.0.0.1:8000"
TOKEN = "a" * 32


class Visitor:
    """One person's browser: keeps its connection, and times every answer."""

    def __init__(self, address: str, session: str | None) -> None:
        self.address = urlsplit(address)
        cookies = [f"csrftoken={TOKEN}", *([f"sessionid={session}"] if session else [])]
        self.headers = {"Cookie": "; ".join(cookies), "X-CSRFToken": TOKEN, "Content-Type": "application/json"}
        self.line: http.client.HTTPConnection | None = None

    def ask(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> tuple[int, bytes, float]:
        """Return the status, the body and the seconds of an answer; `body` is JSON or bytes as they are."""
        sent = body if isinstance(body, bytes | None) else json.dumps(body).encode()
        began = time.monotonic()
        for is_last in (False, True):
            try:
                return *self._ask(method, path, sent, headers or {}), time.monotonic() - began
            except (http.client.HTTPException, OSError):
                self.line = None
                if is_last:
                    raise
        raise AssertionError

    def _ask(self, method: str, path: str, body: bytes | None, headers: dict[str, str]) -> tuple[int, bytes]:
        if self.line is None:
            self.line = http.client.HTTPConnection(self.address.hostname or "", self.address.port, timeout=60)
        self.line.request(method, path, body, self.headers | headers)
        answer = self.line.getresponse()
        return answer.status, answer.read()


def people(count: int, address: str) -> list[Visitor]:
    """Return so many people, made for this measurement and signed in without their passwords being tried."""
    return [Visitor(address, _session_of(number)) for number in range(count)]


def _session_of(number: int) -> str:
    person, _ = Person.objects.get_or_create(
        email=f"visitor-{number}@bench.example", defaults={"name": f"No. {number}"}
    )
    store = SessionStore()
    store[SESSION_KEY] = str(person.pk)
    store[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    store[HASH_SESSION_KEY] = person.get_session_auth_hash()
    store.create()
    return str(store.session_key)


def forget_people() -> None:
    """Take away everybody made for a measurement, with all that is theirs."""
    with suppress(django.db.DatabaseError):
        Person.objects.filter(email__endswith="@bench.example").delete()
    connection.close()


def told(what: str, seconds: list[float], bar: float) -> bool:
    """Print how many answers there were, their median, 95th percentile and longest; say whether the bar holds."""
    ordered = sorted(seconds)
    p95 = ordered[int(0.95 * (len(ordered) - 1))]
    figures = (1000 * value for value in (statistics.median(ordered), p95, ordered[-1]))
    print(
        f"{what:44} {len(ordered):7}" + "".join(f"{value:9.0f}" for value in figures) + f"{p95 / bar:9.2f}", flush=True
    )
    return p95 <= bar
