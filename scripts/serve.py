"""Runs the web server and the workers, starts again whatever died, and stops all of them together."""

import argparse
import ctypes
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType

ROOT = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("URBANQUEUE_VAR", ROOT / "var"))
SECONDS_TO_START = 60
SECONDS_TO_STOP = 8
SECONDS_BETWEEN_LOOKS = 0.5
_PR_SET_PDEATHSIG = 1


def end_with_parent() -> None:
    """Let the kernel send this process a signal when the process that started it is gone, however it ended."""
    ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


class Process:
    """A Python process that is started again when it ends; `name` is what a person calls it."""

    def __init__(self, name: str, arguments: list[str]) -> None:
        self.name = name
        self.arguments = arguments
        self.running = self._spawn()

    def _spawn(self) -> subprocess.Popen[bytes]:
        """Start it in a group of its own, so that Ctrl-C reaches only this script."""
        command = [sys.executable, *self.arguments]
        return subprocess.Popen(command, cwd=ROOT, start_new_session=True, preexec_fn=end_with_parent)  # noqa: PLW1509

    def look_after(self) -> None:
        """Start it again where it has ended."""
        code = self.running.poll()
        if code is not None:
            print(f"· {self.name} ended (code {code}); it is started again", flush=True)
            self.running = self._spawn()

    def start_again(self) -> None:
        """End it and start it anew."""
        self.running.kill()
        self.running.wait()
        self.running = self._spawn()


class Server:
    """The processes of the application."""

    def __init__(self, port: int, workers: int) -> None:
        self.port = port
        self.wanted = workers
        self.stopping = False
        self.address = database_address()
        serving = ["-m", "gunicorn", "urbanqueue.wsgi", "-c", "python:urbanqueue.server", "--bind", f"127.0.0.1:{port}"]
        self.web = Process("The web server", serving)
        self.workers: list[Process] = []

    def stop(self, _signal: int, _frame: FrameType | None) -> None:
        """Remember that all is to stop."""
        self.stopping = True

    def wait_until_ready(self) -> bool:
        """Wait for the first answer; say whether it came."""
        deadline = time.monotonic() + SECONDS_TO_START
        while time.monotonic() < deadline and not self.stopping and self.web.running.poll() is None:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=2)
                return True
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        return False

    def start_workers(self) -> None:
        """Start the workers; they come after the web server, so that the first page is not kept waiting."""
        self.workers = [Process("A worker", ["manage.py", "work"]) for _ in range(self.wanted)]

    def watch(self) -> None:
        """Start again whatever ends, until told to stop."""
        while not self.stopping:
            self._look_after_database()
            for process in (self.web, *self.workers):
                process.look_after()
            time.sleep(SECONDS_BETWEEN_LOOKS)

    def _look_after_database(self) -> None:
        """Start our own PostgreSQL again where it has ended; where it got another address, all must know."""
        if database_runs():
            return
        print("· The database ended; it is started again", flush=True)
        subprocess.run([ROOT / "scripts" / "postgres", "start"], check=False)
        if database_address() != self.address:
            self.address = database_address()
            for process in (self.web, *self.workers):
                process.start_again()

    def end(self) -> None:
        """Stop every process, by force where asking is not enough."""
        processes = [process.running for process in (self.web, *self.workers)]
        for process in processes:
            if process.poll() is None:
                process.terminate()
        deadline = time.monotonic() + SECONDS_TO_STOP
        for process in processes:
            try:
                process.wait(max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()


def database_address() -> str:
    """Return the address of our own PostgreSQL, empty where there is none."""
    file = VAR / "database-url"
    return file.read_text() if file.exists() else ""


def database_runs() -> bool:
    """Say whether our own PostgreSQL runs, or is none of our business: the environment names another."""
    if os.environ.get("DATABASE_URL"):
        return True
    try:
        os.kill(int((VAR / "postgres" / "postmaster.pid").read_text().split()[0]), 0)
    except PermissionError:
        return True
    except (OSError, ValueError, IndexError):
        return False
    return True


def main() -> int:
    """Serve until told to stop."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--workers", type=int, default=1 + (os.cpu_count() or 1))
    options = parser.parse_args()
    parent = os.getppid()
    end_with_parent()
    server = Server(options.port, options.workers)
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, server.stop)
    try:
        if server.wait_until_ready():
            server.start_workers()
            print(f"\n  Urban Queue is at http://127.0.0.1:{options.port}", flush=True)
            print("  Sign in as analyst@portalder.example with port-alder. Ctrl-C stops it.\n", flush=True)
        elif not server.stopping:
            print("The web server did not start; what it said stands above.", file=sys.stderr)
            return 1
        server.watch()
        return 0
    finally:
        server.end()
        if os.getppid() != parent:
            subprocess.run([ROOT / "scripts" / "postgres", "stop"], check=False)


if __name__ == "__main__":
    sys.exit(main())
