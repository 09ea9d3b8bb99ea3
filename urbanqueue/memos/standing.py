"""Whether a memo still holds: what has changed since it was made."""

from collections.abc import Iterator
from typing import NamedTuple

from flowcore.engine import ENGINE
from flowcore.problems import StudyError
from flowcore.study import StudyDocument, read_study
from flowcore.study.scenarios import apply_scenario
from urbanqueue.memos.models import Memo
from urbanqueue.runs.models import Part
from urbanqueue.runs.samples import digest_of
from urbanqueue.studies.actions import current_version, document_of


class SeenColumn(NamedTuple):
    """What a memo was made of: a scenario of a run as it was then."""

    run: int
    number: int
    scenario: str
    name: str
    done: int


def columns_of(memo: Memo) -> list[SeenColumn]:
    """Return what a memo was made of."""
    return [SeenColumn(**column) for column in memo.columns]


def seen(part: Part) -> SeenColumn:
    """Return a part of a run as a memo keeps it."""
    return SeenColumn(part.run_id, part.run.number, part.scenario, part.name, part.done)


def made_of(memo: Memo) -> str:
    """Return of which runs a memo was made, and when."""
    runs = dict.fromkeys(f"run {column.number}" for column in columns_of(memo))
    return f"{memo.study.name}, {' and '.join(runs)}, {memo.created_at:%d %B %Y}"


def what_has_changed(memo: Memo) -> list[str]:
    """Return in sentences what makes a memo out of date; none where it holds."""
    now = document_of(current_version(memo.study))
    columns = columns_of(memo)
    runs = {column.run for column in columns}
    found = Part.objects.filter(run__in=runs).select_related("sample", "run")
    parts = {(part.run_id, part.scenario): part for part in found}
    told = (each for column in columns for each in _changed(column, parts.get((column.run, column.scenario)), now))
    return list(dict.fromkeys(told))


def _changed(column: SeenColumn, part: Part | None, now: StudyDocument) -> Iterator[str]:
    if part is None:
        yield f"Run {column.number} is deleted, and the pictures of it with it."
        return
    if part.done != column.done:
        yield f"Run {column.number} has {part.done} replications by now; the text was made of {column.done}."
    if part.run.engine != ENGINE:
        yield f"Run {column.number} was made by version {part.run.engine} of the engine, which is not at hand any more."
    if not _is_still_so(part, now):
        what = f"“{column.name}” has changed" if part.scenario else "The study has changed"
        yield f"{what} since run {column.number} was made."


def _is_still_so(part: Part, now: StudyDocument) -> bool:
    """Say whether the study as it is now would be drawn as the part was, but for what is only asked of it."""
    then = read_study(part.sample.document)
    try:
        changed = apply_scenario(now, part.scenario)
    except StudyError:
        return False
    own = then.run.model_copy(update={"doors": changed.run.doors})
    return digest_of(_unasked(changed.model_copy(update={"run": own}))) == digest_of(_unasked(then))


def _unasked(study: StudyDocument) -> StudyDocument:
    return study.model_copy(update={"measures": []})
