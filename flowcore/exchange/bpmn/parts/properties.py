"""Properties of a scenario, which are a study's traits: where they are written, and as facts of a rule."""

import re
from typing import Any

from flowcore.exchange.bpmn.draft.draft import Stop, short
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Node
from flowcore.exchange.bpmn.file.parameters import Parameters
from flowcore.exchange.bpmn.file.values import Unreadable, text_of, trait_of

_ADDED = re.compile(r"(?:bpsim:)?getProperty\(\s*['\"]([^'\"]+)['\"]\s*\)\s*\+\s*(-?\d+(?:\.\d+)?)")
OUR_TYPE = "case type"
"""The property by which case types are written."""
OUR_FACT = "fact:"
"""With what the property begins by which another fact of a rule is written."""


def make_traits(reading: Reading) -> None:
    """Make a trait of every property that the scenario gives a value anywhere, and of those that a file of ours has."""
    for declared in reading.drawn.properties if reading.drawn.is_ours else ():
        if declared.startswith("trait_"):
            _trait(reading, declared.removeprefix("trait_"))
    for parameters in (reading.scenario.settings, *reading.scenario.elements.values()):
        for name in parameters.properties:
            if name != OUR_TYPE or not reading.drawn.is_ours:
                _trait(reading, name)
    for name, start in started(reading, "process", "The process", reading.scenario.settings).items():
        _trait(reading, name)["start"] = start
        _note_values(reading, name, start)


def _trait(reading: Reading, name: str) -> dict[str, Any]:
    if name not in reading.traits:
        called = reading.drawn.properties.get(f"trait_{name}", name) if reading.drawn.is_ours else name
        trait_id = reading.draft.new_id("traits", name, "trait")
        values = reading.drawn.values.get(f"trait_{name}", []) if reading.drawn.is_ours else []
        reading.traits[name] = {"id": trait_id, "name": short(called), "kind": "category" if values else "number"}
        reading.traits[name] |= {"values": values} if values else {}
    return reading.traits[name]


def started(reading: Reading, element: str, called: str, parameters: Parameters) -> dict[str, Any]:
    """Return what properties start with, by name."""
    found = {}
    for name, (_, value) in parameters.properties.items():
        if name not in reading.traits:
            continue
        try:
            added = _ADDED.fullmatch(text_of(value)) if value.kind == "ExpressionParameter" else None
            if added is not None and added[1] == name:
                found[name] = {"add": float(added[2])}
            else:
                found[name] = reading.kept(element, called, trait_of(value))
        except Unreadable as reason:
            reading.notes.lose(element, called, f"The property “{name}” {reason}.", "It is not written there.")
    return found


def written(reading: Reading, element: str, called: str, parameters: Parameters) -> dict[str, Any]:
    """Return what an element writes into traits, by their ids; a category's values become known."""
    found = {}
    for name, start in started(reading, element, called, parameters).items():
        _note_values(reading, name, start)
        found[reading.traits[name]["id"]] = start
    return found


def _note_values(reading: Reading, name: str, start: Any) -> None:
    values = (
        [start]
        if isinstance(start, str)
        else [*start["shares"]]
        if isinstance(start, dict) and "shares" in start
        else []
    )
    trait = reading.traits[name]
    if values:
        trait["kind"] = "category"
        trait["values"] = list(dict.fromkeys([*trait.get("values", []), *values]))


def property_stop(reading: Reading, node: Node) -> Stop | None:
    """Return the stop at which a node writes its properties; None where it has none."""
    traits = written(reading, node.id, node.called, reading.of(node.id))
    return (
        reading.stop(node, {"kind": "set", "traits": traits}, "" if node.tag == "scriptTask" else "noted")
        if traits
        else None
    )


def fact_for(reading: Reading, name: str) -> str | None:
    """Return the fact that a property's name stands for in a rule; None where nothing ever gives it a value."""
    if reading.drawn.is_ours and (name == OUR_TYPE or name.startswith(OUR_FACT)):
        return "type" if name == OUR_TYPE else name.removeprefix(OUR_FACT)
    trait = reading.traits.get(name)
    return None if trait is None else f"trait:{trait['id']}"
