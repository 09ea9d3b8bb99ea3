"""What a browser loads: little, compressed, kept for ever; and over TLS nothing else."""

import gzip
import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from django.conf import settings
from django.test import Client

DIST = settings.ROOT / "web" / "dist"
MOST_BYTES = 250_000


def imported_by(script: Path, seen: set[Path]) -> set[Path]:
    """Return a script and all that it cannot begin without."""
    if script in seen:
        return seen
    seen.add(script)
    for name in re.findall(r'(?:from|import)\s*"\./([\w.-]+\.js)"', script.read_text()):
        imported_by(script.parent / name, seen)
    return seen


def needed_by(screen: str) -> int:
    """Return how many bytes are sent until a screen can be shown, the font and the style included."""
    page = (DIST / "index.html").read_text()
    scripts: set[Path] = set()
    for name in re.findall(r'src="/assets/([\w.-]+\.js)"', page):
        imported_by(DIST / "assets" / name, scripts)
    [of_screen] = (DIST / "assets").glob(f"{screen}-*.js")
    imported_by(of_screen, scripts)
    style = re.findall(r'href="/assets/([\w.-]+\.css)"', page)
    [font] = (DIST / "assets").glob("overpass-latin-wght-normal-*.woff2")
    sent = [gzip.compress(path.read_bytes()) for path in (*scripts, *(DIST / "assets" / name for name in style))]
    return len(page) + sum(map(len, sent)) + font.stat().st_size


def test_the_first_screen_needs_little() -> None:
    assert 100_000 < needed_by("StudiesScreen") < MOST_BYTES


def test_what_has_its_hash_in_its_name_is_compressed_and_kept_for_ever() -> None:
    scripts = list((DIST / "assets").glob("*.js"))
    assert len(scripts) > 10, "each screen is a script of its own"
    for script in scripts:
        answer = Client().get(f"/assets/{script.name}", headers={"Accept-Encoding": "gzip"})
        assert "immutable" in answer.headers["Cache-Control"], script.name
        whole = script.stat().st_size
        assert whole < 1000 or answer.headers.get("Content-Encoding") == "gzip", script.name
    assert Client().get("/").headers["Cache-Control"] == "no-cache"


@pytest.mark.parametrize("tls", ["1", ""])
def test_behind_tls_cookies_and_browsers_keep_to_it(tls: str) -> None:
    names = ["SESSION_COOKIE_SECURE", "CSRF_COOKIE_SECURE", "SECURE_SSL_REDIRECT", "SECURE_HSTS_SECONDS"]
    code = f"import json, urbanqueue.settings as s; print(json.dumps([getattr(s, name) for name in {names}]))"
    found = subprocess.run(
        [sys.executable, "-c", code],
        cwd=settings.ROOT,
        env=os.environ | {"URBANQUEUE_TLS": tls},
        capture_output=True,
        text=True,
        check=True,
    )
    year = 365 * 24 * 3600
    assert json.loads(found.stdout) == ([True, True, True, year] if tls else [False, False, False, 0])
