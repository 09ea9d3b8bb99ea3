"""Figures of a run as results in the form of BPSim, for the elements of the file that `write_process` writes."""

from collections.abc import Iterator

from lxml import etree

from flowcore.exchange.bpmn.write import ids_in_file
from flowcore.exchange.bpmn.writing.elements import Element, below, new
from flowcore.exchange.bpmn.writing.parameters import TIME_UNIT
from flowcore.exchange.bpmn.writing.values import plain
from flowcore.results.run import Results
from flowcore.study import StudyDocument
from flowcore.study.durations import HOUR

STATISTICS = ("mean", "min", "max")
OF_STEPS = {"wait": "QueueTime", "work": "ProcessingTime", "total": "ElapsedTime"}
"""What BPSim calls the times of a visit."""


def written_results(study: StudyDocument, results: Results) -> bytes:
    """Return the means over the replications of a run's times, counts and costs, by element."""
    data = new("bpsim:BPSimData")
    scenario = below(data, "bpsim:Scenario", id="results", name=study.name, result="scenario")
    below(scenario, "bpsim:ScenarioParameters", baseTimeUnit=TIME_UNIT, baseCurrencyUnit=study.currency)
    means = {address: float(values.mean()) for address, values in results.values.items()}
    steps, teams = ids_in_file(study)
    for step, element in steps.items():
        _element(scenario, element, list(_of_step(step, means)))
    for team, element in teams.items():
        cost = means.get(f"cost/team/{team}/run")
        _element(scenario, element, [("Cost", "FixedCost", "sum", cost, None)] if cost is not None else [])
    return bytes(etree.tostring(data, xml_declaration=True, encoding="UTF-8", pretty_print=True))


Result = tuple[str, str, str, float, str | None]
"""The group, the parameter, the statistic, its value, and its unit of time."""


def _of_step(step: str, means: dict[str, float]) -> Iterator[Result]:
    for quantity, parameter in OF_STEPS.items():
        for statistic in STATISTICS:
            value = means.get(f"step/{step}/{quantity}/{statistic}")
            if value is not None:
                yield "Time", parameter, statistic, value / HOUR, TIME_UNIT
    arrived = means.get(f"step/{step}/arrived")
    if arrived is not None:
        yield "Control", "TriggerCount", "count", arrived, None


def _element(scenario: Element, element: str, told: list[Result]) -> None:
    """Write what is known of an element; what is no number, as of nobody who came, is left out."""
    known = [each for each in told if each[3] == each[3]]
    if not known:
        return
    about = below(scenario, "bpsim:ElementParameters", elementRef=element)
    groups: dict[str, Element] = {}
    parameters: dict[str, Element] = {}
    for group, parameter, statistic, value, unit in known:
        if group not in groups:
            groups[group] = below(about, f"bpsim:{group}Parameters")
        if parameter not in parameters:
            parameters[parameter] = below(groups[group], f"bpsim:{parameter}")
        below(parameters[parameter], "bpsim:FloatingParameter", value=plain(value), timeUnit=unit, result=statistic)
