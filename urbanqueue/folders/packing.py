"""A study with its versions, runs, searches, memos and logs as the files of its whole folder."""

import json
from collections.abc import Callable, Iterable, Iterator
from typing import Any

from django.db.models import Q

from flowcore.engine import ENGINE
from flowcore.exchange.folder.contents import (
    CONTENTS,
    README,
    STUDY,
    Contents,
    DataIn,
    MemoColumnIn,
    MemoIn,
    PartIn,
    RunIn,
    SearchIn,
    VersionIn,
)
from flowcore.exchange.folder.write import readme_of, tables_of
from flowcore.exchange.memo_page import written_page
from flowcore.reports.memo import MemoText
from flowcore.study.formats import brought_up
from urbanqueue.accounts.models import Person
from urbanqueue.logs.actions import pieces_of
from urbanqueue.logs.models import LogFile
from urbanqueue.memos.models import Memo
from urbanqueue.memos.standing import columns_of, made_of, what_has_changed
from urbanqueue.runs.actions import runs_of
from urbanqueue.runs.models import Part, Run
from urbanqueue.runs.samples import results_of, study_of
from urbanqueue.searches.models import Search
from urbanqueue.studies.models import Study, Version

File = tuple[str, Iterable[bytes]]
Tables = list[tuple[str, bytes]]


def contents_of(study: Study) -> Contents:
    """Return what a folder of a study would have in it."""
    shown = Q(folded=False) | Q(runs__isnull=False) | Q(searches__isnull=False)
    versions = study.versions.filter(shown).distinct().select_related("saved_by").defer("document").order_by("number")
    runs = runs_of(study).prefetch_related("parts__sample").order_by("number")
    searches = Search.objects.filter(version__study=study).select_related("version", "started_by").order_by("number")
    return Contents(
        engine=ENGINE,
        current=study.version,
        versions=[_version_in(version) for version in versions],
        runs=[_run_in(run) for run in runs],
        searches=[_search_in(search) for search in searches.defer("version__document", "answer")],
        memos=[_memo_in(number, memo) for number, memo in enumerate(_memos_of(study), start=1)],
        data=[_data_in(number, log) for number, log in enumerate(_logs_of(study), start=1)],
    )


def files_of(study: Study, tables_of_part: Callable[[Part], Tables]) -> Iterator[File]:
    """Yield the files of a study's folder, each when it is asked for, as the tables of parts are then."""
    contents = contents_of(study)
    current = study.versions.get(number=study.version)
    yield README, [readme_of(study.name, contents).encode()]
    yield CONTENTS, [_json(contents.model_dump(mode="json", exclude_defaults=True))]
    yield STUDY, [_json(brought_up(current.document))]
    for version in contents.versions:
        yield version.file, [_json(brought_up(study.versions.get(number=version.number).document))]
    for memo_in, memo in zip(contents.memos, _memos_of(study), strict=True):
        yield from _files_of_memo(memo_in, memo)
    for search in contents.searches:
        found = Search.objects.get(version__study=study, number=search.number)
        if found.answer is not None:
            yield search.file, [_json(found.answer)]
    for run in contents.runs:
        yield from _files_of_run(study, run, tables_of_part)
    for data_in, log in zip(contents.data, _logs_of(study), strict=True):
        yield data_in.file, pieces_of(log)


def tables_of_one(part: int) -> Tables:
    """Return the tables of a part, by its key; none where it is gone meanwhile or has no replication."""
    found = Part.objects.select_related("sample", "run__version").filter(pk=part, done__gt=0).first()
    return list(tables_of(study_of(found), results_of(found))) if found else []


def _files_of_run(study: Study, run: RunIn, tables_of_part: Callable[[Part], Tables]) -> Iterator[File]:
    parts = Part.objects.filter(run__version__study=study, run__number=run.number, run__redraws=None)
    for place, part in enumerate(parts.order_by("place")):
        for name, table in tables_of_part(part):
            yield f"{run.folder_of(place)}/{name}", [table]


def _files_of_memo(memo_in: MemoIn, memo: Memo) -> Iterator[File]:
    text = MemoText.model_validate(memo.text)
    yield memo_in.file, [_json(memo.text)]
    yield memo_in.page, [written_page(text.title, made_of(memo), what_has_changed(memo), text.sections, []).encode()]


def _memos_of(study: Study) -> Iterable[Memo]:
    return study.memos.select_related("study").order_by("created_at", "pk")


def _logs_of(study: Study) -> Iterable[LogFile]:
    return study.logs.defer("preview", "report", "doubts", "look", "found").order_by("brought_at", "pk")


def _version_in(version: Version) -> VersionIn:
    return VersionIn(
        number=version.number,
        saved_at=version.saved_at,
        since=version.since,
        saved_by=_name_of(version.saved_by),
        changed=version.changed,
        restores=version.restores,
    )


def _run_in(run: Run) -> RunIn:
    return RunIn(
        number=run.number,
        version=run.version.number,
        name=run.name,
        note=run.note,
        started_by=_name_of(run.started_by),
        state=run.state,
        settings=run.settings,
        engine=run.engine,
        parts=[_part_in(part) for part in run.parts.all()],
    )


def _part_in(part: Part) -> PartIn:
    measures = part.sample.document.get("measures", [])
    return PartIn(scenario=part.scenario, name=part.name, done=part.done, measures=measures)


def _search_in(search: Search) -> SearchIn:
    return SearchIn(
        number=search.number,
        version=search.version.number,
        sizing=search.sizing,
        scenario=search.scenario,
        name=search.name,
        started_by=_name_of(search.started_by),
        engine=search.engine,
    )


def _memo_in(number: int, memo: Memo) -> MemoIn:
    columns = [
        MemoColumnIn(run=column.number, scenario=column.scenario, name=column.name, done=column.done)
        for column in columns_of(memo)
    ]
    return MemoIn(number=number, columns=columns, created_at=memo.created_at, changed_at=memo.changed_at)


def _data_in(number: int, log: LogFile) -> DataIn:
    return DataIn(
        number=number,
        name=log.name,
        brought_at=log.brought_at,
        reading=log.reading,
        treatment=log.treatment,
        matching=log.matching,
    )


def _name_of(person: Person | None) -> str:
    return person.name if person else ""


def _json(said: Any) -> bytes:
    return json.dumps(said, ensure_ascii=False, indent=1).encode()
