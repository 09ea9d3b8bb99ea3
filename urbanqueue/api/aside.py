"""A process beside the web server's for what takes time: it goes behind everything that waits for a page."""

import os
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from math import inf
from multiprocessing import get_context
from typing import NamedTuple, TypeVar

import django

from flowcore.simulate import get_ready

Answer = TypeVar("Answer")
Question = TypeVar("Question")

NICE = 15
SECONDS_TO_GET_READY = 600
TRIES, PAUSE = 30, 2.0
AT_ONCE = max(1, (os.cpu_count() or 1) // 2)


class Busy(Exception):
    """Raised where as much is being computed as may be at once, or where it takes too long."""


class Aside:
    """Computes one thing after another in a process of its own, which is replaced where it fails or does not answer.

    Whoever asks waits for a turn and for the answer no longer than so many seconds, and for so many at most at once.
    """

    def __init__(self, seconds_for_a_turn: float, seconds_to_answer: float, most_of_one: float = inf) -> None:
        self.seconds_for_a_turn = seconds_for_a_turn
        self.seconds_to_answer = seconds_to_answer
        self.most_of_one = most_of_one
        self._asking: Counter[int] = Counter()
        self._turns = threading.BoundedSemaphore(AT_ONCE)
        self._changing = threading.Lock()
        self._pool: _Pool | None = None

    def compute(self, function: Callable[[Question], Answer], question: Question, whom: int = 0) -> Answer:
        """Return what a function says to a person; what it raises is raised here. Raises Busy."""
        with self._place_of(whom), self._turn():
            with self._changing:
                pool = self._pool = self._pool or _new_pool()
            try:
                for process in pool.getting_ready:
                    process.result(timeout=SECONDS_TO_GET_READY)
                return pool.processes.submit(function, question).result(timeout=self.seconds_to_answer)
            except (BrokenProcessPool, TimeoutError):
                self._end(pool)
                raise Busy from None

    def compute_patiently(self, function: Callable[[Question], Answer], question: Question) -> Answer:
        """Return what a function says, for a file that is made while it is sent; others go first. Raises Busy."""
        for _ in range(TRIES - 1):
            try:
                return self.compute(function, question)
            except Busy:
                time.sleep(PAUSE)
        return self.compute(function, question)

    def get_ready(self) -> None:
        """Start the process, so that the first question need not wait for it."""
        self.compute(_nothing, None)

    def _end(self, pool: "_Pool") -> None:
        """End the processes of a pool, whatever they are at; the next question gets new ones."""
        with self._changing:
            if self._pool is pool:
                self._pool = None
            for process in list((pool.processes._processes or {}).values()):
                process.kill()
            pool.processes.shutdown(wait=False, cancel_futures=True)

    @contextmanager
    def _place_of(self, whom: int) -> Iterator[None]:
        with self._changing:
            if self._asking[whom] >= self.most_of_one:
                raise Busy
            self._asking[whom] += 1
        try:
            yield
        finally:
            with self._changing:
                self._asking[whom] -= 1
                self._asking += Counter()  # forgets who asks no more

    @contextmanager
    def _turn(self) -> Iterator[None]:
        if not self._turns.acquire(timeout=self.seconds_for_a_turn):
            raise Busy
        try:
            yield
        finally:
            self._turns.release()


class _Pool(NamedTuple):
    """Processes, each of which warms the engine up before it is asked anything, however long that takes."""

    processes: ProcessPoolExecutor
    getting_ready: list[Future[None]]


def _new_pool() -> _Pool:
    processes = ProcessPoolExecutor(AT_ONCE, get_context("spawn"), initializer=_begin, initargs=(os.getpid(),))
    return _Pool(processes, [processes.submit(get_ready) for _ in range(AT_ONCE)])


def _begin(parent: int) -> None:
    """Give way to others, end when the web server is gone, and be able to read the database."""
    os.nice(NICE)
    django.setup()
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(os.EX_OK)


def _nothing(_: None) -> None:
    """Answer at once."""


pulses = Aside(seconds_for_a_turn=0.15, seconds_to_answer=20)
replays = Aside(seconds_for_a_turn=10, seconds_to_answer=60, most_of_one=6)
figures = Aside(seconds_for_a_turn=20, seconds_to_answer=300)
