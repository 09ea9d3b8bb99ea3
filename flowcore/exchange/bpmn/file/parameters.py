"""The simulation parameters in a BPMN file: BPSim's scenarios, and what they say of each element."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from lxml import etree

from flowcore.exchange.bpmn.file.names import bpsim, local

RESULTS = ("min", "max", "mean", "count", "sum")


@dataclass(frozen=True)
class Value:
    """One value of a parameter: `TriangularDistribution` with its attributes, or `NumericParameter` and so on."""

    kind: str
    attributes: dict[str, str]
    valid_for: str = ""
    points: "tuple[tuple[float, Value], ...]" = ()
    """Of a UserDistribution: probabilities with values; of an EnumParameter: values, each as likely."""


@dataclass(frozen=True)
class Parameters:
    """What a scenario says of one element: the values of each parameter, by its name."""

    values: dict[str, list[Value]] = field(default_factory=dict)
    properties: dict[str, tuple[str, Value]] = field(default_factory=dict)
    """Its properties, by name: their type and value."""

    def first(self, name: str) -> Value | None:
        """Return the first value of a parameter, that without a calendar before others."""
        found = sorted(self.values.get(name, []), key=lambda value: value.valid_for != "")
        return found[0] if found else None


@dataclass
class Assumed:
    """A scenario: settings, parameters by element, calendars."""

    id: str
    name: str
    inherits: str
    time_unit: str = ""
    currency: str = ""
    replications: str = ""
    seed: str = ""
    settings: Parameters = field(default_factory=Parameters)
    elements: dict[str, Parameters] = field(default_factory=dict)
    calendars: dict[str, tuple[str, str]] = field(default_factory=dict)
    """By id: the name, and the text in iCalendar form."""

    def of(self, element: str) -> Parameters:
        """Return what it says of an element."""
        return self.elements.get(element) or NOTHING


NOTHING = Parameters()
UNSAID = Assumed("", "", "")
"""The scenario of a file without any."""


def scenarios_in(root: etree._Element) -> list[Assumed]:
    """Return the scenarios of a file, each with what it inherits; those that hold results are left out."""
    found = [_scenario(each) for each in root.iter(bpsim("Scenario")) if not each.get("result")]
    by_id = {each.id: each for each in found}
    return [_with_inherited(each, by_id, set()) for each in found]


def _with_inherited(scenario: Assumed, by_id: dict[str, Assumed], seen: set[str]) -> Assumed:
    above = by_id.get(scenario.inherits)
    if above is None or scenario.id in seen:
        return scenario
    above = _with_inherited(above, by_id, seen | {scenario.id})
    names = above.elements.keys() | scenario.elements.keys()
    return replace(
        scenario,
        time_unit=scenario.time_unit or above.time_unit,
        currency=scenario.currency or above.currency,
        replications=scenario.replications or above.replications,
        seed=scenario.seed or above.seed,
        settings=_over(scenario.settings, above.settings),
        elements={name: _over(scenario.of(name), above.of(name)) for name in sorted(names)},
        calendars=above.calendars | scenario.calendars,
    )


def _over(upper: Parameters, lower: Parameters) -> Parameters:
    return Parameters(lower.values | upper.values, lower.properties | upper.properties)


def _scenario(element: etree._Element) -> Assumed:
    scenario = Assumed(element.get("id") or "", element.get("name") or "", element.get("inherits") or "")
    settings = element.find(bpsim("ScenarioParameters"))
    if settings is not None:
        scenario.time_unit = settings.get("baseTimeUnit") or ""
        scenario.currency = settings.get("baseCurrencyUnit") or ""
        scenario.replications = settings.get("replication") or ""
        scenario.seed = settings.get("seed") or ""
        scenario.settings = _parameters([settings, *settings.findall(bpsim("PropertyParameters"))])
    for each in element.findall(bpsim("ElementParameters")):
        about = (each.get("elementRef") or "").rpartition(":")[2]
        scenario.elements[about] = _over(_parameters(each), scenario.of(about))
    for calendar in element.findall(bpsim("Calendar")):
        told = calendar.get("name") or calendar.get("id") or "", (calendar.text or "").strip()
        scenario.calendars[calendar.get("id") or ""] = told
    return scenario


def _parameters(groups: "etree._Element | list[etree._Element]") -> Parameters:
    """Return the parameters in groups such as TimeParameters."""
    found = Parameters()
    for group in groups:
        for element in group:
            if local(element) == "Property":
                value = next(_values(element), None)
                if value is not None and element.get("name"):
                    found.properties[element.get("name") or ""] = (element.get("type") or "", value)
            elif values := list(_values(element)):
                found.values.setdefault(local(element), []).extend(values)
    return found


def _values(parameter: etree._Element) -> Iterator[Value]:
    for element in parameter:
        kind = local(element)
        if not kind.endswith(("Parameter", "Distribution")) or element.get("result") in RESULTS:
            continue
        yield _value(element, kind)


def _value(element: etree._Element, kind: str) -> Value:
    attributes = {str(name): str(value) for name, value in element.attrib.items()}
    valid_for = attributes.get("validFor", "").rpartition(":")[2]
    return Value(kind, attributes, valid_for, tuple(_points(element, kind)))


def _points(element: etree._Element, kind: str) -> Iterator[tuple[float, Value]]:
    if kind == "EnumParameter":
        inner = [each for each in element if local(each).endswith("Parameter")]
        yield from ((1 / len(inner), _value(each, local(each))) for each in inner)
    for point in element.findall(bpsim("UserDistributionDataPoint")):
        inner = [each for each in point if local(each).endswith("Parameter")]
        try:
            probability = float(point.get("probability") or "")
        except ValueError:
            continue
        if inner and 0 <= probability <= 1:
            yield probability, _value(inner[0], local(inner[0]))
