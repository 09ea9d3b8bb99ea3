"""`python -m bench.attack [COUNT] [ADDRESS]`: malformed documents and requests, signed and unsigned, as many as wanted.

Mutants of the demo documents go through every operation that takes one, between them what no request should be. While
one person sends them, another looks at the sign of life and reads a study. Prints what was answered how often and how
soon, and every answer that should not have been: a 500, a refusal not in our form, an answer after more than two
seconds, a line that was cut, a study that cannot be opened afterwards. Run it on the machine that serves.
"""

import http.client
import json
import random
import socket
import sys
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any
from urllib.parse import quote, urlsplit

from bench.people import ADDRESS, Visitor, forget_people, people, told
from tests.flowcore.damage import damaged
from tests.urbanqueue.test_hostile import BODIES

COUNT = 20_000
AT_ONCE = 1
SLOWEST = 2.0
BAR = 0.3
DEMO = Path(__file__).resolve().parent.parent / "demo" / "residents-hall.json"
LARGE = [
    json.dumps({"name": "A", "steps": [{"id": f"s{n}", "kind": "serve"} for n in range(2000)]}),
    json.dumps(
        {"name": "A", "streams": [{"kind": "dates", "id": "d", "name": "D", "to": "x", "arrivals": [1] * 100_000}]}
    ),
    '{"name": "A", "x": ' + "[1," * 50 + "1" + "]" * 50 + "}",
    "[" + "1," * 4_000_000 + "1]",
]
RAW = [
    b"GET / HTTP/9.9\r\n\r\n",
    b"\x00\xff\x00\xff\r\n\r\n",
    b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\nX: " + b"a" * 100_000 + b"\r\n\r\n",
    b"GET /" + b"a" * 100_000 + b" HTTP/1.1\r\n\r\n",
    b"POST /api/studies HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: -5\r\n\r\n",
    b"POST /api/studies HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 1000\r\n\r\n{",
    b"POST /api/studies HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\nZZ\r\n",
    b"GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\n" + b"A: b\r\n" * 500 + b"\r\n",
]
KINDS = ["application/json", "application/json; charset=utf-16", "text/plain", "multipart/form-data", ""]


class Attack:
    """What was sent and what came back."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.answers: Counter[str] = Counter()
        self.seconds: list[float] = []
        self.wrong: list[str] = []
        self.lock = threading.Lock()

    def send(self, visitor: Visitor, method: str, path: str, body: Any, headers: dict[str, str]) -> tuple[int, bytes]:
        """Send one request and look at its answer."""
        try:
            status, answer, seconds = visitor.ask(method, path, body, headers)
        except (http.client.HTTPException, OSError) as error:
            return self._note(f"{method} {path}", 0, repr(error).encode(), 0.0)
        return self._note(f"{method} {path}", status, answer, seconds)

    def _note(self, what: str, status: int, answer: bytes, seconds: float) -> tuple[int, bytes]:
        with self.lock:
            self.answers[str(status)] += 1
            self.seconds.append(seconds)
            if status in (0, 500, 502, 504) or seconds > SLOWEST or (status >= 400 and not in_our_form(answer)):
                self.wrong.append(f"{what}: {status} after {seconds:.2f} s: {answer[:300]!r}")
        return status, answer

    def mutants(self, visitor: Visitor, study: int, numbers: range) -> None:
        """Send damaged documents by every way that takes one."""
        for number in numbers:
            document = damaged(number)
            way = number % 5
            if way == 0:
                status, answer = self.send(visitor, "POST", "/api/studies", {"document": document}, {})
                if status == 201:
                    made = json.loads(answer)["id"]
                    self.send(visitor, "GET", f"/api/studies/{made}", None, {})
                    self.send(visitor, "DELETE", f"/api/studies/{made}", None, {})
            elif way == 1:
                status, answer = self.send(visitor, "GET", f"/api/studies/{study}", None, {})
                match = {"If-Match": f'"{json.loads(answer)["version"]}"'} if status == 200 else {}
                self.send(visitor, "PUT", f"/api/studies/{study}/document", document, match)
            else:
                self.send(visitor, "POST", f"/api/pulse/{('theory', 'simulation', 'demand')[way - 2]}", document, {})

    def oddities(self, visitor: Visitor, study: int, count: int, seed: int) -> None:
        """Send what no request should be."""
        luck = random.Random(seed)
        paths = ["studies", f"studies/{study}/document", "pulse/theory", "pulse/simulation", "session", "runs/1/cancel"]
        bodies = [body.encode() if isinstance(body, str) else body for body in [*BODIES.values(), *LARGE]]
        for _ in range(count):
            what = luck.random()
            if what < 0.6:
                path = f"/api/{luck.choice(paths)}"
                headers = {"Content-Type": luck.choice(KINDS), "If-Match": luck.choice(['"1"', "W/1", "x", "9" * 400])}
                methods = ["POST", "PUT", "PATCH"] if path.endswith("session") else ["POST", "PUT", "PATCH", "DELETE"]
                self.send(visitor, luck.choice(methods), path, luck.choice(bodies), headers)
            elif what < 0.9:
                strange = quote(
                    luck.choice(["-1", "0", "1e9", "9" * 30, "a", "\x00", "ä", "..", "%", "null", "1;drop"])
                )
                asked = quote(luck.choice(["type/all/wait/mean", "\x00", "within:" * 99, "a" * 2000, "ü"]))
                path = luck.choice(
                    ["studies/{}", "studies/{}/versions/{}", "runs/{}/figures", "runs/{}/against/{}", "{}"]
                )
                whole = f"/api/{path.replace('{}', strange)}?address={asked}&before={strange}"
                self.send(visitor, luck.choice(["GET", "DELETE", "POST", "HEAD", "OPTIONS"]), whole, None, {})
            else:
                self.raw(luck.choice(RAW))

    def raw(self, text: bytes) -> None:
        """Send bytes that may be no request at all, and wait for an answer or the end of the line."""
        place = urlsplit(self.address)
        began = time.monotonic()
        with socket.create_connection((place.hostname or "", place.port or 80), timeout=5) as line:
            line.settimeout(1.5)
            try:
                line.sendall(text)
                answer = line.recv(65536)
            except OSError:
                answer = b""
        with self.lock:
            self.answers[f"raw {answer[9:12].decode(errors='replace') or 'no answer'}"] += 1
            if b" 500 " in answer[:20]:
                self.wrong.append(f"raw {text[:60]!r}: {answer[:200]!r} after {time.monotonic() - began:.1f} s")


def in_our_form(answer: bytes) -> bool:
    """Say whether a refusal is a list of problems, each with a text and a mend."""
    try:
        problems = json.loads(answer)["problems"]
    except (ValueError, KeyError, TypeError):
        return answer == b""
    return len(problems) > 0 and all(each["what"] and each["mend"] for each in problems)


class Onlooker:
    """Another person, who looks at the sign of life and at a study all the while."""

    def __init__(self, visitor: Visitor, study: int) -> None:
        self.visitor, self.study = visitor, study
        self.health: list[float] = []
        self.reading: list[float] = []
        self.wrong = 0
        self.is_over = False

    def look(self) -> None:
        """Look ten times a second until it is over."""
        while not self.is_over:
            for path, seconds in (("/api/health", self.health), (f"/api/studies/{self.study}", self.reading)):
                status, _, took = self.visitor.ask("GET", path)
                seconds.append(took)
                self.wrong += status != 200
            time.sleep(0.1)


def main() -> int:
    """Attack, and say how it went."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    address = sys.argv[2] if len(sys.argv) > 2 else ADDRESS
    *attackers, other = people(AT_ONCE + 1, address)
    unsigned = Visitor(address, None)
    document = {"document": json.loads(DEMO.read_text())}
    studies = [json.loads(visitor.ask("POST", "/api/studies", document)[1])["id"] for visitor in (*attackers, other)]
    attack, onlooker = Attack(address), Onlooker(other, studies[-1])
    threads = [threading.Thread(target=onlooker.look)]
    share = count // 2 // AT_ONCE
    for n, visitor in enumerate(attackers):
        numbers = range(1_000_000 + n * share, 1_000_000 + (n + 1) * share)
        twin = Visitor(address, None)
        twin.headers = visitor.headers
        threads.append(threading.Thread(target=attack.mutants, args=(visitor, studies[n], numbers)))
        threads.append(threading.Thread(target=attack.oddities, args=(twin, studies[n], share * 3 // 4, n)))
    threads.append(threading.Thread(target=attack.oddities, args=(unsigned, studies[0], share * 3 // 4, 99)))
    began = time.monotonic()
    for thread in threads:
        thread.start()
    for thread in threads[1:]:
        thread.join()
    onlooker.is_over = True
    threads[0].join()
    try:
        for visitor in attackers:
            for entry in json.loads(visitor.ask("GET", "/api/studies")[1]):
                attack.send(visitor, "GET", f"/api/studies/{entry['id']}", None, {})
    finally:
        forget_people()
    print(f"{sum(attack.answers.values())} requests in {time.monotonic() - began:.0f} s: {dict(attack.answers)}")
    print(f"{'milliseconds':44} {'answers':>7} {'median':>8} {'p95':>8} {'longest':>8} {'of bar':>8}")
    told("the attack's answers", attack.seconds, SLOWEST)
    held = told("meanwhile: a sign of life", onlooker.health, BAR)
    held &= told("meanwhile: another reads", onlooker.reading, BAR)
    print(f"{len(attack.wrong)} answers that should not have been, {onlooker.wrong} refusals of the other")
    for wrong in attack.wrong[:20]:
        print(f"  {wrong}")
    return 0 if held and not attack.wrong and not onlooker.wrong else 1


if __name__ == "__main__":
    sys.exit(main())
