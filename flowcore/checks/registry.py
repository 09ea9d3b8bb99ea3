"""The list of all health checks, and the one way to apply them."""

from collections.abc import Callable, Iterator

from flowcore.problems import Level, Problem
from flowcore.study import Study

Check = Callable[[Study], Iterator[Problem]]

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


def check_study(study: Study) -> list[Problem]:
    """Return every problem of a study, errors first."""
    problems = [problem for check in _SOUNDNESS for problem in check(study)]
    if not any(problem.level is Level.ERROR for problem in problems):
        problems += [problem for check in _DOUBTS for problem in check(study)]
    return sorted(problems, key=lambda problem: problem.level is not Level.ERROR)


def errors_of(study: Study) -> list[Problem]:
    """Return the problems for which a study cannot run; a doubt is never one."""
    return [problem for check in _SOUNDNESS for problem in check(study) if problem.level is Level.ERROR]
