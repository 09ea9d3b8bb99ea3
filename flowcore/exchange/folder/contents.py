"""What stands in the list of a whole folder: each part with what it belongs to, and in which file it is."""

import re
from collections import Counter
from collections.abc import Iterable
from typing import Annotated, Any, Literal, Self

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints, model_validator

from flowcore.calibration.proposals.matching import Matching
from flowcore.logs.doubts import Treatment
from flowcore.logs.roles import Reading
from flowcore.problems import trouble
from flowcore.study.base import Count, Text
from flowcore.study.runs import RunSettings

CONTENTS = "folder.json"
STUDY = "study.json"
README = "readme.txt"
LONGEST_TEXT = 1_000_000
_UNUSUAL = re.compile(r"[^\w.() -]+")

ScenarioId = Annotated[str, StringConstraints(max_length=64)]
Label = Annotated[str, StringConstraints(max_length=120)]
LongText = Annotated[str, StringConstraints(max_length=LONGEST_TEXT)]


class Entry(BaseModel):
    """An entry of the list: a group of known keys."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class VersionIn(Entry):
    """A version of the document; `restores` is the number of the older one that it brought back, if any."""

    number: Count
    saved_at: AwareDatetime
    since: AwareDatetime
    saved_by: Label = ""
    changed: LongText = ""
    restores: Count | None = None

    @property
    def file(self) -> str:
        """Where the document is."""
        return f"versions/{self.number}.json"


class PartIn(Entry):
    """A scenario of a run, of which `done` replications are told; with the `measures` that were worked out of it."""

    scenario: ScenarioId = ""
    name: Label
    done: Annotated[int, Field(ge=0, le=10_000)]
    measures: Annotated[list[Any], Field(max_length=1000)] = []


class RunIn(Entry):
    """A run of a version: how it was run, how far it went, and which engine drew it."""

    number: Count
    version: Count
    name: Label = ""
    note: LongText = ""
    started_by: Label = ""
    state: Text
    settings: RunSettings
    engine: Text
    parts: Annotated[list[PartIn], Field(max_length=1000)]

    def folder_of(self, place: int) -> str:
        """Return where the tables of a part are."""
        return f"runs/{self.number}/{place + 1} {file_name(self.parts[place].name)}"


class SearchIn(Entry):
    """A search for staffing of a version, or of a scenario of it."""

    number: Count
    version: Count
    sizing: ScenarioId
    scenario: ScenarioId = ""
    name: Label
    started_by: Label = ""
    engine: Text

    @property
    def file(self) -> str:
        """Where the answer is."""
        return f"searches/{self.number}.json"


class MemoColumnIn(Entry):
    """A scenario of a run that a memo is of, as it was seen then."""

    run: Annotated[int, Field(ge=0)]
    scenario: ScenarioId = ""
    name: Label
    done: Annotated[int, Field(ge=0, le=1_000_000)]


class MemoIn(Entry):
    """A memo: of which runs, and when it was made and changed."""

    number: Count
    columns: Annotated[list[MemoColumnIn], Field(max_length=100)]
    created_at: AwareDatetime
    changed_at: AwareDatetime

    @property
    def file(self) -> str:
        """Where the text is, to be read again."""
        return f"memos/{self.number}.json"

    @property
    def page(self) -> str:
        """Where the page is, to be read by people."""
        return f"memos/{self.number}.html"


class DataIn(Entry):
    """A log as it was brought: how it is read, what is done about what is doubtful, what its names stand for."""

    number: Count
    name: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    brought_at: AwareDatetime
    reading: Reading | None = None
    treatment: Treatment = Treatment()
    matching: Matching = Matching()

    @property
    def file(self) -> str:
        """Where the log is."""
        return f"data/{self.number} {file_name(self.name)}"


class Contents(Entry):
    """All that is in a folder. `current` is the number of the version that the study has."""

    folder: Literal[1] = 1
    engine: Text
    current: Count
    versions: Annotated[list[VersionIn], Field(min_length=1, max_length=100_000)]
    runs: Annotated[list[RunIn], Field(max_length=20_000)] = []
    searches: Annotated[list[SearchIn], Field(max_length=20_000)] = []
    memos: Annotated[list[MemoIn], Field(max_length=20_000)] = []
    data: Annotated[list[DataIn], Field(max_length=100)] = []

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        for what in ("versions", "runs", "searches", "memos", "data"):
            _require_each_once(what, (each.number for each in getattr(self, what)))
        for run in self.runs:
            _require_each_once(f"scenarios of run {run.number}", (part.scenario for part in run.parts))
        return self

    @model_validator(mode="after")
    def _all_links_lead_somewhere(self) -> Self:
        versions = {version.number for version in self.versions}
        if self.current != max(versions):
            raise trouble(f"Version {self.current} is not the last one.", f"Name version {max(versions)} as current.")
        for number in {run.version for run in self.runs} | {search.version for search in self.searches}:
            if number not in versions:
                raise trouble(f"Version {number} is not in the list.", "Name one that is.")
        return self


def _require_each_once(what: str, keys: Iterable[int | str]) -> None:
    twice = [key for key, count in Counter(keys).items() if count > 1]
    if twice:
        raise trouble(f"Of the {what}, {twice[0] or 'the baseline'} is there twice.", "Leave one of them out.")


def file_name(name: str) -> str:
    """Return a name as a file can have it on any system."""
    return _UNUSUAL.sub("-", name).strip(" .-")[:80] or "unnamed"
