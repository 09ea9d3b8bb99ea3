"""The worker's tasks for logs."""

from django.db import close_old_connections
from procrastinate import JobContext
from procrastinate.contrib.django import app

from flowcore.problems import StudyError, error_at
from urbanqueue.logs.queue import put_logs_back
from urbanqueue.logs.reader import fail_log, read_for
from urbanqueue.runs.telling import telling

TRY_AGAIN = "Let it be read again, or bring a smaller file."


@app.task(name="read_log_file", pass_context=True)
def read_log_file(context: JobContext, log_id: int) -> None:
    """Read a log; what goes wrong in it is said at the log."""
    job = context.job.id or 0
    with telling(f"Log {log_id}", lambda problem: fail_log(log_id, job, [error_at("file", problem, TRY_AGAIN)])):
        try:
            read_for(log_id, job)
        except StudyError as error:
            fail_log(log_id, job, error.problems)


@app.periodic(cron="* * * * * */5")
@app.task(name="tend_logs", queue="rescue", queueing_lock="tend_logs")
def tend_logs(timestamp: int) -> None:
    """Let every log be read, whatever has died."""
    close_old_connections()
    put_logs_back()
