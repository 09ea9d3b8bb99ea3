"""Memos: what runs say, as a page for the one who decides."""

from datetime import datetime
from typing import Annotated, Any, Literal, TypeVar

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from flowcore.exchange.memo_page import Evidence, written_page
from flowcore.findings.words import as_text
from flowcore.problems import StudyError, error_at
from flowcore.reports.findings import RunFindings
from flowcore.reports.memo import MemoText, Tried, memo_of_comparison, memo_of_run
from flowcore.reports.observed import Fit, held_against
from flowcore.results.catalogue import MINUTES_COUNTED
from flowcore.results.statistics import Estimate
from flowcore.study.base import Text
from urbanqueue.api.comparison import COST, MOST_COLUMNS, WAIT, compared, parts_of
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.files import written_as
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import computed, figures_at, summed_up
from urbanqueue.memos import actions
from urbanqueue.memos.models import Memo
from urbanqueue.memos.policies import MemoPolicy
from urbanqueue.memos.printer import CannotPrint, browser, printed
from urbanqueue.memos.standing import columns_of, made_of, what_has_changed
from urbanqueue.runs.models import Part
from urbanqueue.runs.samples import study_of
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["memos"], by_alias=True)
Answer = TypeVar("Answer")


class MemoColumn(Schema):
    """A scenario of a run that a memo is of."""

    run: int
    number: int
    scenario: str
    name: str
    done: int


class MemoEntry(Schema):
    """A memo in the list of a study's, with what has changed since it was made."""

    id: int
    title: str
    columns: list[MemoColumn]
    stale: list[str]
    created_at: datetime
    changed_at: datetime


class MemoPage(MemoEntry):
    """A whole memo; `edition` counts its changes. `prints_here` where the server has a browser that prints."""

    study: int
    text: MemoText
    edition: int
    prints_here: bool


class NewMemo(Sent):
    """What a memo is to be made of: columns such as `12:one-more`, the others held against the first."""

    columns: Annotated[list[Text], Field(min_length=1, max_length=MOST_COLUMNS)]


class MemoChange(Sent):
    """What is to stand in a memo from now on, and the edition that was changed."""

    text: MemoText
    edition: int


class MemoFile(Sent):
    """How a memo is to be saved, and the pictures of it in their order."""

    form: Literal["html", "pdf"]
    evidence: Annotated[list[Evidence], Field(max_length=20)] = []


def _entry(memo: Memo) -> dict[str, Any]:
    return {
        "id": memo.pk,
        "title": memo.text["title"],
        "columns": [MemoColumn(**each._asdict()) for each in columns_of(memo)],
        "stale": what_has_changed(memo),
        "created_at": memo.created_at,
        "changed_at": memo.changed_at,
    }


def _page(memo: Memo) -> MemoPage:
    text = MemoText.model_validate(memo.text)
    prints = browser() is not None
    return MemoPage(**_entry(memo), study=memo.study_id, text=text, edition=memo.edition, prints_here=prints)


@router.get(
    "/studies/{study_id}/memos",
    response={200: list[MemoEntry], 404: Problems},
    operation_id="listMemos",
    summary="Memos of a study",
)
def list_memos(request: HttpRequest, study_id: int) -> list[MemoEntry]:
    """Return the memos of a study, the newest first."""
    study = StudyPolicy(person_of(request)).get(study_id)
    return [MemoEntry(**_entry(memo)) for memo in study.memos.all()]


@router.post(
    "/studies/{study_id}/memos",
    response={201: MemoPage, 404: Problems, 422: Problems, 503: Problems},
    operation_id="writeMemo",
    summary="Write a memo",
)
def write_memo(request: HttpRequest, study_id: int, payload: NewMemo) -> Any:
    """Write a memo of a scenario that was run, or of a comparison of several, and keep it with the study."""
    study = StudyPolicy(person_of(request)).get(study_id)
    parts = parts_of(request, study_id, payload.columns)
    try:
        text = _of_run(parts[0]) if len(parts) == 1 else _of_comparison(parts)
    except NotKnownYet as answer:
        return answer.status
    return Status(201, _page(actions.keep_memo(study, text, parts)))


class NotKnownYet(Exception):
    """Raised where what a memo tells is not put together; the status says why."""

    def __init__(self, status: Status[Problems]) -> None:
        super().__init__(status)
        self.status = status


def _known(answer: Answer | Status[Problems]) -> Answer:
    if isinstance(answer, Status):
        raise NotKnownYet(answer)
    return answer


def _of_run(part: Part) -> MemoText:
    study = study_of(part)
    own = {key: getattr(study, key) for key in ("run", "scenarios", "measures")}
    baseline = document_of(part.run.version).model_copy(update=own)
    findings = RunFindings.model_validate(_known(summed_up(part, "findings")))
    return memo_of_run(Tried(name=part.name, study=study), baseline, findings, _figures(part), _fits(part))


def _of_comparison(parts: list[Part]) -> MemoText:
    now = current_version(parts[0].run.version.study).pk
    comparison = _known(computed(compared, parts, now, (), (COST, WAIT), (), (), ()))
    names = [column.name for column in comparison.columns]
    tried = [Tried(name=name, study=study_of(part)) for name, part in zip(names, parts, strict=True)]
    sentences = [as_text(sentence) for sentence in comparison.sentences]
    return memo_of_comparison(tried, sentences, comparison.grounds, _figures(parts[0]), _fits(parts[0]))


def _figures(part: Part) -> dict[str, Estimate]:
    return {address: Estimate(**each) for address, each in _known(summed_up(part, "figures")).items()}


def _fits(part: Part) -> list[Fit]:
    now = document_of(current_version(part.run.version.study))
    return held_against(now, _known(figures_at(part, [MINUTES_COUNTED, *(each.figure for each in now.observed)])))


@router.get("/memos/{memo_id}", response={200: MemoPage, 404: Problems}, operation_id="getMemo", summary="A memo")
def get_memo(request: HttpRequest, memo_id: int) -> MemoPage:
    """Return a memo, and what has changed since it was made."""
    return _page(MemoPolicy(person_of(request)).get(memo_id))


@router.put(
    "/memos/{memo_id}",
    response={200: MemoPage, 404: Problems, 409: Problems, 422: Problems},
    operation_id="changeMemo",
    summary="Change a memo",
)
def change_memo(request: HttpRequest, memo_id: int, payload: MemoChange) -> Any:
    """Change what stands in a memo, where nobody has changed it since the edition that is given."""
    memo = MemoPolicy(person_of(request)).get(memo_id)
    try:
        return _page(actions.rewrite(memo, payload.text, payload.edition))
    except actions.WrittenMeanwhile:
        what = "The memo was changed elsewhere meanwhile."
        problem = error_at("edition", what, "Copy what you typed, and load the memo again.")
        return Status(409, Problems(problems=[problem]))


@router.delete("/memos/{memo_id}", response={204: None, 404: Problems}, operation_id="deleteMemo", summary="Delete")
def delete_memo(request: HttpRequest, memo_id: int) -> Status[None]:
    """Delete a memo; its runs stay."""
    MemoPolicy(person_of(request)).get(memo_id).delete()
    return Status(204, None)


@router.post(
    "/memos/{memo_id}/file",
    response={200: str, 404: Problems, 422: Problems, 503: Problems},
    operation_id="saveMemo",
    summary="A memo as a file",
    openapi_extra=written_as("text/html", "application/pdf"),
)
def save_memo(request: HttpRequest, memo_id: int, payload: MemoFile) -> Any:
    """Return a memo as a page that needs nothing else, or printed as PDF where the server can."""
    memo = MemoPolicy(person_of(request)).get(memo_id)
    text = MemoText.model_validate(memo.text)
    page = written_page(text.title, made_of(memo), what_has_changed(memo), text.sections, payload.evidence)
    if payload.form == "html":
        return HttpResponse(page, content_type="text/html; charset=utf-8")
    try:
        return HttpResponse(printed(page), content_type="application/pdf")
    except CannotPrint:
        what = "The server cannot print right now."
        raise StudyError([error_at("form", what, "Save the page, and print it from the browser.")]) from None
