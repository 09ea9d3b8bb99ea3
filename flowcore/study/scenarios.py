"""Scenarios: the study with some levers moved or parts changed."""

from collections.abc import Iterator
from copy import deepcopy
from typing import Any

import jsonpatch
from jsonpointer import JsonPointerException

from flowcore.problems import Problem, StudyError, error_at
from flowcore.study.base import Id
from flowcore.study.document import StudyDocument, read_study
from flowcore.study.levers import moved
from flowcore.study.pointers import pointer_to
from flowcore.study.runs import Lever, PatchStep, Scenario

MOST_PARTS_COPIED = 100_000
MADE_ANEW = "Make the change anew, or drop it."
BASELINE = ""
"""In place of a scenario's id: the study as it is."""
BASELINE_NAME = "As it is today"


def scenario_name(study: StudyDocument, scenario_id: str) -> str:
    """Return the name of a scenario, or of the baseline; StudyError says which there are."""
    return BASELINE_NAME if scenario_id == BASELINE else _scenario(study, scenario_id).name


def apply_scenario(study: StudyDocument, scenario_id: str) -> StudyDocument:
    """Return the study as a scenario has it, without levers and scenarios; the baseline without scenarios only.

    Levers are moved first, in the study's order, then the changes are made one after the other.
    Raises StudyError where there is no such scenario, where levers or changes do not fit the
    study, or where the outcome is no study.
    """
    if scenario_id == BASELINE:
        return study.model_copy(update={"scenarios": []})
    document, problems = _applied(study, _scenario(study, scenario_id))
    if problems:
        raise StudyError(problems)
    return read_study(document | {"scenarios": [], "levers": []})


def misfits(study: StudyDocument, scenario: Scenario) -> list[Problem]:
    """Return what of a scenario does not fit the study, each at its lever or its change; the rest is made."""
    return _applied(study, scenario)[1]


def _scenario(study: StudyDocument, scenario_id: Id) -> Scenario:
    scenario = next((each for each in study.scenarios if each.id == scenario_id), None)
    if scenario is None:
        known = ", ".join(each.id for each in study.scenarios) or "none"
        raise StudyError([error_at("scenarios", f"There is no scenario “{scenario_id}”.", f"Known are: {known}.")])
    return scenario


def _applied(study: StudyDocument, scenario: Scenario) -> tuple[dict[str, Any], list[Problem]]:
    """Return the document with all of a scenario that fits, and what does not fit.

    A test that fails says that a row of a list is not the one that was meant: nothing further is changed in that list.
    """
    levers = [lever for lever in study.levers if lever.id in scenario.levers]
    paths = [path for lever in levers for path in lever.sets]
    paths += [path for change in scenario.changes for path in (change.path, change.from_) if path is not None]
    document = parts_around(study, paths)
    known = {lever.id for lever in levers}
    problems = [_no_lever(scenario, each) for each in scenario.levers if each not in known]
    problems += [problem for lever in levers for problem in _move(document, lever, scenario)]
    room = MOST_PARTS_COPIED
    shut: list[str] = []
    for number, change in enumerate(scenario.changes):
        where = f"scenarios/{scenario.id}/changes/{number}"
        if any(change.path.startswith(each) for each in shut):
            problems.append(error_at(where, f"What {change.path} stood for is no longer there.", MADE_ANEW))
            continue
        try:
            if change.op == "copy":
                room -= _parts_in(document, change, room, where)
            document = _changed(document, change, where)
        except StudyError as error:
            problems += error.problems
            if change.op == "test":
                shut.append(change.path.rsplit("/", 2)[0] + "/")
    return document, problems


def parts_around(study: StudyDocument, paths: list[str]) -> dict[str, Any]:
    """Return a study's parts, as JSON those that pointers lead into, the others as they are."""
    named = None if "" in paths else {path.split("/")[1] for path in paths if "/" in path}
    return dict(study) | study.model_dump(mode="json", include=named)


def _no_lever(scenario: Scenario, lever: Id) -> Problem:
    where = f"scenarios/{scenario.id}/levers/{lever}"
    return error_at(where, f"It moves a lever “{lever}” that is not there.", "Drop it.")


def _move(document: dict[str, Any], lever: Lever, scenario: Scenario) -> Iterator[Problem]:
    """Move a lever, and yield a problem for every place where it cannot be."""
    value = scenario.levers[lever.id]
    where = f"scenarios/{scenario.id}/levers/{lever.id}"
    for path in lever.sets:
        try:
            pointer = pointer_to(document, path)
            owner, key = pointer.to_last(document)
            if isinstance(owner, dict) and key not in owner:
                raise KeyError(key)
            before = pointer.resolve(document)
        except (KeyError, IndexError, TypeError, JsonPointerException) as error:
            yield _leads_nowhere(where, path, error)
            continue
        try:
            pointer.set(document, deepcopy(moved(lever, str(key), before, value)))
        except ValueError:
            yield error_at(where, f"What stands at {path} cannot be scaled by {value}.", "Take the place away.")


def _parts_in(document: dict[str, Any], change: PatchStep, most: int, where: str) -> int:
    """Return how many parts a change copies; raises StudyError where they are more than there may be."""
    parts = 0
    try:
        ahead = [pointer_to(document, change.from_ or "").resolve(document)]
    except (KeyError, JsonPointerException) as error:
        raise StudyError([_leads_nowhere(where, change.from_ or "", error)]) from None
    while ahead:
        here = ahead.pop()
        parts += 1
        if parts > most:
            what = f"The changes copy more than {MOST_PARTS_COPIED} parts of the study."
            raise StudyError([error_at(where, what, "Copy less of it.")])
        if isinstance(here, dict | list):
            ahead += here.values() if isinstance(here, dict) else here
    return parts


def _changed(document: dict[str, Any], change: PatchStep, where: str) -> dict[str, Any]:
    operation = change.model_dump(exclude_unset=True)
    if change.from_ is None:
        operation.pop("from", None)
    try:
        for name in ("path", "from"):
            if name in operation:
                operation[name] = pointer_to(document, operation[name]).path
        changed = jsonpatch.apply_patch(document, [operation], in_place=True)
    except jsonpatch.JsonPatchTestFailed:
        what = f"The study no longer has {repr(change.value)[:40]} at {change.path}."
        raise StudyError([error_at(where, what, MADE_ANEW)]) from None
    except (KeyError, IndexError, TypeError, ValueError, jsonpatch.JsonPatchException, JsonPointerException) as error:
        raise StudyError([_leads_nowhere(where, change.path, error)]) from None
    if not isinstance(changed, dict):
        raise StudyError([error_at(where, "The change puts something else in place of the study.", "Take it away.")])
    return changed


def _leads_nowhere(where: str, path: str, error: Exception) -> Problem:
    missing = error.args[0] if isinstance(error, KeyError) and error.args else path
    return error_at(where, f"{path} leads nowhere: there is no “{missing}”.", "Correct the path, or drop it.")
