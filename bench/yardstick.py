"""The yardstick: a plain discrete-event simulator of generator processes on a heap.

It is what one would write in an afternoon, and collects the same samples and levels as the engine:
wait, work and total per visit and per case, lines and cases inside per step and in all, members at work.
"""

import heapq
import random
from collections import deque
from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass, field
from operator import add

Process = Generator[float | None, None, None]
Draw = Callable[[random.Random], float]


@dataclass
class Level:
    """A number over time."""

    now: int = 0
    area: float = 0.0
    since: float = 0.0
    highest: int = 0

    def change(self, clock: float, by: int) -> None:
        self.area += self.now * (clock - self.since)
        self.since = clock
        self.now += by
        self.highest = max(self.highest, self.now)


@dataclass
class Team:
    """Members and the processes that wait for one."""

    free: int
    waiting: deque[Process] = field(default_factory=deque)
    working: Level = field(default_factory=Level)


@dataclass
class Step:
    """A step of the flow: a team, a time, and the ways on with their cumulative shares."""

    team: Team
    work: Draw
    ways: list[tuple[float, int | None]]
    line: Level = field(default_factory=Level)
    inside: Level = field(default_factory=Level)
    waits: list[float] = field(default_factory=list)
    works: list[float] = field(default_factory=list)


class Yardstick:
    """Runs one stream of cases through steps."""

    def __init__(self, steps: list[Step], gap: Draw, seed: int) -> None:
        self.steps, self.gap, self.random = steps, gap, random.Random(seed)
        self.clock = 0.0
        self.events: list[tuple[float, int, Process]] = []
        self.scheduled = 0
        self.cases = 0
        self.line, self.inside = Level(), Level()
        self.case_waits: list[float] = []
        self.case_works: list[float] = []
        self.case_totals: list[float] = []
        self.running: Process = self.arrivals()

    def run(self, until: float) -> None:
        self.schedule(0.0, self.arrivals())
        while self.events and self.events[0][0] <= until:
            self.clock, _, process = heapq.heappop(self.events)
            self.resume(process)

    def summary(self) -> list[dict[str, float]]:
        """Return mean, standard deviation and percentiles of all that was collected."""
        samples = [self.case_waits, self.case_works, self.case_totals]
        everywhere: list[list[float]] = [[], [], []]
        for step in self.steps:
            of_step = [step.waits, step.works, [*map(add, step.waits, step.works)]]
            samples += of_step
            for gathered, values in zip(everywhere, of_step, strict=True):
                gathered.extend(values)
        samples += everywhere
        return [describe(sample) for sample in samples if len(sample) > 1]

    def schedule(self, after: float, process: Process) -> None:
        self.scheduled += 1
        heapq.heappush(self.events, (self.clock + after, self.scheduled, process))

    def resume(self, process: Process) -> None:
        """Let a process go on until it waits: for a time, or (None) for a member."""
        before, self.running = self.running, process
        pause = next(process, None)
        if pause is not None:
            self.schedule(pause, process)
        self.running = before

    def arrivals(self) -> Process:
        while True:
            yield self.gap(self.random)
            self.cases += 1
            self.schedule(0.0, self.way())

    def way(self) -> Process:
        arrived = self.clock
        self.inside.change(arrived, 1)
        waited = worked = 0.0
        number: int | None = 0
        while number is not None:
            step = self.steps[number]
            yield from self.visit(step)
            waited += step.waits[-1]
            worked += step.works[-1]
            draw = self.random.random()
            number = next(to for share, to in step.ways if draw < share)
        self.inside.change(self.clock, -1)
        self.case_waits.append(waited)
        self.case_works.append(worked)
        self.case_totals.append(self.clock - arrived)

    def visit(self, step: Step) -> Iterator[float | None]:
        joined = self.clock
        step.inside.change(joined, 1)
        team = step.team
        if team.free:
            team.free -= 1
        else:
            step.line.change(joined, 1)
            self.line.change(joined, 1)
            team.waiting.append(self.running)
            yield None
            step.line.change(self.clock, -1)
            self.line.change(self.clock, -1)
        team.working.change(self.clock, 1)
        wait = self.clock - joined
        work = step.work(self.random)
        yield work
        team.working.change(self.clock, -1)
        step.waits.append(wait)
        step.works.append(work)
        step.inside.change(self.clock, -1)
        if team.waiting:
            self.resume(team.waiting.popleft())
        else:
            team.free += 1


def describe(sample: list[float]) -> dict[str, float]:
    """Return the figures of one sample."""
    ordered = sorted(sample)
    mean = sum(ordered) / len(ordered)
    sd = (sum((value - mean) ** 2 for value in ordered) / (len(ordered) - 1)) ** 0.5
    percentiles = {f"p{p}": ordered[(len(ordered) - 1) * p // 100] for p in (5, 10, 25, 50, 75, 90, 95, 99)}
    return {"mean": mean, "sd": sd, "min": ordered[0], "max": ordered[-1], **percentiles}
