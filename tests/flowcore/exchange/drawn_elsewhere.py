"""BPMN files put together at random from the standard's elements, as other programs write them."""

import random
from xml.sax.saxutils import quoteattr

HEAD = """<?xml version="1.0" encoding="UTF-8"?>
<definitions xmlns="http://www.omg.org/spec/BPMN/20100524/MODEL" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"
  xmlns:bpmndi="http://www.omg.org/spec/BPMN/20100524/DI" xmlns:dc="http://www.omg.org/spec/DD/20100524/DC"
  xmlns:di="http://www.omg.org/spec/DD/20100524/DI" xmlns:bpsim="http://www.bpsim.org/schemas/1.0"
  id="Definitions_1" targetNamespace="http://example.org/drawn" exporter="A drawing program">
"""
TASKS = ["task", "userTask", "manualTask", "serviceTask", "scriptTask", "businessRuleTask", "sendTask", "callActivity"]
PRIORITIES = [
    '<bpsim:Priority><bpsim:NumericParameter value="3"/></bpsim:Priority>',
    '<bpsim:Priority><bpsim:FloatingParameter value="-0.5"/></bpsim:Priority>',
    '<bpsim:Interruptible><bpsim:BooleanParameter value="true"/></bpsim:Interruptible>',
]
TIMES = [
    '<bpsim:TriangularDistribution min="2" mode="4" max="9"/>',
    '<bpsim:NegativeExponentialDistribution mean="0.1" timeUnit="hour"/>',
    '<bpsim:DurationParameter value="PT5M"/>',
    '<bpsim:NumericParameter value="7" timeUnit="min"/>',
    '<bpsim:TruncatedNormalDistribution mean="5" standardDeviation="2" min="2" max="9"/>',
    '<bpsim:PoissonDistribution mean="3"/>',
    '<bpsim:BinomialDistribution probability="0.4" trials="9"/>',
    '<bpsim:BetaDistribution shape="2" scale="3"/>',
    '<bpsim:EnumParameter><bpsim:DurationParameter value="PT2M"/>'
    '<bpsim:DurationParameter value="PT4M"/></bpsim:EnumParameter>',
    "<bpsim:ExpressionParameter value=\"bpsim:getProperty('x') * 3\"/>",
    '<bpsim:UserDistribution discrete="true"><bpsim:UserDistributionDataPoint probability="1">'
    '<bpsim:FloatingParameter value="4"/></bpsim:UserDistributionDataPoint></bpsim:UserDistribution>',
]
EDGES = ["timer", "message", "signal", "error", "escalation", "conditional", "compensate"]


def x(tag: str, *inner: str, **attributes: object) -> str:
    """Return an element as text."""
    named = "".join(f" {key}={quoteattr(str(value))}" for key, value in attributes.items())
    return f"<{tag}{named}>{''.join(inner)}</{tag}>"


class DrawnElsewhere:
    """Draws one file by a seed."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.named = 0
        self.parts: list[str] = []
        self.said: list[str] = []
        self.messages: list[tuple[str, str]] = []
        self.shapes: list[str] = []
        self.senders: list[str] = []
        self.receivers: list[str] = []

    def file(self) -> bytes:
        """Return the file."""
        pools = self.rng.randint(1, 3)
        processes = [self.process(number) for number in range(pools)]
        for receiver in self.receivers:
            if self.senders and self.rng.random() < 0.7:
                self.messages.append((self.rng.choice(self.senders), receiver))
        text = (
            HEAD
            + '<resource id="Res_1" name="Clerks"/><message id="Msg_1" name="News"/><signal id="Sig_1" name="Bell"/>'
        )
        if pools > 1:
            members = "".join(
                f'<participant id="Pool_{number}" name="Pool {number}" processRef="Process_{number}"/>'
                for number in range(pools)
            )
            flows = "".join(
                f'<messageFlow id="MF_{number}" sourceRef="{source}" targetRef="{target}"/>'
                for number, (source, target) in enumerate(self.messages)
            )
            text += f'<collaboration id="Collab_1">{members}{flows}</collaboration>'
        plane = "Collab_1" if pools > 1 else "Process_0"
        shapes = "".join(
            x(
                "bpmndi:BPMNShape",
                x("dc:Bounds", x=50 * n, y=80, width=100, height=80),
                id=f"{each}_di",
                bpmnElement=each,
            )
            for n, each in enumerate(self.shapes)
        )
        text += "".join(processes)
        text += x("bpmndi:BPMNDiagram", x("bpmndi:BPMNPlane", shapes, id="P_1", bpmnElement=plane), id="D_1")
        return (text + self.simulation() + "</definitions>").encode()

    def simulation(self) -> str:
        """Return the parameters: none at times, else some of them, in one scenario or two."""
        if self.rng.random() < 0.3:
            return ""
        kept = [each for each in self.said if self.rng.random() < 0.8]
        settings = (
            '<bpsim:ScenarioParameters replication="2" seed="4" baseTimeUnit="min" baseCurrencyUnit="EUR">'
            '<bpsim:Start><bpsim:DateTimeParameter value="2027-03-01T08:00:00"/></bpsim:Start>'
            '<bpsim:Duration><bpsim:DurationParameter value="PT8H"/></bpsim:Duration></bpsim:ScenarioParameters>'
        )
        four = x("bpsim:Quantity", x("bpsim:NumericParameter", value=4))
        more = x("bpsim:ElementParameters", x("bpsim:ResourceParameters", four), elementRef="Res_1")
        second = x("bpsim:Scenario", more, id="S2", name="Twice", inherits="S1")
        scenarios = x("bpsim:Scenario", settings, *kept, id="S1", name="Now")
        scenarios += second if self.rng.random() < 0.5 else ""
        data = x("extensionElements", x("bpsim:BPSimData", scenarios))
        ends = x("source", "Definitions_1") + x("target", "Definitions_1")
        return x("relationship", data, ends, type="BPSimData")

    def fresh(self, kind: str) -> str:
        """Return an id that nothing has yet."""
        self.named += 1
        return f"{kind}_{self.named:04x}"

    def say(self, element: str, parameters: str) -> None:
        """Note parameters of an element."""
        self.said.append(f'<bpsim:ElementParameters elementRef="{element}">{parameters}</bpsim:ElementParameters>')

    def process(self, number: int) -> str:
        """Return a process with lanes at times."""
        self.parts = []
        begin = self.fresh("Start")
        by_message = number > 0 and self.rng.random() < 0.8
        inner = (
            '<messageEventDefinition messageRef="Msg_1"/>'
            if by_message
            else self.rng.choice(
                ["", "", "<timerEventDefinition><timeCycle>R/PT20M</timeCycle></timerEventDefinition>"]
            )
        )
        self.add("startEvent", begin, inner, self.rng.choice(["Comes", ""]))
        if by_message:
            self.receivers.append(begin)
        else:
            apart = x("bpsim:InterTriggerTimer", x("bpsim:NegativeExponentialDistribution", mean=25))
            gap = x("bpsim:ControlParameters", apart)
            self.say(begin, gap)
        end = self.fresh("End")
        self.add(
            "endEvent",
            end,
            self.rng.choice(["", "", "<terminateEventDefinition/>", '<messageEventDefinition messageRef="Msg_1"/>']),
            "Goes",
        )
        self.way(begin, end, 2)
        nodes = [each for each in self.parts if "id=" in each and "sequenceFlow" not in each]
        lanes = ""
        if self.rng.random() < 0.5:
            ids = [each.split('id="')[1].split('"')[0] for each in nodes]
            inside = ["".join(x("flowNodeRef", each) for each in ids[n::2]) for n in (0, 1)]
            lane = (x("lane", inside[n], id=f"Lane_{number}_{n}", name=f"Desk {n}") for n in (0, 1))
            lanes = x("laneSet", *lane)
        return f'<process id="Process_{number}" isExecutable="false">{lanes}{"".join(self.parts)}</process>'

    def add(self, tag: str, node: str, inner: str = "", name: str = "", attributes: str = "") -> None:
        """Draw a node."""
        named = f" name={quoteattr(name)}" if name else ""
        self.shapes.append(node)
        self.parts.append(f'<{tag} id="{node}"{named} {attributes}>{inner}</{tag}>')

    def flow(self, source: str, target: str, inner: str = "", share: float | None = None) -> str:
        """Draw a sequence flow."""
        flow = self.fresh("Flow")
        self.parts.append(f'<sequenceFlow id="{flow}" sourceRef="{source}" targetRef="{target}">{inner}</sequenceFlow>')
        if share is not None:
            value = f'<bpsim:FloatingParameter value="{share}"/>'
            self.say(
                flow,
                f"<bpsim:ControlParameters><bpsim:Probability>{value}</bpsim:Probability></bpsim:ControlParameters>",
            )
        return flow

    def way(self, source: str, target: str, depth: int, inner: str = "", share: float | None = None) -> None:
        """Draw a way of some stretches from one node to another."""
        for _ in range(self.rng.randint(1, 3)):
            first, last = self.stretch(depth)
            self.flow(source, first, inner, share)
            source, inner, share = last, "", None
        self.flow(source, target, inner, share)

    def stretch(self, depth: int) -> tuple[str, str]:
        """Draw one stretch; return where it begins and where it ends."""
        makers = [self.task, self.task, self.event]
        if depth > 0:
            makers += [self.gateway, self.parallel, self.inclusive, self.sub_process, self.race, self.loop]
        return self.rng.choice(makers)(depth)

    def task(self, depth: int) -> tuple[str, str]:
        """Draw a task, with a role, a loop or something at its edge at times."""
        node = self.fresh("Activity")
        tag = self.rng.choice([*TASKS, "receiveTask"])
        role = "<potentialOwner><resourceRef>Res_1</resourceRef></potentialOwner>" if self.rng.random() < 0.3 else ""
        many = x("multiInstanceLoopCharacteristics", x("loopCardinality", "3"))
        loops = [x("standardLoopCharacteristics", loopMaximum=3), x("standardLoopCharacteristics", testBefore="true")]
        loops += [many, x("multiInstanceLoopCharacteristics", isSequential="true")]
        loop = self.rng.choice([*loops, "", "", ""])
        self.add(tag, node, role + loop, self.rng.choice(["Look at it", "Write & send", "", "Prüfen <neu>"]))
        time = self.rng.choice(TIMES)
        self.say(
            node, f"<bpsim:TimeParameters><bpsim:ProcessingTime>{time}</bpsim:ProcessingTime></bpsim:TimeParameters>"
        )
        if self.rng.random() < 0.2:
            priority = self.rng.choice(PRIORITIES)
            self.say(node, f"<bpsim:PriorityParameters>{priority}</bpsim:PriorityParameters>")
        (self.senders if tag == "sendTask" else self.receivers if tag == "receiveTask" else []).append(node)
        if depth > 0 and self.rng.random() < 0.3:
            self.edge(node, depth)
        return node, node

    def edge(self, host: str, depth: int) -> None:
        """Draw an event at the edge of a task, from which a way leads to an end."""
        kind = self.rng.choice(EDGES)
        timer = self.rng.choice(["<timeDuration>PT15M</timeDuration>", "<timeCycle>R/PT10M</timeCycle>"])
        inside = {"timer": timer, "conditional": x("condition", "x")}.get(kind, "")
        inner = f"<{kind}EventDefinition>{inside}</{kind}EventDefinition>"
        cancels = kind == "error" or self.rng.random() < 0.5
        edge, end = self.fresh("Edge"), self.fresh("End")
        self.add("boundaryEvent", edge, inner, "", f'attachedToRef="{host}" cancelActivity="{str(cancels).lower()}"')
        self.add("endEvent", end, "", "Late")
        self.way(edge, end, depth - 1)
        if kind == "message":
            self.receivers.append(edge)

    def event(self, _depth: int) -> tuple[str, str]:
        """Draw an event on the way."""
        node = self.fresh("Event")
        catches = self.rng.random() < 0.6
        both = [x("messageEventDefinition"), x("signalEventDefinition", signalRef="Sig_1")]
        timer = x("timerEventDefinition", x("timeDuration", "PT12M"))
        caught = [*both, timer, x("conditionalEventDefinition", x("condition", "x"))]
        inner = self.rng.choice(caught if catches else [*both, "", x("escalationEventDefinition")])
        self.add(
            "intermediateCatchEvent" if catches else "intermediateThrowEvent",
            node,
            inner,
            self.rng.choice(["", "News"]),
        )
        if "message" in inner:
            (self.receivers if catches else self.senders).append(node)
        return node, node

    def gateway(self, depth: int) -> tuple[str, str]:
        """Draw ways that part by a choice, and meet or end."""
        node, meets = self.fresh("Gateway"), self.fresh("Gateway")
        self.add("exclusiveGateway", meets)
        conditions = self.rng.random() < 0.3
        for share in (0.5, 0.3, 0.2):
            inner = "<conditionExpression>amount &gt; 10</conditionExpression>" if conditions else ""
            self.way(node, meets, depth - 1, inner, share)
        self.add(self.rng.choice(["exclusiveGateway", "exclusiveGateway", "complexGateway"]), node, "", "Which?")
        return node, meets

    def parallel(self, depth: int) -> tuple[str, str]:
        """Draw ways at once that meet where they wait, or where they do not, or end."""
        node, meets = self.fresh("Gateway"), self.fresh("Gateway")
        self.add("parallelGateway", node)
        self.add(self.rng.choice(["parallelGateway", "parallelGateway", "exclusiveGateway"]), meets)
        for number in range(self.rng.randint(2, 3)):
            if number == 2 and self.rng.random() < 0.4:
                end = self.fresh("End")
                self.add("endEvent", end, self.rng.choice(["", "<errorEventDefinition/>"]))
                self.way(node, end, depth - 1)
            else:
                self.way(node, meets, depth - 1)
        return node, meets

    def inclusive(self, depth: int) -> tuple[str, str]:
        """Draw ways of which some are taken, one of them if no other is."""
        node, meets = self.fresh("Gateway"), self.fresh("Gateway")
        self.add("inclusiveGateway", meets)
        for share in (0.5, None):
            self.way(node, meets, depth - 1, "", share)
        default = self.flow(node, meets)
        self.add("inclusiveGateway", node, "", "", f'default="{default}"' if self.rng.random() < 0.6 else "")
        return node, meets

    def sub_process(self, depth: int) -> tuple[str, str]:
        """Draw a sub-process with a way in it."""
        node = self.fresh("Sub")
        outer, self.parts = self.parts, []
        begin, end = self.fresh("Start"), self.fresh("End")
        self.add("startEvent", begin)
        self.add("endEvent", end, self.rng.choice(["", "<errorEventDefinition/>"]))
        self.way(begin, end, depth - 1)
        inner, self.parts = "".join(self.parts), outer
        self.add(self.rng.choice(["subProcess", "transaction"]), node, inner, "A part")
        if self.rng.random() < 0.4:
            self.edge(node, depth)
        return node, node

    def race(self, depth: int) -> tuple[str, str]:
        """Draw a gateway behind which the first event decides."""
        node, meets = self.fresh("Gateway"), self.fresh("Gateway")
        self.add("eventBasedGateway", node)
        self.add("exclusiveGateway", meets)
        timer = "<timerEventDefinition><timeDuration>PT30M</timeDuration></timerEventDefinition>"
        for inner in ("<messageEventDefinition/>", self.rng.choice(["<messageEventDefinition/>", timer]), timer):
            event = self.fresh("Event")
            self.add("intermediateCatchEvent", event, inner)
            self.flow(node, event)
            if "message" in inner:
                self.receivers.append(event)
            self.way(event, meets, depth - 1)
        return node, meets

    def loop(self, depth: int) -> tuple[str, str]:
        """Draw a way that is gone again at times."""
        begin, again = self.fresh("Gateway"), self.fresh("Gateway")
        self.add("exclusiveGateway", begin)
        self.add("exclusiveGateway", again)
        self.way(begin, again, depth - 1)
        self.flow(again, begin, "", 0.3)
        return begin, again
