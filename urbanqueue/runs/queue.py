"""Which chunks of which runs may be done next: a few of each person's at a time, so that everybody's runs go on."""

from datetime import timedelta

from django.db import connection, transaction
from django.db.models import F, Q
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker

from flowcore import __version__
from urbanqueue.runs.models import Chunk, Run

QUEUE = f"chunks of {__version__}"
"""Workers of another engine version listen to another queue."""
SECONDS_WITHOUT_SIGN_OF_LIFE = 6
FEWEST_IN_HAND = 2
TIME_FOR_ANOTHER_ENGINE = timedelta(minutes=2)
_LOCK = 7_301_986

_OPEN = Q(state__in=(Run.State.WAITING, Run.State.RUNNING))
_OPEN_RUN = Q(run__state__in=(Run.State.WAITING, Run.State.RUNNING))


@transaction.atomic
def hand_out() -> None:
    """Put the next chunks on the queue: of each person's runs in turn, as many as there are workers but one."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(%s)", [_LOCK])
    left = Run.objects.filter(_OPEN, engine=__version__, handed_out__lt=F("replications"))
    for owner in set(left.values_list("version__study__owner", flat=True)):
        mine = Chunk.objects.filter(_OPEN_RUN, is_done=False, run__version__study__owner=owner)
        lacking = _most_in_hand() - mine.count()
        runs = list(left.filter(version__study__owner=owner).order_by("pk")) if lacking > 0 else []
        in_hand = {run.pk: mine.filter(run=run).count() for run in runs}
        while lacking > 0 and runs:
            run = min(runs, key=lambda each: (in_hand[each.pk], each.pk))
            _defer(_next_chunk(run))
            in_hand[run.pk] += 1
            lacking -= 1
            runs = [each for each in runs if each.handed_out < each.replications]


def _most_in_hand() -> int:
    """Return how many chunks of one person may be on the queue or under way: one worker is left to the others.

    A worker's process is two to the queue: one does chunks, one tends the runs.
    """
    lately = timezone.now() - timedelta(seconds=SECONDS_WITHOUT_SIGN_OF_LIFE)
    return max(FEWEST_IN_HAND, ProcrastinateWorker.objects.filter(last_heartbeat__gte=lately).count() // 2 - 1)


def _next_chunk(run: Run) -> Chunk:
    count = min(run.per_chunk, run.replications - run.handed_out)
    chunk = Chunk.objects.create(run=run, first=run.handed_out, count=count)
    run.handed_out += count
    run.save(update_fields=["handed_out"])
    return chunk


def _defer(chunk: Chunk) -> None:
    task = app.configure_task("run_chunk", queue=QUEUE)
    Chunk.objects.filter(pk=chunk.pk).update(job=task.defer(chunk_id=chunk.pk))


def take_off(run: Run) -> None:
    """Take a run's chunks that nobody has begun off the queue."""
    for job in run.chunks.filter(is_done=False).values_list("job", flat=True):
        if job is not None:
            app.job_manager.cancel_job_by_id(job, delete_job=True)


@transaction.atomic
def put_back() -> None:
    """Put chunks on the queue again whose job is gone or failed: a worker or the database ended in between."""
    open_chunks = Chunk.objects.filter(_OPEN_RUN, is_done=False, run__engine=__version__)
    jobs = ProcrastinateJob.objects.filter(status__in=("todo", "doing"))
    for chunk in open_chunks.select_for_update(skip_locked=True, of=("self",)):
        if not jobs.filter(pk=chunk.job).exists():
            _defer(chunk)


def waiting_for_another_engine() -> list[tuple[int, str]]:
    """Return the runs of other engine versions, each with its version, whose next chunk nobody has taken for long."""
    begun_before = timezone.now() - TIME_FOR_ANOTHER_ENGINE
    waiting = Chunk.objects.filter(_OPEN_RUN, is_done=False, created_at__lt=begun_before).exclude(
        run__engine=__version__
    )
    taken = ProcrastinateJob.objects.filter(pk__in=waiting.values("job"), status="doing").values("pk")
    return list(waiting.exclude(job__in=taken).values_list("run_id", "run__engine").distinct())
