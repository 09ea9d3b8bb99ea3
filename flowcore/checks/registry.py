"""The list of all health checks, and the one way to apply them."""

import logging
from collections.abc import Callable, Iterator, Sequence

from flowcore.problems import Problem, Severity, warning_at
from flowcore.study import StudyDocument

Check = Callable[[StudyDocument], Iterator[Problem]]

_SOUNDNESS: list[Check] = []
_DOUBTS: list[Check] = []


def soundness(check: Check) -> Check:
    """Register a check that every study can be put through."""
    _SOUNDNESS.append(check)
    return check


def doubt(check: Check) -> Check:
    """Register a check that needs a study without errors."""
    _DOUBTS.append(check)
    return check


def check_study(study: StudyDocument) -> list[Problem]:
    """Return every problem of a study, errors first."""
    problems = _found(_SOUNDNESS, study)
    if not any(problem.level is Severity.ERROR for problem in problems):
        problems += _found(_DOUBTS, study)
    return sorted(problems, key=lambda problem: problem.level is not Severity.ERROR)


def errors_of(study: StudyDocument) -> list[Problem]:
    """Return the problems for which a study cannot run; a doubt is never one."""
    return [problem for problem in _found(_SOUNDNESS, study) if problem.level is Severity.ERROR]


def _found(checks: Sequence[Check], study: StudyDocument) -> list[Problem]:
    """Return what checks find; one that fails is a mistake of ours, is logged, and locks no study."""
    problems: list[Problem] = []
    for check in checks:
        try:
            problems += check(study)
        except Exception:
            logging.getLogger(__name__).exception("The check %s failed.", check.__name__)
            what = f"Whether {(check.__doc__ or check.__name__).splitlines()[0].rstrip('.').lower()} could not be seen."
            problems.append(warning_at("study", what, "The fault is in the program: it has been noted."))
    return problems
