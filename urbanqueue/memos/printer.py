"""A page as PDF, printed by a browser without a window, where the server has one."""

import os
import shutil
import subprocess
import tempfile
import threading
from functools import cache
from pathlib import Path

BROWSERS = ("chromium", "chromium-browser", "google-chrome")
FLAGS = (
    "--headless",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-pdf-header-footer",
    "--host-resolver-rules=MAP * ~NOTFOUND",
)
SECONDS_FOR_A_TURN = 20
SECONDS_TO_PRINT = 120

_turn = threading.Lock()


class CannotPrint(Exception):
    """Raised where the server has no browser, or that does not print."""


@cache
def browser() -> str | None:
    """Return where the browser is that prints; None where there is none."""
    return next((found for name in BROWSERS if (found := shutil.which(name))), None)


def printed(page: str) -> bytes:
    """Return a page of HTML as PDF; raises CannotPrint."""
    if browser() is None or not _turn.acquire(timeout=SECONDS_FOR_A_TURN):
        raise CannotPrint
    try:
        return _printed(page)
    finally:
        _turn.release()


def _printed(page: str) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "memo.html", Path(folder) / "memo.pdf"
        source.write_text(page)
        # A browser that runs as root refuses to be fenced in; the page itself runs no script and fetches nothing.
        fence = ["--no-sandbox"] if os.geteuid() == 0 else []
        command = [str(browser()), *FLAGS, *fence, f"--user-data-dir={folder}/profile", f"--print-to-pdf={target}"]
        try:
            subprocess.run(
                [*command, source.as_uri()],
                check=True,
                capture_output=True,
                timeout=SECONDS_TO_PRINT,
                env=os.environ | {"HOME": folder},
            )
            return target.read_bytes()
        except (subprocess.SubprocessError, OSError):
            raise CannotPrint from None
