"""The worker's tasks for searches."""

from django.db import close_old_connections
from procrastinate import JobContext
from procrastinate.contrib.django import app

from urbanqueue.runs.telling import telling
from urbanqueue.searches import driver, trials
from urbanqueue.searches.ending import end_searches_of_another_engine, fail_search
from urbanqueue.searches.queue import put_searches_back


@app.task(name="search", pass_context=True)
def search(context: JobContext, search_id: int) -> None:
    """Drive a search; what goes wrong in it is said at the search."""
    with telling(f"Search {search_id}", lambda problem: fail_search(search_id, problem)):
        driver.drive(search_id, context.should_abort)


@app.task(name="run_trials", pass_context=True)
def run_trials(context: JobContext, search_id: int) -> None:
    """Run trials of a search for a moment."""
    with telling(f"A trial of search {search_id}", lambda problem: fail_search(search_id, problem)):
        trials.run_trials(search_id, context.job.id or 0, context.should_abort)


@app.periodic(cron="* * * * * */5")
@app.task(name="tend_searches", queue="rescue", queueing_lock="tend_searches")
def tend_searches(timestamp: int) -> None:
    """Let every search go on, whatever has died."""
    close_old_connections()
    put_searches_back()
    end_searches_of_another_engine()
