"""BPMN files written by hand, in few words."""

from tests.flowcore.exchange.drawn_elsewhere import HEAD, x


def flows(*pairs: str) -> str:
    """Return sequence flows from pairs such as `"A B"`; each has the id `A_B`."""
    return "".join(
        x("sequenceFlow", id=f"{a}_{b}", sourceRef=a, targetRef=b) for a, b in (pair.split() for pair in pairs)
    )


def said(element: str, group: str, parameter: str, value: str) -> str:
    """Return one parameter of an element."""
    return x(
        "bpsim:ElementParameters", x(f"bpsim:{group}Parameters", x(f"bpsim:{parameter}", value)), elementRef=element
    )


def takes(element: str, period: str) -> str:
    """Return the time that a task takes, such as `PT10M`."""
    return said(element, "Time", "ProcessingTime", x("bpsim:DurationParameter", value=period))


def share(flow: str, value: float) -> str:
    """Return how often a way is taken."""
    return said(flow, "Control", "Probability", x("bpsim:FloatingParameter", value=value))


def apart(start: str, period: str, many: int) -> str:
    """Return how far apart cases come, and how many."""
    timer = x("bpsim:InterTriggerTimer", x("bpsim:DurationParameter", value=period))
    count = x("bpsim:TriggerCount", x("bpsim:NumericParameter", value=many))
    return x("bpsim:ElementParameters", x("bpsim:ControlParameters", timer, count), elementRef=start)


def file(*processes: str, parameters: str = "", messages: tuple[str, ...] = (), length: str = "P10D") -> bytes:
    """Return a file of processes, with message flows from pairs, and one scenario of one replication."""
    pools = "".join(
        x("participant", id=f"Pool_{n}", name=f"Pool {n}", processRef=f"P{n}") for n in range(len(processes))
    )
    sent = (pair.split() for pair in messages)
    told = "".join(x("messageFlow", id=f"M_{a}_{b}", sourceRef=a, targetRef=b) for a, b in sent)
    together = x("collaboration", pools, told, id="C") if len(processes) > 1 else ""
    drawn = "".join(x("process", each, id=f"P{n}") for n, each in enumerate(processes))
    lasts = x("bpsim:Duration", x("bpsim:DurationParameter", value=length))
    settings = x("bpsim:ScenarioParameters", lasts, replication=1)
    scenario = x("bpsim:Scenario", settings, parameters, id="S")
    data = x("relationship", x("extensionElements", x("bpsim:BPSimData", scenario)), type="BPSimData")
    return f"{HEAD}{together}{drawn}{data}</definitions>".encode()
