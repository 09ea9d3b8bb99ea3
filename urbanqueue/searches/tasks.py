"""The worker's tasks for searches."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import InterfaceError, OperationalError, close_old_connections, connection
from procrastinate import JobContext
from procrastinate.contrib.django import app

from flowcore.problems import StudyError
from urbanqueue.searches import driver, trials
from urbanqueue.searches.ending import end_searches_of_another_engine, fail_search
from urbanqueue.searches.queue import put_searches_back

logger = logging.getLogger(__name__)


@app.task(name="search", pass_context=True)
def search(context: JobContext, search_id: int) -> None:
    """Drive a search; what goes wrong in it is said at the search."""
    with telling_at(search_id):
        driver.drive(search_id, context.should_abort)


@app.task(name="run_trials", pass_context=True)
def run_trials(context: JobContext, search_id: int) -> None:
    """Run trials of a search for a moment."""
    with telling_at(search_id):
        trials.run_trials(search_id, context.job.id or 0, context.should_abort)


@contextmanager
def telling_at(search_id: int) -> Iterator[None]:
    """Say at a search what goes wrong in it; where the database goes away, it is put back on the queue later."""
    close_old_connections()
    try:
        yield
    except (OperationalError, InterfaceError):
        connection.close()
        raise
    except StudyError as error:
        fail_search(search_id, " ".join(f"{problem.what} {problem.mend}" for problem in error.problems))
    except MemoryError:
        fail_search(search_id, "The memory is full. Shorten the run, or let fewer cases come.")
    except Exception as error:
        logger.exception("Search %s failed", search_id)
        fail_search(search_id, f"The search failed: {error}")


@app.periodic(cron="* * * * * */5")
@app.task(name="tend_searches", queue="rescue", queueing_lock="tend_searches")
def tend_searches(timestamp: int) -> None:
    """Let every search go on, whatever has died."""
    close_old_connections()
    put_searches_back()
    end_searches_of_another_engine()
