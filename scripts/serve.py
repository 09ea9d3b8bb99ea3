"""Runs the web server and the workers, starts a worker that died again, and stops all of them together."""

import argparse
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
SECONDS_TO_START = 30
SECONDS_TO_STOP = 8


class Server:
    """The processes of the application."""

    def __init__(self, port: int, workers: int) -> None:
        self.port = port
        self.stopping = False
        web = ["-m", "gunicorn", "urbanqueue.wsgi", "--bind", f"127.0.0.1:{port}", "--threads", "8"]
        self.web = self.spawn([*web, "--log-level", "warning", "--graceful-timeout", "5"])
        self.workers: list[subprocess.Popen[bytes]] = []
        self.wanted = workers

    def spawn(self, arguments: list[str]) -> subprocess.Popen[bytes]:
        """Start a Python process in a group of its own, so that Ctrl-C reaches only this one."""
        return subprocess.Popen([sys.executable, *arguments], cwd=ROOT, start_new_session=True)

    def spawn_worker(self) -> subprocess.Popen[bytes]:
        """Start a worker."""
        return self.spawn(["manage.py", "work"])

    def start_workers(self) -> None:
        """Start the workers; they come after the web server, so that the first page is not kept waiting."""
        self.workers = [self.spawn_worker() for _ in range(self.wanted)]

    def stop(self, _signal: int, _frame: FrameType | None) -> None:
        """Remember that all is to stop."""
        self.stopping = True

    def wait_until_ready(self) -> bool:
        """Wait for the first answer; say whether it came."""
        deadline = time.monotonic() + SECONDS_TO_START
        while time.monotonic() < deadline and not self.stopping and self.web.poll() is None:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=2)
                return True
            except (urllib.error.URLError, OSError):
                time.sleep(0.1)
        return False

    def watch(self) -> int:
        """Start workers again as they die, until told to stop or the web server ends."""
        while not self.stopping:
            if self.web.poll() is not None:
                print("The web server ended by itself; what it said stands above.", file=sys.stderr)
                return 1
            for place, worker in enumerate(self.workers):
                if worker.poll() is not None:
                    print(f"· A worker ended (code {worker.returncode}); starting another", flush=True)
                    self.workers[place] = self.spawn_worker()
            time.sleep(0.5)
        return 0

    def end(self) -> None:
        """Stop every process, by force where asking is not enough."""
        processes = [self.web, *self.workers]
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


def main() -> int:
    """Serve until told to stop."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--workers", type=int, default=os.cpu_count() or 1)
    options = parser.parse_args()
    server = Server(options.port, options.workers)
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, server.stop)
    try:
        if server.wait_until_ready():
            server.start_workers()
            print(f"\n  Urban Queue is at http://127.0.0.1:{options.port}", flush=True)
            print("  Sign in as analyst@portalder.example with port-alder. Ctrl-C stops it.\n", flush=True)
        elif not server.stopping and server.web.poll() is None:
            print(f"The web server did not answer within {SECONDS_TO_START} seconds.", file=sys.stderr)
            return 1
        return server.watch()
    finally:
        server.end()


if __name__ == "__main__":
    sys.exit(main())
