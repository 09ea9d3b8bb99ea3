"""The one way in: a study goes in, results come out."""

import threading
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import nullcontext
from functools import cache, cached_property

import numpy as np

from flowcore.checks import errors_of
from flowcore.checks.measures import with_what_can_be_told
from flowcore.kernel.records.world import World
from flowcore.kernel.run.growth import NoRoom
from flowcore.kernel.run.loop import close_books
from flowcore.kernel.run.worlds import Deadlock, EndlessInstant, Worlds, go_until, new_world, start_afresh
from flowcore.pauses import pausing_often
from flowcore.plan import compile_study
from flowcore.problems import Problem, StudyError
from flowcore.results.deadlock import deadlock, endless_instant, no_room
from flowcore.results.replication import Replication, Summary
from flowcore.results.run import Results
from flowcore.results.wanted import Wanted
from flowcore.study import StudyDocument, minutes, read_study
from flowcore.study.runs import Precision
from flowcore.study.timetable import opening_days


class Stopped(Exception):
    """Raised where a run was asked to stop before its end."""


class StandsStill(StudyError):
    """Raised where cases of a replication wait only for each other; with its world as it stands then."""

    def __init__(self, problems: list[Problem], world: World) -> None:
        super().__init__(problems)
        self.world = world


def never() -> bool:
    """Say that nobody asks to stop."""
    return False


def simulate(
    study: StudyDocument,
    *,
    numbers: Sequence[int] | None = None,
    threads: int = 1,
    should_stop: Callable[[], bool] = never,
) -> Results:
    """Run a study and return its results.

    Parameters
    ----------
    study
        What is simulated, for how long and how often, and the seed.
    numbers
        The replications to run, counted from zero; by default as many as the run settings say, or as many as the
        wanted precision needs. Each depends on the study, its seed and its own number alone.
    threads
        How many run at once; the results are the same.
    should_stop
        Asked every few hundredths of a second, however much happens between.

    Returns
    -------
    Results
        The figures of every replication, at their addresses.

    Raises
    ------
    StudyError
        Where a health check finds an error, or a replication cannot go on.
    Stopped
        Where it was asked to stop.
    """
    confidence = study.run.confidence
    if numbers is None and study.run.precision is not None:
        return Results.of(_until_precise(study, study.run.precision, threads, should_stop), confidence)
    return Results.of(replications(study, numbers=numbers, threads=threads, should_stop=should_stop), confidence)


def _until_precise(
    study: StudyDocument, wanted: Precision, threads: int, should_stop: Callable[[], bool]
) -> Iterator[Replication]:
    """Yield replications, always as many more as will by their spread so far be needed, until figures are precise."""
    known: list[Replication] = []
    more = min(study.run.replications, wanted.at_most)
    while more > 0:
        numbers = range(len(known), len(known) + more)
        for each in replications(study, numbers=numbers, threads=threads, should_stop=should_stop):
            known.append(each.to_keep())
            yield each
        more = Results(known, study.run.confidence).replications_needed(wanted.figures, wanted.within, wanted.at_most)


def replications(
    study: StudyDocument,
    *,
    numbers: Sequence[int] | None = None,
    threads: int = 1,
    should_stop: Callable[[], bool] = never,
) -> Iterator[Replication]:
    """Yield the replications of a study in order, as they are done; see `simulate`."""
    require_sound(study)
    replicate = Replicator(study, should_stop)
    wanted = range(study.run.replications) if numbers is None else numbers
    if threads == 1:
        for number in wanted:
            yield replicate(number)
        return
    with ThreadPoolExecutor(threads) as pool:
        jobs = deque(pool.submit(replicate, number) for number in wanted)
        try:
            while jobs:
                yield jobs.popleft().result()
        finally:
            for job in jobs:
                job.cancel()


@cache
def get_ready() -> None:
    """Load the machine code, once a process; it takes the better part of a second."""
    step = {"id": "a", "name": "A", "kind": "serve", "work": "1 min", "next": [{"to": "z"}]}
    stream = {"id": "in", "name": "In", "kind": "random", "gap": "1 min", "to": "a"}
    exit_ = {"id": "z", "name": "Z", "kind": "exit"}
    Replicator(
        read_study({"name": "One step", "streams": [stream], "steps": [step, exit_], "run": {"length": "3 min"}})
    )(0)


def require_sound(study: StudyDocument) -> None:
    """Raise StudyError where a health check finds an error."""
    if errors := errors_of(study):
        raise StudyError(errors)


class Replicator:
    """Runs replications of one study; each thread has its own one after another in the same memory.

    The minutes of those who come in the `watched_hour` of the week, counted from Monday's midnight, are kept apart.
    """

    def __init__(
        self, study: StudyDocument, should_stop: Callable[[], bool] = never, watched_hour: int | None = None
    ) -> None:
        self._study = with_what_can_be_told(study)
        self._plan = compile_study(self._study)
        if watched_hour is not None:
            self._plan.run.watched_hour[0] = watched_hour
        self._length, self._warm_up = minutes(study.run.length), minutes(study.run.warm_up)
        self._opening_days = opening_days(study)
        self._should_stop = should_stop
        self._of_thread = threading.local()

    def __call__(self, number: int) -> Replication:
        """Run one replication and return its figures; raises Stopped."""
        world = self.world_of(number)
        return self._summary(world, number, *self.counted(world))

    @cached_property
    def _summary(self) -> Summary:
        return Summary(self._study, self._plan)

    def counted(self, world: World) -> tuple[float, int]:
        """Return for how many minutes a world at its end has collected, and on how many days of opening."""
        over = float(world.clock[0].now)
        days = np.count_nonzero((self._opening_days > self._warm_up) & (self._opening_days < over))
        return max(0.0, over - self._warm_up), int(days)

    def telling(self, addresses: Sequence[str]) -> Wanted:
        """Return what tells some figures of this study's worlds."""
        return Wanted(self._study, self._plan, addresses)

    def world_of(self, number: int) -> World:
        """Run one replication and return its world at the end, its books closed.

        `number` counts replications from zero. The world is written over by the thread's next one. Raises StudyError
        where the replication cannot go on, and Stopped.
        """
        world = self._worlds.begin(self._study.run.seed, number)
        if self._warm_up > 0:
            world = self.go(world, self._warm_up)
            start_afresh(world)
        world = self.go(world, self._length)
        close_books(world)
        self._worlds.keep(world)
        return world

    @property
    def _worlds(self) -> Worlds:
        """The worlds of this thread."""
        if not hasattr(self._of_thread, "worlds"):
            self._of_thread.worlds = Worlds(self._plan)
        worlds: Worlds = self._of_thread.worlds
        return worlds

    def trace(self, number: int, *, case: int = 0, begin: float = 0.0, end: float = float("inf")) -> World:
        """Run one replication again and return its world with the notes of what happened, up to where it stands still.

        `case` is the number of the only case to follow (0 for all), `begin` and `end` are minutes.
        """
        world = self.first_of(number)
        clock = world.clock[0]
        clock.tracing, clock.trace_case, clock.trace_from, clock.trace_until = 1, case, begin, end
        return self.go_as_far(world, min(self._length, end))[0]

    def first_of(self, number: int) -> World:
        """Return a replication's world at its first instant, in memory of its own."""
        return new_world(self._plan, self._study.run.seed, number)

    def go_as_far(self, world: World, until: float) -> tuple[World, bool]:
        """Let a world go on up to a time, or as far as it goes; say whether it stands still there."""
        try:
            return self.go(world, until), False
        except StandsStill as still:
            return still.world, True

    def go(self, world: World, until: float) -> World:
        """Let a world go on up to a time; raises StudyError where it cannot, and Stopped."""
        looks = nullcontext() if self._should_stop is never else pausing_often(world.clock)
        with looks:
            there = False
            while not there:
                if self._should_stop():
                    raise Stopped
                world.clock[0].pause = 0
                world, there = self._on(world, until)
        return world

    def _on(self, world: World, until: float) -> tuple[World, bool]:
        """Go on; raises StudyError where it cannot go on."""
        try:
            return go_until(world, until)
        except Deadlock as still:
            raise StandsStill([deadlock(self._study, still.world)], still.world) from None
        except EndlessInstant as endless:
            raise StudyError([endless_instant(self._study, endless.world)]) from None
        except NoRoom as full:
            raise StudyError([no_room(self._study, full.world)]) from None
