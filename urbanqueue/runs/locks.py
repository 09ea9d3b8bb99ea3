"""Who waits for whom: everybody locks in the same order, so that no two ever wait for each other.

First the run, then its parts, then what is kept of them; then the turn to hand out; then samples, then their chunks.
Whoever tells what a run found, or sums a part up, has that turn before any of these.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from django.db.models import QuerySet

from urbanqueue.runs.models import Part, Sample

_TURN = 7_301_986
_TELLING = 7_301_987
_SUMMING_UP = 7_301_988


def take_turns() -> None:
    """Wait until nobody else hands out or takes off, until the end of the transaction."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(%s)", [_TURN])


@contextmanager
def telling_of(run_id: int) -> Iterator[bool]:
    """Say whether nobody else is telling what a run found; then nobody does until the end of the block."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_try_advisory_lock(%s, %s)", [_TELLING, run_id])
        [mine] = cursor.fetchone()
    try:
        yield mine
    finally:
        if mine:
            _unlock(_TELLING, run_id)


@contextmanager
def summing_up(part_id: int) -> Iterator[None]:
    """Wait until nobody else is summing a part up; then nobody does until the end of the block."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_lock(%s, %s)", [_SUMMING_UP, part_id])
    try:
        yield
    finally:
        _unlock(_SUMMING_UP, part_id)


def _unlock(what: int, whose: int) -> None:
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_unlock(%s, %s)", [what, whose])


def locked(rows: QuerySet[Part] | QuerySet[Sample]) -> list[int]:
    """Lock parts or samples until the end of the transaction; return their keys, without those that are gone."""
    return list(rows.select_for_update(of=("self",)).order_by("pk").values_list("pk", flat=True))
