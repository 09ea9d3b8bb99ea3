"""What the files of a whole folder say, each checked by itself."""

from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from flowcore.exchange.folder.contents import CONTENTS, Contents, MemoIn, VersionIn
from flowcore.exchange.folder.unzipping import Unzipping, told_in
from flowcore.problems import MOST_PROBLEMS, StudyError, error_at
from flowcore.reports.memo import MemoText
from flowcore.study import StudyDocument, read_study
from flowcore.study.wording import problem_of

Read = TypeVar("Read", bound=BaseModel)


def read_contents(file: Unzipping) -> Contents:
    """Return what is in a folder; raises StudyError where it has no list, or one that does not fit together."""
    if CONTENTS not in file:
        mend = "Choose a zip that was exported as the whole folder of a study."
        raise StudyError([error_at("file", f"It is a zip without a “{CONTENTS}”.", mend)])
    return _validated(Contents, CONTENTS, file.json(CONTENTS))


def read_version(file: Unzipping, version: VersionIn) -> StudyDocument:
    """Return a version of the document; raises StudyError where it cannot be read."""
    document = file.json(version.file)
    try:
        return read_study(document)
    except StudyError as error:
        raise told_in(version.file, error) from error


def read_memo(file: Unzipping, memo: MemoIn) -> MemoText:
    """Return what stands in a memo; raises StudyError where it cannot be read."""
    return _validated(MemoText, memo.file, file.json(memo.file))


def _validated(model: type[Read], name: str, said: Any) -> Read:
    try:
        return model.model_validate(said)
    except ValidationError as error:
        problems = [problem_of(entry, said) for entry in error.errors()[:MOST_PROBLEMS]]
        raise told_in(name, StudyError(problems)) from None
