"""Whole folders: a study with all that belongs to it as one zip, and a study made of such a zip."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.db import connection, transaction
from django.http import HttpRequest, JsonResponse, StreamingHttpResponse
from django.utils.text import slugify
from ninja import Router

from flowcore.exchange.folder.unzipping import unzipping
from flowcore.exchange.folder.zipping import zipped
from urbanqueue.api.aside import figures
from urbanqueue.api.errors import Problems
from urbanqueue.api.files import SENT_AS_BYTES, sent_pieces, written_as
from urbanqueue.api.people import person_of
from urbanqueue.api.studies import StudyDetail, whole_study
from urbanqueue.filed import filed
from urbanqueue.folders.packing import Tables, files_of, tables_of_one
from urbanqueue.folders.unpacking import FolderLook, FolderRead, look_at, make_study
from urbanqueue.runs.findings import MANY_REPLICATIONS
from urbanqueue.runs.models import Part
from urbanqueue.studies.models import Study
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["folders"], by_alias=True)

MOST_SENT = 2_000_000_000
ZIP = "application/zip"


@router.get(
    "/studies/{study_id}/folder",
    response={200: bytes, 404: Problems},
    operation_id="saveFolder",
    summary="The whole folder",
    openapi_extra=written_as(ZIP),
)
def save_folder(request: HttpRequest, study_id: int) -> StreamingHttpResponse:
    """Send a study with versions, figures of runs, memos and logs as a zip, which is made while it is sent."""
    study = StudyPolicy(person_of(request)).get(study_id)
    response = StreamingHttpResponse(_pieces(study), content_type=ZIP)
    response["Content-Disposition"] = f'attachment; filename="{slugify(study.name) or "study"}.zip"'
    return response


def _pieces(study: Study) -> Iterator[bytes]:
    """Yield the zip of a study as it is at one moment, whatever becomes of it meanwhile."""
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("set transaction isolation level repeatable read, read only")
        yield from zipped(files_of(study, _tables))


def _tables(part: Part) -> Tables:
    if part.done <= MANY_REPLICATIONS:
        return tables_of_one(part.pk)
    return figures.compute_patiently(tables_of_one, part.pk)


@router.post(
    "/folders/preview",
    response={200: FolderLook, 422: Problems},
    operation_id="previewFolder",
    summary="What a folder has in it",
    openapi_extra=SENT_AS_BYTES,
)
def preview_folder(request: HttpRequest) -> FolderLook:
    """Say what a zip of a whole folder has in it; nothing is made of it yet."""
    with _sent_folder(request) as folder:
        return look_at(folder)


@router.post(
    "/folders",
    response={201: StudyDetail, 422: Problems},
    operation_id="openFolder",
    summary="A study from a folder",
    openapi_extra=SENT_AS_BYTES,
)
def open_folder(request: HttpRequest) -> JsonResponse:
    """Make a study of a zip of a whole folder; its runs and searches are made again by workers."""
    with _sent_folder(request) as folder:
        return whole_study(make_study(person_of(request), folder), 201)


@contextmanager
def _sent_folder(request: HttpRequest) -> Iterator[FolderRead]:
    with filed(sent_pieces(request), MOST_SENT) as file, unzipping(Path(file.name)) as unzipped:
        yield FolderRead(unzipped)
