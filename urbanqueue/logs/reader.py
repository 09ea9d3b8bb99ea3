"""How a worker reads a log: into columns, once, and then all that is in them, as often as doubts are treated."""

from collections.abc import Sequence

from flowcore.calibration.found import found_in
from flowcore.logs.doubts import Treatment, doubts_in, treated
from flowcore.logs.looks import look_at
from flowcore.logs.reading import read_log
from flowcore.logs.roles import Reading
from flowcore.logs.visits import Visits
from flowcore.problems import Problem, StudyError, error_at
from urbanqueue.logs.actions import as_file
from urbanqueue.logs.models import LogColumn, LogFile
from urbanqueue.logs.packing import columns_of, visits_of
from urbanqueue.logs.queue import OPEN


class Gone(Exception):
    """Raised where a log is gone meanwhile, or is to be read anew by another job."""


def read_for(log_id: int, job: int) -> None:
    """Read a log and find what is in it; raises StudyError where it cannot be read."""
    log = LogFile.objects.filter(pk=log_id, job=job, state__in=OPEN).first()
    if log is None:
        return
    try:
        _told(log, state=LogFile.LogState.READING)
        visits = _read(log) if log.report is None else visits_of(log)
        _find(log, visits)
    except Gone:
        return


def _told(log: LogFile, **changes: object) -> None:
    """Write down how far a log is, as long as this job is at it."""
    if not LogFile.objects.filter(pk=log.pk, job=log.job, state__in=OPEN).update(**changes):
        raise Gone


def _read(log: LogFile) -> Visits:
    reading = Reading.model_validate(log.reading)
    with as_file(log) as path:
        visits, report = read_log(path, reading, lambda rows: _told(log, rows=rows))
    LogColumn.objects.filter(log=log).delete()
    for column in columns_of(log, visits):
        column.save()
    _told(log, rows=report.rows, report=report.model_dump(mode="json"))
    return visits


def _find(log: LogFile, visits: Visits) -> None:
    treatment = Treatment.model_validate(log.treatment)
    doubts = [doubt.model_dump(mode="json") for doubt in doubts_in(visits, treatment)]
    kept = treated(visits, treatment)
    if not len(kept):
        _told(log, doubts=doubts)
        raise StudyError([error_at("log", "All rows are left out.", "Keep some of what is doubtful.")])
    _told(log, doubts=doubts, look=look_at(kept).model_dump(mode="json"))
    found = found_in(kept, lambda share: _told(log, share=share))
    _told(log, found=found.model_dump(mode="json"), state=LogFile.LogState.READ)


def fail_log(log_id: int, job: int, problems: Sequence[Problem]) -> None:
    """Close a log that cannot be read, and say why."""
    mine = LogFile.objects.filter(pk=log_id, job=job, state__in=OPEN)
    mine.update(state=LogFile.LogState.FAILED, problems=[problem.model_dump(mode="json") for problem in problems])
