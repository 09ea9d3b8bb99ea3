"""Which logs are on the queue to be read: beside searches, so that neither keeps the other from going on."""

from django.db import transaction
from django.db.models import Exists, OuterRef
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from urbanqueue.logs.models import LogFile
from urbanqueue.searches.queue import DRIVING

OPEN = (LogFile.LogState.WAITING, LogFile.LogState.READING)


def put_log_on_queue(log: LogFile) -> None:
    """Put a log on the queue of those to be read."""
    job = app.configure_task("read_log_file", queue=DRIVING).defer(log_id=log.pk)
    LogFile.objects.filter(pk=log.pk).update(job=job)


@transaction.atomic
def put_logs_back() -> None:
    """Let logs be read whose jobs are gone: a worker or the database ended in between."""
    jobs = ProcrastinateJob.objects.filter(status__in=("todo", "doing"), pk=OuterRef("job"))
    for log in LogFile.objects.filter(~Exists(jobs), state__in=OPEN).select_for_update(skip_locked=True):
        put_log_on_queue(log)
