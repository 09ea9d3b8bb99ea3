"""What is wrong or doubtful in a study: a value with an address, a cause and a mend."""

from collections.abc import Sequence
from enum import StrEnum

from pydantic import BaseModel, ConfigDict
from pydantic_core import PydanticCustomError

MOST_PROBLEMS = 100
"""So many problems are put into words; a document with more of them is read again when these are mended."""


class Severity(StrEnum):
    """How much a problem matters: an error stops a run, a warning does not."""

    ERROR = "error"
    WARNING = "warning"


class Problem(BaseModel):
    """One finding about a study, the same object in checks, API, command line and sheet."""

    model_config = ConfigDict(frozen=True)

    where: str
    what: str
    mend: str
    level: Severity

    def __str__(self) -> str:
        return f"{self.level.value}: {self.where}: {self.what} {self.mend}"


def error_at(where: str, what: str, mend: str) -> Problem:
    """Make a problem that stops a run."""
    return Problem(where=where, what=what, mend=mend, level=Severity.ERROR)


def warning_at(where: str, what: str, mend: str) -> Problem:
    """Make a problem that does not stop a run."""
    return Problem(where=where, what=what, mend=mend, level=Severity.WARNING)


class StudyError(Exception):
    """Raised where a study cannot be read or run; carries every problem found."""

    def __init__(self, problems: Sequence[Problem]) -> None:
        super().__init__("\n".join(str(problem) for problem in problems))
        self.problems = list(problems)


def trouble(what: str, mend: str) -> PydanticCustomError:
    """Make the error that a model's validator raises, so that its mend reaches the reader."""
    escaped = what.replace("{", "{{").replace("}", "}}")
    return PydanticCustomError("trouble", escaped, {"what": what, "mend": mend})
