"""Further scenarios of a file, as changes to the study that the first one makes."""

from collections.abc import Iterator, Mapping
from typing import Any

from flowcore.exchange.bpmn.draft.draft import short
from flowcore.exchange.bpmn.draft.ours import SCENARIO
from flowcore.exchange.bpmn.file.parameters import Assumed
from flowcore.study.ids import id_for

NOT_COMPARED = {"name", "about", "start", "currency", "run", "scenarios"}


def scenarios_between(document: Mapping[str, Any], others: list[tuple[Assumed, dict[str, Any]]]) -> dict[str, Any]:
    """Return the scenarios that change a document into others with the same elements, under `scenarios`."""
    taken: set[str] = set()
    scenarios = []
    for scenario, other in others:
        changes = [
            change for part in sorted({*document, *other} - NOT_COMPARED) for change in _part(document, other, part)
        ]
        name = scenario.name or scenario.id or "Scenario"
        own = scenario.id.removeprefix(SCENARIO) if scenario.id.startswith(SCENARIO) else name
        scenarios.append({"id": id_for(own, taken, "scenario"), "name": short(name), "changes": changes})
    return {"scenarios": scenarios} if scenarios else {}


def _part(document: Mapping[str, Any], other: Mapping[str, Any], part: str) -> Iterator[dict[str, Any]]:
    """Yield what changes in a list of elements with ids."""
    before = {each["id"]: each for each in document.get(part, [])}
    after = {each["id"]: each for each in other.get(part, [])}
    for element_id, element in after.items():
        path = f"/{part}/{element_id}"
        if element_id not in before:
            yield {"op": "add", "path": f"/{part}/-", "value": element}
        else:
            yield from _changes(path, before[element_id], element)
    for element_id in before.keys() - after.keys():
        yield {"op": "remove", "path": f"/{part}/{element_id}"}


def _changes(path: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    for key in sorted({*before, *after}):
        if before.get(key) == after.get(key):
            continue
        if key not in after:
            yield {"op": "remove", "path": f"{path}/{key}"}
        else:
            yield {"op": "replace" if key in before else "add", "path": f"{path}/{key}", "value": after[key]}
