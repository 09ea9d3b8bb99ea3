"""How far a run is, and how it ends: done, precise enough, stopped, or failed."""

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from flowcore.study import RunSettings
from urbanqueue.runs.models import Part, Run, SummedUp
from urbanqueue.runs.queue import open_parts, take_off, waiting_for_another_engine
from urbanqueue.runs.samples import results_of, rows_of


@transaction.atomic
def count_in(sample_id: int) -> None:
    """Count what the parts have that wait for a sample, and close the runs that lack nothing any more."""
    waiting = open_parts().filter(sample=sample_id)
    for run in Run.objects.select_for_update().filter(parts__in=waiting).order_by("pk"):
        settle(run)


def settle(run: Run) -> None:
    """Count what each part of a run has, ask for more where that is not precise enough, close it where none lacks."""
    lacking = 0
    for part in run.parts.select_related("sample", "run").defer("sample__document"):
        if not part.problem:
            _count(part)
            lacking += part.done < part.replications
    if not lacking:
        failed = run.parts.exclude(problem="").exists()
        close(run.pk, Run.State.FAILED if failed else Run.State.DONE)
        if run.redraws is not None and not failed:
            hand_over(run, run.redraws)


@transaction.atomic
def hand_over(again: Run, run: Run) -> None:
    """Let a run be read from the replications that were drawn again for it."""
    for part in again.parts.all():
        run.parts.filter(scenario=part.scenario).update(sample=part.sample)
    SummedUp.objects.filter(part__run=run).delete()
    Run.objects.filter(pk=run.pk).update(finding=None)
    again.delete()


def _count(part: Part) -> None:
    part.done = rows_of(part).count()
    wanted = RunSettings.model_validate(part.run.settings).precision
    if wanted and part.done >= part.replications:
        results = results_of(part)
        known = [address for address in wanted.figures if results.has(address)]
        part.replications += results.replications_needed(known, wanted.within, wanted.at_most)
    part.save(update_fields=["done", "replications"])


def close(run_id: int, state: Run.State) -> bool:
    """Close a run; False where it is over already."""
    still_open = Run.objects.filter(pk=run_id, state__in=(Run.State.WAITING, Run.State.RUNNING))
    now = timezone.now()
    return bool(still_open.update(state=state, finished_at=now, took=F("took") + (now - F("begun_at"))))


@transaction.atomic
def stop(run: Run, state: Run.State = Run.State.STOPPED) -> bool:
    """Close a run before its end and keep what its parts have by now; its workers notice within a moment."""
    Run.objects.select_for_update().get(pk=run.pk)
    if not close(run.pk, state):
        return False
    for part in run.parts.select_related("sample").defer("sample__document"):
        _keep_what_is_done(part)
    take_off(run)
    return True


def _keep_what_is_done(part: Part) -> None:
    numbers = sorted(rows_of(part).values_list("number", flat=True))
    part.kept, part.done = numbers, len(numbers)
    part.save(update_fields=["kept", "done", "problem"])


@transaction.atomic
def fail_sample(sample_id: int, problem: str) -> None:
    """Let the parts fail that wait for a sample which cannot be drawn; the other parts of their runs go on."""
    parts = open_parts().filter(sample=sample_id)
    runs = list(Run.objects.select_for_update().filter(parts__in=parts).order_by("pk"))
    for part in parts:
        part.problem = problem
        _keep_what_is_done(part)
    for run in runs:
        settle(run)
        take_off(run)


def fail_run(run: Run, problem: str) -> None:
    """Close a run that cannot go on, and say why."""
    if stop(run, Run.State.FAILED):
        run.parts.filter(problem="").update(problem=problem)


def end_orphans() -> None:
    """Fail the runs of another engine version for which no worker of that version is left."""
    for run_id, engine in waiting_for_another_engine():
        what = f"It was begun by version {engine} of the engine, and no worker of that version is left. Run it again."
        fail_run(Run.objects.get(pk=run_id), what)
