"""`python -m bench.load [ADDRESS]`: how soon 50 and 200 people are answered who use the application at once.

They come in within six seconds. Each makes a study of their own and then, once a second on average, does one thing:
looks at the study or at its runs, versions or checks, saves an edit, or has the pulse taken, both parts of it as after
every edit. Prints milliseconds; the last column is the 95th percentile as a share of its bar. Run it on the machine
that serves.
"""

import json
import random
import sys
import threading
import time
from collections import defaultdict
from pathlib import Path
from typing import Any

from bench.people import ADDRESS, Visitor, forget_people, people, told

DEMO = Path(__file__).resolve().parent.parent / "demo" / "residents-hall.json"
SECONDS = 30.0
COMING_IN = 6.0
PAUSE = 1.0
CROWDS = ((50, 0.3), (200, 1.5))
Times = dict[str, list[float]]


def documents() -> list[bytes]:
    """Return the demo study with other numbers of clerks, written out once: the writing is not what is measured."""
    document = json.loads(DEMO.read_text())
    found = []
    for size in range(2, 7):
        document["teams"][1]["size"] = size
        found.append(json.dumps(document).encode())
    return found


DOCUMENTS = documents()


class Round:
    """What one crowd did and how long each thing took."""

    def __init__(self) -> None:
        self.times: Times = defaultdict(list)
        self.wrong: list[str] = []
        self.until = 0.0

    def use(self, visitor: Visitor, number: int) -> None:
        """Be one person until the time is over."""
        luck = random.Random(number)
        document = DOCUMENTS[0]
        time.sleep(luck.uniform(0, COMING_IN))
        study = json.loads(self._timed(visitor, "making", "POST", "/api/studies", b'{"document": %s}' % document))
        version = 1
        while time.monotonic() < self.until:
            time.sleep(luck.expovariate(1 / PAUSE))
            what = luck.random()
            if what < 0.6:
                path = luck.choice(["", "/runs", "/versions", "/checks"])
                self._timed(visitor, "reading", "GET", f"/api/studies/{study['id']}{path}")
            elif what < 0.8:
                document = luck.choice(DOCUMENTS)
                path = f"/api/studies/{study['id']}/document"
                saved = self._timed(visitor, "saving", "PUT", path, document, {"If-Match": f'"{version}"'})
                version = json.loads(saved)["version"] if saved else version
            else:
                self._timed(visitor, "pulse, theory", "POST", "/api/pulse/theory", document)
                self._timed(visitor, "pulse, simulation", "POST", "/api/pulse/simulation", document)

    def _timed(
        self, visitor: Visitor, what: str, method: str, path: str, body: Any = None, headers: Any = None
    ) -> bytes:
        status, answer, seconds = visitor.ask(method, path, body, headers)
        if status == 503 and what == "pulse, simulation":
            self.times["pulse, put off"].append(seconds)
            return b""
        self.times[what].append(seconds)
        if status >= 400:
            self.wrong.append(f"{what}: {status} {answer[:200]!r}")
            return b""
        return answer


def crowd(address: str, count: int, bar: float) -> bool:
    """Let so many people in and print how they fared; say whether reading and saving kept to the bar."""
    done = Round()
    visitors = people(count, address)
    done.until = time.monotonic() + SECONDS
    threads = [threading.Thread(target=done.use, args=(visitor, n)) for n, visitor in enumerate(visitors)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    answers = sum(len(times) for times in done.times.values())
    print(f"{count} people: {answers / SECONDS:.0f} requests a second, {len(done.wrong)} errors")
    held = [
        told(f"  {what}", times, bar) for what, times in sorted(done.times.items()) if what in ("reading", "saving")
    ]
    for what, times in sorted(done.times.items()):
        if what not in ("reading", "saving"):
            told(f"  {what}", times, bar)
    for problem in done.wrong[:5]:
        print(f"  {problem}")
    return all(held) and not done.wrong


def main() -> int:
    """Measure both crowds."""
    address = sys.argv[1] if len(sys.argv) > 1 else ADDRESS
    print(f"{'milliseconds':44} {'answers':>7} {'median':>8} {'p95':>8} {'longest':>8} {'of bar':>8}")
    try:
        held = [crowd(address, count, bar) for count, bar in CROWDS]
    finally:
        forget_people()
    return 0 if all(held) else 1


if __name__ == "__main__":
    sys.exit(main())
