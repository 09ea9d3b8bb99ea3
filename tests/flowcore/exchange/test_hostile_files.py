"""Files that are no process, or mean harm: a clear problem, and nothing else."""

import random
import time

import pytest

from flowcore.exchange.bpmn.read import read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.problems import Problem, StudyError
from tests.flowcore.exchange.drawn_elsewhere import HEAD, DrawnElsewhere, x
from tests.flowcore.exchange.files import apart, file, flows, said, share, takes

BOMB = '<?xml version="1.0"?><!DOCTYPE b [<!ENTITY a "aaaaaaaaaa">' + "".join(
    f'<!ENTITY {chr(98 + n)} "{f"&{chr(97 + n)};" * 10}">' for n in range(9)
)
FETCHED = '<?xml version="1.0"?><!DOCTYPE d [<!ENTITY a SYSTEM "file:///etc/passwd">]>'
BODY = x("startEvent", id="S") + x("task", id="A") + x("endEvent", id="E") + flows("S A", "A E")


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "not XML"),
        (b"{}", "not XML"),
        (b"\x00\x01", "not XML"),
        (b"<definitions", "Line 1, column"),
        (b"<html/>", "no BPMN 2.0"),
        (f"{HEAD}</definitions>".encode(), "draws no process"),
        (f"{BOMB}]><d>&j;</d>".encode(), "document type"),
        (f"{FETCHED}<d>&a;</d>".encode(), "document type"),
        (b"<a>" * 200 + b"</a>" * 200, "deep"),
        (f"{HEAD}{'<a/>' * 200_001}</definitions>".encode(), "elements"),
        (b" " * 8_000_001, "MB"),
        (file("".join(x("task", id=f"A{n}") for n in range(1001))), "1,001 tasks"),
    ],
)
def test_what_is_no_process_is_a_clear_problem(content: bytes, says: str) -> None:
    began = time.process_time()
    with pytest.raises(StudyError) as raised:
        read_process(content)
    assert says in raised.value.problems[0].what
    assert time.process_time() - began < 60


@pytest.mark.parametrize(
    "parameters",
    [
        takes("A", "soon") + takes("A", "PT1E9H"),
        said("A", "Time", "ProcessingTime", x("bpsim:NumericParameter", value="1e300")),
        said("A", "Time", "ProcessingTime", x("bpsim:NumericParameter", value="-4")),
        said("A", "Time", "ProcessingTime", x("bpsim:TriangularDistribution", min=9, mode=1, max=2)),
        said("A", "Time", "ProcessingTime", x("bpsim:ErlangDistribution", k=0, mean=2)),
        said("A", "Time", "ProcessingTime", x("bpsim:GammaDistribution", shape=-1, scale="nan")),
        said("A", "Time", "ProcessingTime", x("bpsim:NumericParameter", value=3, timeUnit="moons")),
        said("A", "Time", "ProcessingTime", x("bpsim:UserDistribution")),
        said("A", "Time", "ProcessingTime", x("bpsim:MagicDistribution", x="1")),
        share("S_A", -3) + share("A_E", 7),
        apart("S", "PT0S", 0) + said("S", "Control", "InterTriggerTimer", x("bpsim:NumericParameter", value="x")),
        said("nobody", "Resource", "Quantity", x("bpsim:NumericParameter", value=3)),
    ],
)
def test_parameters_that_make_no_sense_are_told_and_left_out(parameters: str) -> None:
    read = read_process(file(BODY, parameters=parameters))
    assert len(read.study.steps) == 2


def test_flows_that_lead_nowhere_are_told() -> None:
    read = read_process(file(BODY + x("sequenceFlow", id="F", sourceRef="A", targetRef="gone")))
    assert [(each.element, each.what) for each in read.not_kept][:1] == [("F", "It begins or ends nowhere.")]


def test_files_with_something_cut_out_or_swapped_do_no_harm() -> None:
    """Whatever is missing: a study that can be written again, or a problem in words."""
    rng = random.Random(5)
    for seed in range(40):
        content = DrawnElsewhere(seed).file().decode()
        for _ in range(5):
            begin = rng.randrange(len(content))
            shorter = content[:begin] + content[begin + rng.randrange(1, 300) :]
            assert all(problem.mend for problem in problems_of(shorter.encode()))


def problems_of(content: bytes) -> list[Problem]:
    """Return what is wrong with a file; nothing where it becomes a study that can be written again."""
    try:
        write_process(read_process(content).study)
    except StudyError as error:
        return error.problems
    return []


def test_references_in_circles_come_to_an_end() -> None:
    """Scenarios that inherit from each other, an event at its own edge, a process that calls itself."""
    around = x("bpsim:Scenario", id="S1", inherits="S2") + x("bpsim:Scenario", id="S2", inherits="S1")
    data = x("relationship", x("extensionElements", x("bpsim:BPSimData", around)), type="BPSimData")
    own = x("boundaryEvent", x("timerEventDefinition"), id="B", attachedToRef="B") + x(
        "callActivity", id="K", calledElement="P0"
    )
    text = file(BODY + own + flows("K K", "B B")).decode().replace("</definitions>", f"{data}</definitions>")
    assert read_process(text.encode()).study.steps
