"""The standards' names: BPMN 2.0 (OMG formal/2011-01-03) and BPSim 1.0 (WfMC, 2013)."""

from typing import Final

BPMN: Final = "http://www.omg.org/spec/BPMN/20100524/MODEL"
BPMNDI: Final = "http://www.omg.org/spec/BPMN/20100524/DI"
DC: Final = "http://www.omg.org/spec/DD/20100524/DC"
DI: Final = "http://www.omg.org/spec/DD/20100524/DI"
BPSIM: Final = "http://www.bpsim.org/schemas/1.0"

EXPORTER: Final = "Urban Queue"

BY_ITSELF: Final = {"serviceTask", "scriptTask", "businessRuleTask", "sendTask"}
"""Tasks that nobody does: without a time they take none."""
TASKS: Final = {"task", "userTask", "manualTask", "receiveTask", "callActivity", *BY_ITSELF}
SUB_PROCESSES: Final = {"subProcess", "transaction", "adHocSubProcess"}
GATEWAYS: Final = {"exclusiveGateway", "inclusiveGateway", "parallelGateway", "eventBasedGateway", "complexGateway"}
EVENTS: Final = {"startEvent", "endEvent", "intermediateCatchEvent", "intermediateThrowEvent", "boundaryEvent"}
NODES: Final = TASKS | SUB_PROCESSES | GATEWAYS | EVENTS
ROLES: Final = ("resourceRole", "performer", "humanPerformer", "potentialOwner")


def bpmn(tag: str) -> str:
    """Return the qualified name of a BPMN element."""
    return f"{{{BPMN}}}{tag}"


def bpsim(tag: str) -> str:
    """Return the qualified name of a BPSim element."""
    return f"{{{BPSIM}}}{tag}"


def local(element: object) -> str:
    """Return an element's name without its namespace; empty for a comment or a processing instruction."""
    tag = getattr(element, "tag", None)
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""
