"""Studies, their documents and their history."""

from datetime import datetime
from typing import Annotated, Any

from django.db import models
from django.http import HttpRequest, JsonResponse
from django.shortcuts import get_object_or_404
from ninja import Header, Router, Schema, Status
from pydantic import StringConstraints

from flowcore.checks import check_study
from flowcore.exchange.notes import Count
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument, written
from flowcore.study.differences import Change, differences
from flowcore.study.formats import brought_up
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.people import person_of
from urbanqueue.runs.findings import Finding, last_findings
from urbanqueue.studies import actions
from urbanqueue.studies.blank import blank_study
from urbanqueue.studies.models import Study, Version
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["studies"], by_alias=True)

MOST_LISTED = 100
COUNTED = {
    "streams": ("stream", "streams"),
    "case_types": ("case type", "case types"),
    "steps": ("step", "steps"),
    "teams": ("team", "teams"),
    "scenarios": ("scenario", "scenarios"),
    "levers": ("lever", "levers"),
    "targets": ("target", "targets"),
    "sizing": ("search for staffing", "searches for staffing"),
}
"""What a preview counts, by part of the document."""


class StudyEntry(Schema):
    """A study in the list."""

    id: int
    name: str
    version: int
    changed_at: datetime
    runs: int = 0
    finding: Finding | None = None


class DeletedStudy(Schema):
    """A study that was deleted, and until when it can be restored."""

    id: int
    name: str
    deleted_at: datetime
    restorable_until: datetime


class NewStudy(Sent):
    """What a new study starts from: a name, a document, or another study."""

    name: Annotated[str, StringConstraints(max_length=120)] | None = None
    document: StudyDocument | None = None
    copy_of: int | None = None


class StudyPreview(Schema):
    """What a study file has in it, before a study is made of it."""

    name: str
    about: str
    found: list[Count]
    problems: list[Problem]


class StudyDetail(Schema):
    """A study with its document and what is wrong or doubtful in it."""

    id: int
    version: int
    document: StudyDocument
    problems: list[Problem]


class Saved(Schema):
    """What became of a saved document."""

    version: int
    saved_at: datetime
    problems: list[Problem]


class ConflictBody(Schema):
    """Two documents that were both made from an older one; neither is lost.

    `both` has the changes of the two together, yours where they clash; None where that makes no sense.
    """

    problems: list[Problem]
    version: int
    yours: StudyDocument
    theirs: StudyDocument
    both: StudyDocument | None
    clashes: list[str]
    yours_changed: list[Change]
    theirs_changed: list[Change]


class VersionEntry(Schema):
    """A version in the history."""

    number: int
    saved_at: datetime
    saved_by: str | None
    changed: str


def whole_study(study: Study, status: int = 200) -> JsonResponse:
    """Answer with the document as it was saved, in the present format: it can be opened where it cannot be read."""
    version = actions.current_version(study)
    problems = [problem.model_dump(mode="json") for problem in actions.problems_of(version.pk)]
    whole = {"id": study.pk, "version": study.version, "document": brought_up(version.document), "problems": problems}
    return JsonResponse(whole, status=status)


@router.get("", response=list[StudyEntry], operation_id="listStudies", summary="All studies")
def list_studies(request: HttpRequest) -> list[StudyEntry]:
    """List the person's studies, the latest changed first."""
    runs = models.Count("versions__runs", filter=models.Q(versions__runs__isnull=False))
    studies = StudyPolicy(person_of(request)).visible()
    findings = last_findings(studies)
    entries = studies.annotate(runs=runs).values("id", "name", "version", "changed_at", "runs")
    return [StudyEntry(**entry, finding=findings.get(entry["id"])) for entry in entries]


@router.get("/deleted", response=list[DeletedStudy], operation_id="listDeleted", summary="Deleted studies")
def list_deleted(request: HttpRequest) -> list[DeletedStudy]:
    """List the studies that the person deleted and can still restore, the latest deleted first."""
    return [
        DeletedStudy(
            id=study.pk,
            name=study.name,
            deleted_at=study.deleted_at,
            restorable_until=actions.restorable_until(study),
        )
        for study in StudyPolicy(person_of(request)).deleted().order_by("-deleted_at")[:MOST_LISTED]
        if study.deleted_at
    ]


@router.post(
    "",
    response={201: StudyDetail, 404: Problems, 422: Problems},
    operation_id="createStudy",
    summary="New study",
)
def create_study(request: HttpRequest, payload: NewStudy) -> JsonResponse:
    """Create a study: blank, from a study file, or as a copy."""
    person = person_of(request)
    if payload.copy_of is not None:
        study = actions.copy_study(StudyPolicy(person).get(payload.copy_of), person)
    else:
        document = payload.document or blank_study((payload.name or "").strip() or "New study")
        study = actions.create_study(person, document)
    return whole_study(study, 201)


@router.post(
    "/preview",
    response={200: StudyPreview, 422: Problems},
    operation_id="previewStudy",
    summary="What a file has in it",
)
def preview_study(request: HttpRequest, document: StudyDocument) -> StudyPreview:
    """Say what a study file has in it; nothing is made of it yet."""
    counts = [Count.of(*words, len(getattr(document, part))) for part, words in COUNTED.items()]
    found = [each for each in counts if each.count]
    return StudyPreview(name=document.name, about=document.about, found=found, problems=check_study(document))


@router.get(
    "/{study_id}",
    response={200: StudyDetail, 404: Problems},
    operation_id="getStudy",
    summary="One study",
)
def get_study(request: HttpRequest, study_id: int) -> JsonResponse:
    """Return a study with its current document."""
    return whole_study(StudyPolicy(person_of(request)).get(study_id))


@router.delete("/{study_id}", response={204: None, 404: Problems}, operation_id="deleteStudy", summary="Delete")
def delete_study(request: HttpRequest, study_id: int) -> Status[None]:
    """Delete a study; it can be restored."""
    actions.delete_study(StudyPolicy(person_of(request)).get(study_id))
    return Status(204, None)


@router.post(
    "/{study_id}/restore", response={204: None, 404: Problems}, operation_id="restoreStudy", summary="Undo delete"
)
def restore_study(request: HttpRequest, study_id: int) -> Status[None]:
    """Bring a deleted study back."""
    actions.restore_study(get_object_or_404(StudyPolicy(person_of(request)).deleted(), pk=study_id))
    return Status(204, None)


@router.put(
    "/{study_id}/document",
    response={200: Saved, 404: Problems, 409: ConflictBody, 422: Problems, 428: Problems},
    operation_id="saveDocument",
    summary="Save",
    exclude_unset=True,
)
def save_document(
    request: HttpRequest,
    study_id: int,
    document: StudyDocument,
    if_match: Annotated[str | None, Header(alias="If-Match")] = None,
    restores: int | None = None,
) -> Status[Any]:
    """Save a document on top of the version named by If-Match; `restores` names the older version it was taken from."""
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    expected = (if_match or "").removeprefix("W/").strip('"')
    if not (expected.isascii() and expected.isdecimal() and len(expected) < 10):
        what = "The request does not say which version the document was made from."
        problem = error_at(where="If-Match", what=what, mend='Send the version as If-Match, such as "3".')
        return Status(428, Problems(problems=[problem]))
    try:
        version = actions.save_document(study.pk, int(expected), document, person, restores)
    except actions.Conflict as conflict:
        return Status(409, _conflict(actions.version_numbered(study, int(expected)), conflict.current, document))
    problems = check_study(document)
    return Status(200, Saved(version=version.number, saved_at=version.saved_at, problems=problems))


def _conflict(base: Version | None, current: Version, yours: StudyDocument) -> ConflictBody:
    problem = error_at(
        where="document",
        what="The study was saved elsewhere since you opened it.",
        mend="Keep yours, take theirs, or keep yours as a study of its own.",
    )
    theirs = actions.document_of(current)
    older = actions.document_of(base) if base else theirs
    both, clashes = actions.both(base, current, yours)
    return ConflictBody(
        problems=[problem],
        version=current.number,
        yours=yours,
        theirs=theirs,
        both=both,
        clashes=clashes,
        yours_changed=differences(older, yours),
        theirs_changed=differences(older, theirs),
    )


@router.get(
    "/{study_id}/checks", response={200: list[Problem], 404: Problems}, operation_id="getChecks", summary="Checks"
)
def get_checks(request: HttpRequest, study_id: int) -> list[Problem]:
    """Return what is wrong or doubtful in a study."""
    study = StudyPolicy(person_of(request)).get(study_id)
    return actions.problems_of(actions.current_version(study).pk)


@router.get(
    "/{study_id}/versions",
    response={200: list[VersionEntry], 404: Problems},
    operation_id="listVersions",
    summary="History",
)
def list_versions(request: HttpRequest, study_id: int, before: int | None = None) -> list[VersionEntry]:
    """List the latest versions of a study, the latest first; those `before` a number are older."""
    study = StudyPolicy(person_of(request)).get(study_id)
    versions = study.versions.filter(folded=False).select_related("saved_by").defer("document")
    older = versions if before is None else versions.filter(number__lt=before)
    return [
        VersionEntry(
            number=each.number,
            saved_at=each.saved_at,
            saved_by=each.saved_by.name if each.saved_by else None,
            changed=each.changed,
        )
        for each in older[:MOST_LISTED]
    ]


@router.get(
    "/{study_id}/versions/{number}",
    response={200: dict[str, Any], 404: Problems},
    operation_id="getVersion",
    summary="One version",
)
def get_version(request: HttpRequest, study_id: int, number: int) -> dict[str, Any]:
    """Return the document of one version as a study file."""
    study = StudyPolicy(person_of(request)).get(study_id)
    version = get_object_or_404(study.versions, number=number)
    return written(actions.document_of(version))


@router.get(
    "/{study_id}/versions/{number}/since",
    response={200: list[Change], 404: Problems},
    operation_id="changesSince",
    summary="Changes since a version",
)
def changes_since(request: HttpRequest, study_id: int, number: int) -> list[Change]:
    """Return what has changed from a version to the current one."""
    study = StudyPolicy(person_of(request)).get(study_id)
    version = get_object_or_404(study.versions, number=number)
    return differences(actions.document_of(version), actions.document_of(actions.current_version(study)))
