"""Processes drawn elsewhere, followed with a pencil: gateways, loops, sub-processes, timers, messages."""

from typing import Any

import pytest

from flowcore.exchange.bpmn.read import ProcessRead, read_process
from flowcore.simulate import simulate
from tests.flowcore.exchange.drawn_elsewhere import x
from tests.flowcore.exchange.files import apart, file, flows, said, share, takes

START, END = x("startEvent", id="S"), x("endEvent", id="E", name="Out")
DAY = 1440


def task(task_id: str, *inner: str, tag: str = "serviceTask", **more: Any) -> str:
    return x(tag, *inner, id=task_id, name=task_id, **more)


def figures(read: ProcessRead) -> dict[str, float]:
    return {address: float(values[0]) for address, values in simulate(read.study).values.items()}


def run(*processes: str, parameters: str = "", **more: Any) -> dict[str, float]:
    return figures(read_process(file(*processes, parameters=apart("S", "P1D", 4) + parameters, **more)))


def timer(*said: str) -> str:
    return x("timerEventDefinition", *said)


def test_an_exclusive_gateway_leads_each_case_one_way() -> None:
    """One way takes 30 minutes and is always taken, the other never."""
    ways = task("A") + task("B") + x("exclusiveGateway", id="G")
    body = START + ways + END + flows("S G", "G A", "G B", "A E", "B E")
    found = run(body, parameters=takes("A", "PT30M") + takes("B", "PT5H") + share("G_A", 1) + share("G_B", 0))
    assert (found["step/a/served"], found["type/all/total/mean"]) == (4, 30)


def test_the_default_way_is_for_whom_no_condition_holds() -> None:
    amount = x("sequenceFlow", x("conditionExpression", "amount &gt;= 100"), id="G_A", sourceRef="G", targetRef="A")
    ways = task("A") + task("B") + x("exclusiveGateway", id="G", default="G_B") + amount
    body = START + ways + END + flows("S G", "G B", "A E", "B E")
    size = x("bpsim:Property", x("bpsim:FloatingParameter", value=99), name="amount")
    amounts = x("bpsim:ElementParameters", x("bpsim:PropertyParameters", size), elementRef="S")
    found = run(body, parameters=takes("A", "PT1H") + takes("B", "PT2H") + amounts)
    assert (found["step/b/served"], found["type/all/total/mean"]) == (4, 120)


def test_parallel_ways_wait_for_the_longest() -> None:
    gates = x("parallelGateway", id="G") + x("parallelGateway", id="J")
    body = START + gates + task("A") + task("B") + task("C") + END
    body += flows("S G", "G A", "G B", "G C", "A J", "B J", "C J", "J E")
    found = run(body, parameters=takes("A", "PT10M") + takes("B", "PT25M") + takes("C", "PT5M"))
    assert (found["type/all/total/mean"], found["step/a/served"], found["step/c/served"]) == (25, 4, 4)


def test_of_an_inclusive_gateway_each_way_is_taken_as_often_as_it_says() -> None:
    gates = x("inclusiveGateway", id="G") + x("inclusiveGateway", id="J")
    body = START + gates + task("A") + task("B") + END + flows("S G", "G A", "G B", "A J", "B J", "J E")
    times = takes("A", "PT10M") + takes("B", "PT25M")
    assert run(body, parameters=times + share("G_A", 1) + share("G_B", 0))["type/all/total/mean"] == 10
    assert run(body, parameters=times + share("G_A", 1) + share("G_B", 1))["type/all/total/mean"] == 25


@pytest.mark.parametrize(("loop", "times"), [("most", 3), ("instances", 3), ("at once", 1)])
def test_a_task_is_done_as_often_as_its_loop_says(loop: str, times: int) -> None:
    """Twenty minutes three times, one after the other or at once."""
    count = x("loopCardinality", "3")
    loops = {
        "most": x("standardLoopCharacteristics", loopMaximum=3),
        "instances": x("multiInstanceLoopCharacteristics", count, isSequential="true"),
        "at once": x("multiInstanceLoopCharacteristics", count),
    }
    found = run(START + task("A", loops[loop]) + END + flows("S A", "A E"), parameters=takes("A", "PT20M"))
    assert (found["type/all/total/mean"], found["step/a/arrived"]) == (20 * times, 12)


def test_a_sub_process_is_flattened_and_keeps_its_name_as_a_span() -> None:
    inner = x("startEvent", id="s") + task("A") + task("B") + x("endEvent", id="e") + flows("s A", "A B", "B e")
    body = START + x("subProcess", inner, id="Sub", name="Examination") + task("C") + END
    read = read_process(file(body + flows("S Sub", "Sub C", "C E"), parameters=apart("S", "P1D", 4) + TIMES_OF_THREE))
    assert [(span.id, span.name) for span in read.study.spans] == [("examination", "Examination")]
    found = figures(read)
    assert (found["span/examination/total/mean"], found["type/all/total/mean"]) == (30, 70)


TIMES_OF_THREE = takes("A", "PT10M") + takes("B", "PT20M") + takes("C", "PT40M")


def edge(*inner: str, cancels: bool, host: str = "A") -> str:
    return x("boundaryEvent", *inner, id="T", attachedToRef=host, cancelActivity=str(cancels).lower())


def test_a_timer_that_does_not_interrupt_reminds() -> None:
    """After 15 minutes of 40 somebody reminds, once for each of four cases; with a cycle twice."""
    body = START + task("A") + task("R") + END + x("endEvent", id="F") + flows("S A", "A E", "T R", "R F")
    times = takes("A", "PT40M") + takes("R", "PT5M")
    once = run(body + edge(timer(x("timeDuration", "PT15M")), cancels=False), parameters=times)
    again = run(body + edge(timer(x("timeCycle", "R/PT15M")), cancels=False), parameters=times)
    assert (once["step/r/served"], once["type/all/total/mean"]) == (4, 40)
    assert (again["step/r/served"], again["type/all/total/mean"]) == (8, 40)


def test_a_timer_that_interrupts_leads_away_who_still_waits() -> None:
    """One clerk, four cases a minute apart, an hour each: the first is served, the others go after ten minutes."""
    body = START + x("userTask", x("potentialOwner", x("resourceRef", "Res_1")), id="A", name="A") + END
    body += edge(timer(x("timeDuration", "PT10M")), cancels=True) + x("endEvent", id="F", name="Gone")
    body += flows("S A", "A E", "T F")
    parameters = takes("A", "PT1H") + apart("S", "PT1M", 4)
    text = file(body, parameters=parameters).replace(b"<process", b'<resource id="Res_1" name="Clerk"/><process', 1)
    read = read_process(text)
    found = figures(read)
    assert [each.asks for each in read.missing] == ["How many are there?"]
    assert (found["outcome/gone/completed"], found["outcome/out/completed"]) == (3, 1)
    assert found["outcome/gone/total/mean"] == 10


@pytest.mark.parametrize(("answer", "outcome", "total"), [("PT4H", "Answered", 240), ("P3D", "Gave up", DAY)])
def test_what_comes_first_decides(answer: str, outcome: str, total: float) -> None:
    """Asked at once, answered after four hours or three days; who has waited for a day gives up."""
    caught = x("intermediateCatchEvent", x("messageEventDefinition"), id="C")
    late = x("intermediateCatchEvent", timer(x("timeDuration", "P1D")), id="L")
    asks = START + task("Asks", tag="sendTask") + x("eventBasedGateway", id="G") + caught + late
    asks += x("endEvent", id="E", name="Answered") + x("endEvent", id="F", name="Gave up")
    asks += flows("S Asks", "Asks G", "G C", "G L", "C E", "L F")
    told = x("startEvent", x("messageEventDefinition"), id="s") + task("Works") + task("Answers", tag="sendTask")
    told += x("endEvent", id="e") + flows("s Works", "Works Answers", "Answers e")
    found = run(asks, told, parameters=takes("Works", answer), messages=("Asks s", "Answers C"))
    name = outcome.lower().replace(" ", "-")
    assert (found[f"outcome/{name}/completed"], found["type/all/total/mean"]) == (4, total)


def test_two_answers_lead_on_their_own_ways() -> None:
    """Each case is granted after an hour; who hears the grant rests ten minutes, who hears a refusal ten hours."""
    waits = START + task("Asks", tag="sendTask") + x("eventBasedGateway", id="G") + task("Rests") + task("Grieves")
    for event in ("Yes", "No"):
        waits += x("intermediateCatchEvent", x("messageEventDefinition"), id=event)
    waits += END + flows("S Asks", "Asks G", "G No", "G Yes", "Yes Rests", "No Grieves", "Rests E", "Grieves E")
    tells = x("startEvent", x("messageEventDefinition"), id="s") + task("Works") + x("exclusiveGateway", id="W")
    for end in ("Grant", "Refuse"):
        tells += x("endEvent", x("messageEventDefinition"), id=end)
    tells += flows("s Works", "Works W", "W Grant", "W Refuse")
    times = takes("Works", "PT1H") + takes("Rests", "PT10M") + takes("Grieves", "PT10H")
    decided = share("W_Grant", 1) + share("W_Refuse", 0)
    messages = ("Asks s", "Grant Yes", "Refuse No")
    found = run(waits, tells, parameters=times + decided, messages=messages)
    assert (found["step/rests/served"], found["type/all/total/mean"]) == (4, 70)


def test_the_office_looks_up_each_letter_while_it_examines() -> None:
    """Examined for 28 days; letters after 15 days and every 5 days are looked up on day 15, 20 and 25."""
    enumerated = x("bpsim:DurationParameter", value="P15D") + x("bpsim:DurationParameter", value="P5D")
    first = x("bpsim:InterTriggerTimer", x("bpsim:EnumParameter", enumerated))
    letters = x("bpsim:ElementParameters", x("bpsim:ControlParameters", first), elementRef="T")
    asks = START + task("Applies", tag="sendTask") + x("receiveTask", id="A", name="Waits") + END
    asks += edge(timer(x("timeCycle", "R/P5D")), cancels=False) + x(
        "endEvent", x("messageEventDefinition"), id="Letter"
    )
    asks += flows("S Applies", "Applies A", "A E", "T Letter")
    office = x("startEvent", x("messageEventDefinition"), id="s") + task("Examines") + task("Looks") + task("Done")
    office += x("boundaryEvent", x("messageEventDefinition"), id="B", attachedToRef="Examines", cancelActivity="false")
    office += x("endEvent", x("messageEventDefinition"), id="Answer") + x("endEvent", id="f")
    office += flows("s Examines", "Examines Done", "Done Answer", "B Looks", "Looks f")
    times = takes("Examines", "P28D") + takes("Looks", "PT10M") + letters
    messages = ("Applies s", "Letter B", "Answer A")
    found = run(asks, office, parameters=times, messages=messages, length="P60D")
    assert (found["step/looks/served"], found["type/all/completed"]) == (12, 4)
    assert found["type/all/total/mean"] == 28 * DAY


@pytest.mark.parametrize(("tag", "event"), [("receiveTask", ""), ("intermediateCatchEvent", "message")])
def test_what_comes_from_outside_takes_the_time_that_is_told(tag: str, event: str) -> None:
    """Three hours until it comes, told once, are waited once."""
    inner = x("messageEventDefinition") if event else ""
    body = START + x(tag, inner, id="A", name="A") + END + flows("S A", "A E")
    told = x("bpsim:InterTriggerTimer", x("bpsim:DurationParameter", value="PT3H"))
    until = x("bpsim:ElementParameters", x("bpsim:ControlParameters", told), elementRef="A")
    assert run(body, parameters=until)["type/all/total/mean"] == 180
    if tag == "receiveTask":
        assert run(body, parameters=takes("A", "PT3H"))["type/all/total/mean"] == 180


def test_who_does_a_task_is_told_where_the_file_names_nobody() -> None:
    read = read_process(file(START + x("userTask", id="A", name="Look") + END + flows("S A", "A E")))
    assert [each.what for each in read.not_kept] == ["Nobody is named who does it."]


def test_a_task_of_higher_priority_is_done_first() -> None:
    """Three letters come at 1, 2 and 3 and take the clerk 10 minutes each; the call of 5 is taken at 11."""
    body = "".join(x("startEvent", id=start) for start in ("Mail", "Phone"))
    body += "".join(task(name, tag="userTask") for name in ("Letter", "Call")) + x("endEvent", id="E")
    lane = "".join(x("flowNodeRef", node) for node in ("Letter", "Call"))
    body = x("laneSet", x("lane", lane, id="L", name="Clerks")) + body
    urgent = said("Call", "Priority", "Priority", x("bpsim:NumericParameter", value=3))
    come = apart("Mail", "PT1M", 3) + apart("Phone", "PT5M", 1)
    drawn = body + flows("Mail Letter", "Phone Call", "Letter E", "Call E")
    worked = come + takes("Letter", "PT10M") + takes("Call", "PT10M")
    waits = {
        parameters: run(drawn, parameters=worked + parameters)["step/call/wait/max"] for parameters in ("", urgent)
    }
    assert waits == {"": 26, urgent: 6}
    vague = said("Call", "Priority", "Priority", x("bpsim:EnumParameter"))
    assert "Its priority is no plain number up to a million." in [
        note.what for note in read_process(file(drawn, parameters=worked + vague)).not_kept
    ]
