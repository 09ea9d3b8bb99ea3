"""A real browser on the real application: web server, worker, PostgreSQL."""

import json
import os
import signal
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client
from playwright.sync_api import Browser, Page, expect, sync_playwright
from pytest_django.live_server_helper import LiveServer

from urbanqueue.accounts.models import Person
from urbanqueue.runs import actions, chunks
from urbanqueue.runs.models import Chunk, Part
from urbanqueue.studies.actions import create_study
from urbanqueue.studies.management.commands.load_demo import EMAIL, PASSWORD
from urbanqueue.studies.models import Study

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
LOOKED_AT = """async () => {
    for (let tries = 1; ; tries++) {
        let moves = false;
        const note = () => { moves = true; };
        await Promise.all(document.getAnimations()
            .filter((each) => each.effect?.getComputedTiming().iterations !== Infinity)
            .map((each) => each.finished.catch(() => null)));
        document.addEventListener("transitionrun", note, true);
        const { violations } = await axe.run();
        document.removeEventListener("transitionrun", note, true);
        if (!moves || tries === 10) return violations;
    }
}"""
"""What axe finds once nothing fades, and nothing has begun to while it was looking, as a message does that goes."""
AXE = settings.ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"


MILLISECONDS = 300_000
"""How long anything may take to be seen: enough for a machine ten times slower than a slow one."""


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    expect.set_options(timeout=MILLISECONDS)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def analyst(transactional_db: None) -> Person:
    return Person.objects.create_person(EMAIL, PASSWORD, name="Demo analyst")


@pytest.fixture
def demo_study(analyst: Person) -> int:
    from flowcore import read_study

    document = json.loads((settings.ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json").read_text())
    return create_study(analyst, read_study(document)).pk


@pytest.fixture
def worker(transactional_db: None) -> Iterator[None]:
    url = "postgresql://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**connection.settings_dict)
    process = subprocess.Popen(
        [sys.executable, "manage.py", "work"], cwd=settings.ROOT, env={**os.environ, "DATABASE_URL": url}
    )
    yield
    process.send_signal(signal.SIGTERM)
    process.wait(300)


@pytest.fixture
def page(chromium: Browser, live_server: LiveServer, analyst: Person) -> Iterator[Page]:
    """A page of 1280×800 on which any error in the console fails the test."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, base_url=live_server.url)
    context.set_default_timeout(MILLISECONDS)
    page = context.new_page()
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    yield page
    context.close()
    _let_requests_end()
    assert troubles == []


def _let_requests_end() -> None:
    """Wait for what the browser had still asked for: the tables are emptied next, and a save under way locks them."""
    for thread in threading.enumerate():
        if "process_request_thread" in thread.name:
            thread.join(MILLISECONDS / 1000)
            assert not thread.is_alive(), "a request to the application does not end"


def sign_in(page: Page) -> None:
    """Let the browser be that of the demo analyst, who has signed in before."""
    client = Client()
    client.force_login(Person.objects.get(email=EMAIL))
    session = client.cookies[settings.SESSION_COOKIE_NAME].value
    page.context.add_cookies(
        [{"name": settings.SESSION_COOKIE_NAME, "value": session, "domain": "localhost", "path": "/"}]
    )


def open_studies(page: Page) -> None:
    sign_in(page)
    page.goto("/")
    page.get_by_role("heading", name="Studies").wait_for()


def saved(page: Page) -> None:
    page.get_by_text("Saved", exact=True).wait_for()


Axe = Callable[[str], None]


@pytest.fixture
def axe(page: Page) -> Axe:
    """A check that axe finds nothing serious on the page as it stands, once nothing on it fades in or out any more."""

    def check(what: str) -> None:
        page.evaluate(Path(AXE).read_text())  # a tag in the page would be against its policy
        found: list[dict[str, Any]] = page.evaluate(LOOKED_AT)
        serious = [each for each in found if each["impact"] in ("serious", "critical")]
        told = [(each["id"], [node["html"][:160] for node in each["nodes"][:4]]) for each in serious]
        assert told == [], what

    return check


Paste = Callable[[str], None]


@pytest.fixture
def paste(page: Page) -> Paste:
    """Pastes a text where the keyboard is, as the browser does it."""

    def put(text: str) -> None:
        page.evaluate(
            """(text) => {
                const data = new DataTransfer();
                data.setData('text/plain', text);
                const event = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
                document.activeElement.dispatchEvent(event);
            }""",
            text,
        )

    return put


@pytest.fixture
def part(demo_study: int) -> Part:
    """A run of the hall of six replications of a week, done, of the study as it is."""
    study = Study.objects.get(pk=demo_study)
    settings = study.versions.get().document["run"] | {"length": "1 wk", "replications": 6}
    run = actions.start_run(study, study.owner, None, actions.RunSettings.model_validate(settings))
    while chunk := Chunk.objects.filter(is_done=False).first():
        chunks.do_chunk(chunk.pk)
    return run.parts.select_related("sample", "run__version").get()


def open_findings(page: Page, part: Part) -> None:
    sign_in(page)
    page.goto(f"/studies/{part.run.version.study_id}/findings")
    page.get_by_role("region", name="Where the minutes go").get_by_role("img").wait_for()
