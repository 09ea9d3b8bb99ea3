"""What `./start` runs: it comes back when parts of it are killed, ends with its parent, and is not served twice."""

import fcntl
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from django.conf import settings
from django.db import connection

LONG = 90


def wait_until(true: Callable[[], bool]) -> None:
    deadline = time.monotonic() + LONG
    while not true():
        assert time.monotonic() < deadline, "it did not happen in time"
        time.sleep(0.05)


def processes(of: int) -> dict[int, str]:
    """Return the processes that descend from one, each with its command line."""
    found: dict[int, str] = {}
    parents = {of}
    known = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            parent = int((folder / "stat").read_text().rpartition(")")[2].split()[1])
            known[int(folder.name)] = parent, (folder / "cmdline").read_text().replace("\0", " ")
        except (OSError, IndexError):
            continue
    while parents:
        children = {pid: line for pid, (parent, line) in known.items() if parent in parents}
        found |= children
        parents = set(children)
    return found


class Served:
    """The application, served by `scripts/serve.py` under a shell that can be killed."""

    def __init__(self, folder: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        database = "postgresql://{USER}:{PASSWORD}@{HOST}:{PORT}/{NAME}".format(**connection.settings_dict)
        command = f"{sys.executable} scripts/serve.py --port {self.port} --workers 1 & wait"
        changed = {"DATABASE_URL": database, "SECRET_KEY": "only for this test", "URBANQUEUE_VAR": str(folder)}
        self.shell = subprocess.Popen(["bash", "-c", command], cwd=settings.ROOT, env=os.environ | changed)

    def answers(self) -> bool:
        """Say whether the sign of life comes."""
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=5) as answer:
                return bool(json.load(answer)["engine"])
        except (urllib.error.URLError, OSError):
            return False

    def named(self, part: str) -> list[int]:
        """Return the processes whose command line has a part, the oldest first."""
        return sorted(pid for pid, line in processes(self.shell.pid).items() if part in line)


@pytest.fixture
def served(transactional_db: None, tmp_path: Path) -> Iterator[Served]:
    served = Served(tmp_path)
    yield served
    served.shell.kill()
    served.shell.wait()


def test_what_is_killed_comes_back_and_all_end_with_their_parent(served: Served) -> None:
    wait_until(lambda: served.answers() and len(served.named("manage.py work")) == 1)
    web, worker = served.named("gunicorn")[0], served.named("manage.py work")[0]
    os.kill(web, signal.SIGKILL)
    os.kill(worker, signal.SIGKILL)
    wait_until(lambda: web not in served.named("gunicorn") and served.answers())
    wait_until(lambda: bool(served.named("manage.py work")) and served.named("manage.py work") != [worker])
    wait_until(lambda: len(processes(served.shell.pid)) >= 4)
    everything = list(processes(served.shell.pid))
    served.shell.kill()
    served.shell.wait()
    wait_until(lambda: not any(is_running(pid) for pid in everything))


def is_running(pid: int) -> bool:
    """Say whether a process is there and not only waiting to be noticed."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


def test_a_second_start_says_who_is_there_and_leaves_it_alone(tmp_path: Path) -> None:
    (tmp_path / "serving").write_text(f"process {os.getpid()}, http://127.0.0.1:8000\n")
    with (tmp_path / "lock").open("a") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        second = subprocess.run(
            ["./start", "--port", "8999"],
            cwd=settings.ROOT,
            env=os.environ | {"URBANQUEUE_VAR": str(tmp_path)},
            capture_output=True,
            text=True,
            check=False,
        )
    assert second.returncode == 1
    assert f"served from this folder already: process {os.getpid()}, http://127.0.0.1:8000" in second.stderr
    assert sorted(path.name for path in tmp_path.iterdir()) == ["lock", "serving"]


def test_nothing_is_served_without_a_secret(tmp_path: Path) -> None:
    without = {name: value for name, value in os.environ.items() if name != "SECRET_KEY"}
    served = subprocess.run(
        [sys.executable, "-c", "import urbanqueue.wsgi"],
        cwd=settings.ROOT,
        env=without | {"URBANQUEUE_VAR": str(tmp_path)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert served.returncode != 0
    assert "SECRET_KEY" in served.stderr
