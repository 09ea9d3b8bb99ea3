"""What can be done with logs: bring one, recognise it anew, read it, treat what is doubtful, use it, delete it."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.db import transaction

from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals import Proposals, proposals_for
from flowcore.calibration.proposals.matching import Matching
from flowcore.discovery.drafts import Draft, drafted
from flowcore.logs.doubts import Treatment, treated
from flowcore.logs.reading import require_readable
from flowcore.logs.recognising import Preview, recognised
from flowcore.logs.roles import Reading
from flowcore.problems import StudyError, error_at
from flowcore.study import StudyDocument
from urbanqueue.accounts.models import Person
from urbanqueue.filed import PIECE, filed
from urbanqueue.logs.models import LogFile, LogPiece
from urbanqueue.logs.packing import visits_of
from urbanqueue.logs.queue import put_log_on_queue
from urbanqueue.studies.models import Study

MOST_LOGS = 20
PIECES_AT_ONCE = 8
MOST_SENT = 1_000_000_000
"""A file that is brought has no more bytes than this, packed or not."""


def bring_log(study: Study, person: Person, name: str, chunks: Iterable[bytes]) -> LogFile:
    """Keep a file with a study, in pieces, and recognise how it is read.

    Raises StudyError where it cannot be read at all, is too large, or where the study has too many: nothing is kept.
    """
    if study.logs.count() >= MOST_LOGS:
        raise StudyError([error_at("logs", f"The study has {MOST_LOGS} logs.", "Delete one that is not needed.")])
    with filed(chunks, MOST_SENT) as file:
        preview = recognised(Path(file.name)).model_dump(mode="json")
        size = file.tell()
        file.seek(0)
        with transaction.atomic():
            shown = "".join(filter(str.isprintable, name)) or "log"
            log = LogFile.objects.create(study=study, name=shown, size=size, brought_by=person, preview=preview)
            for place, piece in enumerate(iter(lambda: file.read(PIECE), b"")):
                LogPiece.objects.create(log=log, place=place, content=piece)
    return log


@contextmanager
def as_file(log: LogFile) -> Iterator[Path]:
    """Put a log's pieces together to a file, for as long as it is needed."""
    with filed(pieces_of(log)) as file:
        yield Path(file.name)


def pieces_of(log: LogFile) -> Iterator[bytes]:
    """Yield a log as it was brought, piece by piece."""
    return map(bytes, log.pieces.values_list("content", flat=True).iterator(chunk_size=PIECES_AT_ONCE))


def recognise_anew(log: LogFile, wanted: Reading) -> Preview:
    """Return how a log is read most likely with an encoding, a separator or a sheet that the analyst has chosen."""
    with as_file(log) as path:
        return recognised(path, wanted)


@transaction.atomic
def read_as(log: LogFile, reading: Reading) -> LogFile:
    """Let a log be read anew, by a worker; raises StudyError where what its columns stand for is not enough."""
    require_readable(reading)
    return _put(log, reading=reading.model_dump(mode="json"), report=None, doubts=None, look=None, found=None, rows=0)


@transaction.atomic
def treat(log: LogFile, treatment: Treatment) -> LogFile:
    """Let what is doubtful in a log be treated otherwise, and all be found anew."""
    if log.report is None:
        raise StudyError([error_at("log", "The log has not been read yet.", "Say what its columns stand for.")])
    return _put(log, treatment=treatment.model_dump(mode="json"), doubts=None, look=None, found=None)


def _put(log: LogFile, **changes: object) -> LogFile:
    locked = LogFile.objects.select_for_update().get(pk=log.pk)
    for name, value in changes.items():
        setattr(locked, name, value)
    locked.state, locked.share, locked.problems = LogFile.LogState.WAITING, 0.0, []
    locked.save()
    put_log_on_queue(locked)
    return locked


def found_of(log: LogFile) -> Any:
    """Return what was found in a log, as `LogFound` is written; raises StudyError where that is not known yet."""
    if log.found is None:
        raise StudyError([error_at("log", "Nothing has been found yet.", "Wait until the log has been read.")])
    return log.found


def match(log: LogFile, matching: Matching) -> LogFile:
    """Keep what the names of a log stand for in its study."""
    log.matching = matching.model_dump(mode="json")
    log.save(update_fields=["matching"])
    return log


def proposals_of(log: LogFile, study: StudyDocument) -> Proposals:
    """Return what a log says beside what a document has; raises StudyError where nothing has been found yet."""
    return proposals_for(study, LogFound.model_validate(found_of(log)), Matching.model_validate(log.matching))


def draft_of(log: LogFile, wanted: float, date: str) -> Draft:
    """Return a study drafted from a log; raises StudyError where no flow can be discovered."""
    found = LogFound.model_validate(found_of(log))
    visits = treated(visits_of(log), Treatment.model_validate(log.treatment))
    try:
        return drafted(visits, found, wanted, log.name, log.rows, date)
    except ValueError as error:
        mend = "Let another column stand for it, or part the file."
        raise StudyError([error_at("log", f"No flow can be discovered: {error}.", mend)]) from error


def delete_log(log: LogFile) -> None:
    """Take a log away for good; whoever reads it notices."""
    log.delete()
