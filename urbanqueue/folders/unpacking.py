"""A study made of a whole folder: its versions as they were, its runs and searches made again with the same luck."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field

from django.db import transaction
from pydantic import BaseModel

from flowcore.engine import ENGINE
from flowcore.exchange.folder.contents import DataIn, MemoIn, RunIn, SearchIn, VersionIn
from flowcore.exchange.folder.read import read_contents, read_memo, read_version
from flowcore.exchange.folder.unzipping import Unzipping, told_in
from flowcore.exchange.notes import Count, NotKept
from flowcore.problems import StudyError
from flowcore.reports.memo import MemoText
from flowcore.simulate import require_sound
from flowcore.sizing.size import require_searchable
from flowcore.study import StudyDocument, read_study, written
from flowcore.study.scenarios import apply_scenario
from urbanqueue.accounts.models import Person
from urbanqueue.logs.actions import bring_log, read_as
from urbanqueue.memos.models import Memo
from urbanqueue.memos.standing import SeenColumn
from urbanqueue.runs.actions import make_run, sound_scenarios
from urbanqueue.runs.models import Run
from urbanqueue.runs.queue import hand_out
from urbanqueue.searches.actions import make_search
from urbanqueue.studies.models import Study, Version

LEFT_OUT = "It is left out."


@dataclass
class VersionRead:
    """A version that can be made again, with its runs (each with its documents by scenario) and its searches."""

    version: VersionIn
    document: StudyDocument
    runs: list[tuple[RunIn, dict[str, StudyDocument]]] = field(default_factory=list)
    searches: list[tuple[SearchIn, StudyDocument]] = field(default_factory=list)


class FolderRead:
    """A folder whose parts are read and checked one after the other; what cannot be made again is noted."""

    def __init__(self, file: Unzipping) -> None:
        self._file = file
        self.contents = read_contents(file)
        self.not_kept: list[NotKept] = []
        self._note_people()
        self._note_other_engines()

    def versions(self) -> Iterator[VersionRead]:
        """Yield the versions from the first to the current one; raises StudyError where that cannot be read."""
        for version in sorted(self.contents.versions, key=lambda each: each.number):
            try:
                found = VersionRead(version, read_version(self._file, version))
            except StudyError as error:
                if version.number == self.contents.current:
                    raise
                instead = "It is left out, and what was run of it."
                self._lose(version.file, f"Version {version.number}", _words_of(error), instead)
                continue
            self._add_runs(found)
            self._add_searches(found)
            yield found

    def memos(self) -> Iterator[tuple[MemoIn, MemoText]]:
        """Yield the memos that can be read."""
        for memo in self.contents.memos:
            try:
                yield memo, read_memo(self._file, memo)
            except StudyError as error:
                self._lose(memo.file, f"Memo {memo.number}", _words_of(error), LEFT_OUT)

    def data(self) -> Iterator[tuple[DataIn, Iterator[bytes]]]:
        """Yield the logs that are there, each with its pieces."""
        for log in self.contents.data:
            if log.file in self._file:
                yield log, self._file.pieces(log.file)
            else:
                self._lose(log.file, log.name, "The log is not in the zip.", LEFT_OUT)

    def _add_runs(self, found: VersionRead) -> None:
        for run in self.contents.runs:
            if run.version == found.version.number and (as_it_went := self._as_it_went(run)).parts:
                try:
                    found.runs.append((as_it_went, documents_of(found.document, as_it_went)))
                except StudyError as error:
                    self._lose(f"runs/{run.number}", f"Run {run.number}", _words_of(error), LEFT_OUT)

    def _as_it_went(self, run: RunIn) -> RunIn:
        """Return a run with what was done of it as what is wanted of it."""
        if run.state == Run.State.DONE and all(part.done for part in run.parts):
            return run
        done = sum(part.done for part in run.parts)
        self._lose(
            f"runs/{run.number}",
            f"Run {run.number}",
            f"It had not come to its end: it had {done:,} replications in all.",
            "It is run again with as many." if done else LEFT_OUT,
        )
        parts = [part for part in run.parts if part.done]
        most = max((part.done for part in parts), default=1)
        settings = run.settings.model_copy(update={"replications": most, "precision": None})
        return run.model_copy(update={"settings": settings, "parts": parts})

    def _add_searches(self, found: VersionRead) -> None:
        for search in self.contents.searches:
            if search.version == found.version.number:
                try:
                    document = apply_scenario(found.document, search.scenario)
                    require_searchable(document, search.sizing)
                    found.searches.append((search, document))
                except StudyError as error:
                    self._lose(search.file, f"Search {search.number}", _words_of(error), LEFT_OUT)

    def _note_people(self) -> None:
        contents = self.contents
        if any(each.saved_by for each in contents.versions) or any(each.started_by for each in contents.runs):
            what = "Those who saved the versions and started the runs may have no account here."
            self._lose("folder.json", "Who did what", what, "The history says “somebody”; what is run again is yours.")

    def _note_other_engines(self) -> None:
        engines = {run.engine for run in self.contents.runs} | {search.engine for search in self.contents.searches}
        if engines - {ENGINE}:
            what = "Some runs or searches were made by another version of the engine."
            instead = "They are made again by this one; where figures differ, those of before stay in the folder."
            self._lose("folder.json", "The engine", what, instead)

    def _lose(self, element: str, name: str, what: str, instead: str) -> None:
        self.not_kept.append(NotKept(element=element, name=name, what=what, instead=instead))


class FolderLook(BaseModel):
    """What a whole folder has in it, and what of it cannot be made again, before a study is made of it.

    `runs_again` where it has runs or searches, which are made again.
    """

    name: str
    about: str
    found: list[Count]
    runs_again: bool
    not_kept: list[NotKept]


def look_at(folder: FolderRead) -> FolderLook:
    """Say what a folder has in it; raises StudyError where no study can be made of it."""
    name = about = ""
    counts: Counter[tuple[str, str]] = Counter()
    runs_again = False
    for each in folder.versions():
        name, about = each.document.name, each.document.about
        counts[("version", "versions")] += 1
        counts[("run", "runs")] += len(each.runs)
        counts[("search for staffing", "searches for staffing")] += len(each.searches)
        runs_again |= bool(each.runs or each.searches)
    counts[("memo", "memos")] = sum(1 for _ in folder.memos())
    counts[("log", "logs")] = sum(1 for _ in folder.data())
    found = [Count.of(*words, count) for words, count in counts.items() if count]
    return FolderLook(name=name, about=about, found=found, runs_again=runs_again, not_kept=folder.not_kept)


def documents_of(study: StudyDocument, run: RunIn) -> dict[str, StudyDocument]:
    """Return what a run runs, by scenario, with the measures that were worked out of it; raises StudyError."""
    documents = sound_scenarios(study, [part.scenario for part in run.parts], run.settings)
    for part in run.parts:
        document = written(documents[part.scenario])
        if document.get("measures", []) != part.measures:
            documents[part.scenario] = read_study(document | {"measures": part.measures})
            require_sound(documents[part.scenario])
    return documents


def _words_of(error: StudyError) -> str:
    first, *others = error.problems
    return f"{first.where}: {first.what}" + (f" And {len(others)} more." if others else "")


@transaction.atomic
def make_study(person: Person, folder: FolderRead) -> Study:
    """Make a study of all that is in a folder; raises StudyError where it cannot be made, and nothing is made then."""
    study = Study.objects.create(owner=person, name="", version=folder.contents.current)
    runs: dict[int, Run] = {}
    for each in folder.versions():
        study.name = each.document.name
        version = _make_version(study, each)
        for run, documents in each.runs:
            runs[run.number] = _make_run(version, person, run, documents)
        for search, document in each.searches:
            make_search(version, person, document, search.sizing, search.scenario, search.number)
    study.save(update_fields=["name"])
    for memo, text in folder.memos():
        _make_memo(study, memo, text, runs)
    for log, pieces in folder.data():
        _make_log(study, person, log, pieces)
    transaction.on_commit(hand_out)
    return study


def _make_version(study: Study, read: VersionRead) -> Version:
    return Version.objects.create(
        study=study,
        number=read.version.number,
        document=written(read.document),
        changed=read.version.changed,
        saved_at=read.version.saved_at,
        since=read.version.since,
        restores=read.version.restores,
    )


def _make_run(version: Version, person: Person, run: RunIn, documents: dict[str, StudyDocument]) -> Run:
    wanted = {part.scenario: part.done for part in run.parts}
    made = make_run(version, person, documents, run.number, wanted)
    made.name, made.note = run.name, run.note
    made.save(update_fields=["name", "note"])
    return made


def _make_memo(study: Study, memo: MemoIn, text: MemoText, runs: dict[int, Run]) -> None:
    columns = [
        SeenColumn(runs[each.run].pk if each.run in runs else 0, each.run, each.scenario, each.name, each.done)
        for each in memo.columns
    ]
    told = [column._asdict() for column in columns]
    made = Memo.objects.create(study=study, text=text.model_dump(mode="json"), columns=told)
    Memo.objects.filter(pk=made.pk).update(created_at=memo.created_at, changed_at=memo.changed_at)


def _make_log(study: Study, person: Person, log: DataIn, pieces: Iterator[bytes]) -> None:
    try:
        made = bring_log(study, person, log.name, pieces)
        made.treatment = log.treatment.model_dump(mode="json")
        made.matching = log.matching.model_dump(mode="json")
        made.save(update_fields=["treatment", "matching"])
        if log.reading is not None:
            read_as(made, log.reading)
    except StudyError as error:
        raise told_in(log.file, error) from error
