"""Scenarios: the study with some levers moved or parts changed.

A pointer (RFC 6901) leads to a place of the document. Where it passes through a list of elements it
may name one by its id, so that it still leads there when the list's order changes.
"""

from copy import deepcopy
from typing import Any

import jsonpatch
from jsonpointer import JsonPointer, JsonPointerException

from flowcore.problems import Problem, StudyError, error_at
from flowcore.study.base import Id
from flowcore.study.document import StudyDocument, read_study
from flowcore.study.runs import Lever, PatchStep, Scenario

MOST_PARTS_COPIED = 100_000


def apply_scenario(study: StudyDocument, scenario_id: Id) -> StudyDocument:
    """Return the study as a scenario has it, without its scenarios.

    Levers are moved first, in the study's order, then the changes are made one after the other.
    Raises StudyError where there is no such scenario, where a lever or a change does not fit the
    study, or where the outcome is no study.
    """
    scenario = next((each for each in study.scenarios if each.id == scenario_id), None)
    if scenario is None:
        known = ", ".join(each.id for each in study.scenarios) or "none"
        raise StudyError([error_at("scenarios", f"There is no scenario “{scenario_id}”.", f"Known are: {known}.")])
    moved = [lever for lever in study.levers if lever.id in scenario.levers]
    paths = [path for lever in moved for path in lever.sets]
    paths += [path for change in scenario.changes for path in (change.path, change.from_) if path is not None]
    document = parts_around(study, paths)
    for lever in moved:
        _move(document, lever, scenario.levers[lever.id], scenario)
    room = MOST_PARTS_COPIED
    for number, change in enumerate(scenario.changes):
        where = f"scenarios/{scenario.id}/changes/{number}"
        if change.op == "copy":
            room -= _parts_in(document, change, room, where)
        document = _changed(document, change, where)
    return read_study(document | {"scenarios": []})


def parts_around(study: StudyDocument, paths: list[str]) -> dict[str, Any]:
    """Return a study's parts, as JSON those that pointers lead into, the others as they are."""
    named = None if "" in paths else {path.split("/")[1] for path in paths if "/" in path}
    return dict(study) | study.model_dump(mode="json", include=named)


def pointer_to(document: Any, path: str) -> JsonPointer:
    """Return a pointer with ids turned into places in their lists; KeyError names what is not there."""
    parts: list[str] = []
    here = document
    given = JsonPointer(path).parts
    for depth, name in enumerate(given):
        by_id = isinstance(here, list) and not name.isdigit() and name != "-"
        parts.append(str(_place_of(here, name)) if by_id else name)
        if depth + 1 < len(given):
            here = _part_of(here, parts[-1])
    return JsonPointer.from_parts(parts)


def leads_somewhere(document: dict[str, Any], path: str) -> bool:
    """Say whether a pointer leads to something that is there."""
    try:
        pointer_to(document, path).resolve(document)
    except (KeyError, JsonPointerException):
        return False
    return True


def _place_of(elements: list[Any], element_id: str) -> int:
    for place, element in enumerate(elements):
        if isinstance(element, dict) and element.get("id") == element_id:
            return place
    raise KeyError(element_id)


def _part_of(here: Any, part: str) -> Any:
    if isinstance(here, dict) and part in here:
        return here[part]
    if isinstance(here, list) and part.isdigit() and int(part) < len(here):
        return here[int(part)]
    raise KeyError(part)


def _move(document: dict[str, Any], lever: Lever, value: Any, scenario: Scenario) -> None:
    for path in lever.sets:
        try:
            pointer = pointer_to(document, path)
            owner, key = pointer.to_last(document)
            if isinstance(owner, dict) and key not in owner:
                raise KeyError(key)
            pointer.set(document, deepcopy(value))
        except (KeyError, IndexError, TypeError, ValueError, JsonPointerException) as error:
            where = f"scenarios/{scenario.id}/levers/{lever.id}"
            raise StudyError([_leads_nowhere(where, path, error)]) from None


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
    try:
        for name in ("path", "from"):
            if name in operation:
                operation[name] = pointer_to(document, operation[name]).path
        changed = jsonpatch.apply_patch(document, [operation], in_place=True)
    except jsonpatch.JsonPatchTestFailed:
        what = f"The study no longer has {repr(change.value)[:40]} at {change.path}."
        raise StudyError([error_at(where, what, "Make the scenario anew from the study as it is.")]) from None
    except (KeyError, IndexError, TypeError, ValueError, jsonpatch.JsonPatchException, JsonPointerException) as error:
        raise StudyError([_leads_nowhere(where, change.path, error)]) from None
    if not isinstance(changed, dict):
        raise StudyError([error_at(where, "The change puts something else in place of the study.", "Take it away.")])
    return changed


def _leads_nowhere(where: str, path: str, error: Exception) -> Problem:
    missing = error.args[0] if isinstance(error, KeyError) and error.args else path
    return error_at(where, f"{path} leads nowhere: there is no “{missing}”.", "Correct the path, or drop it.")
