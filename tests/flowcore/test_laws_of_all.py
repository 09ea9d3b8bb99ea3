"""Laws that hold in every study, whatever it is made of."""

import json
import math
import subprocess
import sys
from typing import Any

import pytest
from hypothesis import HealthCheck, assume, given, settings

from flowcore.problems import StudyError
from flowcore.results.counts import CAUSES
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.browser.everything import NUMBERS, as_times
from tests.flowcore.days import day, desk
from tests.flowcore.random_studies import documents

TYPES_AND_STREAMS = {"type": ("usual", "urgent"), "stream": ("cases", "groups")}

MANY = settings(
    max_examples=60, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck)
)
UNTIL_EMPTY = {"length": "30 d", "until": {"empty": True}, "warm_up": "0 min"}
Figures = dict[str, float]


def run_of(document: dict[str, Any]) -> tuple[StudyDocument, Figures]:
    """Return a study with the figures of its one replication; a study in which cases lock each other is left out."""
    study = read_study(document)
    try:
        return study, simulate(study).replications[0].figures
    except StudyError as error:
        assume("stand" not in str(error))
        raise


def left(figures: Figures, subject: str) -> float:
    """Return how many left a step or the service, in whichever way."""
    return sum(figures.get(f"{subject}/{way}", 0.0) for way in ("served", "abandoned", "turned-away"))


def caused(figures: Figures, subject: str, *, blocked: bool) -> float:
    """Return the minutes that a subject's cases waited, by the sum of the causes."""
    names = [name for name in CAUSES if blocked or name != "next-line"]
    means = [figures[f"{subject}/cause:{name}/mean"] for name in names]
    return sum(means) * left(figures, subject) if left(figures, subject) else 0.0


@MANY
@given(documents(length="20 h", warm_up="0 min"))
def test_no_case_is_lost(document: dict[str, Any]) -> None:
    study, figures = run_of(document)
    assert figures["type/all/arrived"] == left(figures, "type/all") + figures["type/all/inside/end"]
    for subject in ("type", "stream"):
        inside = sum(figures[f"{subject}/{each}/inside"] for each in TYPES_AND_STREAMS[subject])
        assert inside == figures[f"{subject}/all/inside"] == figures["type/all/inside/end"]
    if study.deadlines:
        state = {name: figures[f"deadline/late/{name}"] for name in ("started", "met", "missed", "left")}
        assert 0 <= state["started"] - state["met"] - state["missed"] - state["left"] <= figures["type/all/inside/end"]
    by_outcome = [
        figures[f"outcome/{exit}/{way}"]
        for exit in ("out", "gone")
        for way in ("completed", "abandoned", "turned-away")
    ]
    assert left(figures, "type/all") == sum(by_outcome)
    for step in study.steps:
        if step.kind in ("serve", "delay", "signal"):
            here = f"step/{step.id}"
            assert figures[f"{here}/arrived"] == left(figures, here) + figures[f"{here}/inside/end"], step.id


@MANY
@given(documents(length="20 h", warm_up="2 h"))
def test_minutes_and_members_and_money_add_up(document: dict[str, Any]) -> None:
    study, figures = run_of(document)
    parts = [figures[f"type/all/{quantity}/mean"] for quantity in ("wait", "blocked", "work", "travel")]
    assert figures["type/all/total/mean"] == pytest.approx(sum(parts), nan_ok=True)
    waited = (parts[0] + parts[1]) * left(figures, "type/all")
    assert caused(figures, "type/all", blocked=True) == pytest.approx(0.0 if math.isnan(waited) else waited, abs=1e-6)
    for team in study.teams:
        states = [value for address, value in figures.items() if address.startswith(f"team/{team.id}/state:")]
        assert sum(states) == pytest.approx(1)
    cost = {
        line: figures[f"cost/team/nurses/{line}/per:hour"] for line in ("regular", "overtime-base", "overtime-premium")
    }
    if figures["team/nurses/paid-use"] > 0:
        paid = figures["team/nurses/working"] / figures["team/nurses/paid-use"]
        assert cost["regular"] + cost["overtime-base"] == pytest.approx(30 * paid)
    assert cost["overtime-premium"] == pytest.approx(0.5 * cost["overtime-base"])


@MANY
@given(documents(length="20 h", warm_up="2 h"))
def test_regular_time_and_overtime_add_up(document: dict[str, Any]) -> None:
    study, figures = run_of(document)
    parts = {address: value for address, value in figures.items() if ":regular" in address}
    assert bool(parts) == study.has_shifts
    for address, regular in parts.items():
        whole, quantity = figures[address.replace(":regular", "")], address.split("/")[-1]
        beyond = figures[address.replace(":regular", ":overtime")]
        if quantity == "run" or (address.endswith(":regular") and not address.startswith(("team/", "cost/"))):
            assert regular + beyond == pytest.approx(whole), address
        elif quantity == "mean" and "/wait:" in address and not math.isnan(whole):
            means = [each for each in (regular, beyond, whole) if not math.isnan(each)]
            assert min(means[:-1]) - 1e-9 <= whole <= max(means[:-1]) + 1e-9, address


@MANY
@given(documents(**UNTIL_EMPTY))
def test_littles_law_on_every_line_and_inside(document: dict[str, Any]) -> None:
    """All cases have left at the end, so what stood in a line over time is what was waited there, and so inside."""
    study, figures = run_of(document)
    assume(figures["type/all/inside/end"] == 0)
    minutes = figures["run/minutes"]
    total = figures["type/all/total/mean"] * left(figures, "type/all") if left(figures, "type/all") else 0.0
    assert figures["type/all/inside/mean"] * minutes == pytest.approx(total)
    for step in study.steps:
        here = f"step/{step.id}"
        errands_left = figures.get(f"{here}/inside/end", 0.0) > 0
        if f"{here}/line/mean" in figures and not errands_left:
            stood = figures[f"{here}/line/mean"] * minutes
            assert stood == pytest.approx(caused(figures, here, blocked=False), abs=1e-6), step.id


@settings(MANY, max_examples=12)
@given(documents(length="20 h", warm_up="2 h"))
def test_threads_and_order_change_nothing(document: dict[str, Any]) -> None:
    study, _ = run_of(document | {"run": document["run"] | {"replications": 1}})
    whole, parts = simulate(study, numbers=range(4)), simulate(study, numbers=[3, 1, 0, 2], threads=2)
    for one, other in zip(whole.replications, parts.replications, strict=True):
        assert (one.number, one.histograms) == (other.number, other.histograms)
        assert repr(dict(one.figures)) == repr(dict(other.figures))


def some_documents(count: int) -> list[dict[str, Any]]:
    """Return the first studies that hypothesis makes and that run to their end, always the same ones."""
    found: list[dict[str, Any]] = []

    @settings(MANY, max_examples=4 * count)
    @given(documents(length="10 h", warm_up="1 h"))
    def collect(document: dict[str, Any]) -> None:
        run_of(document)
        found.append(document)

    collect()
    return sorted(found, key=lambda document: -len(document["steps"]))[:count]


def test_compiled_and_plain_python_agree_to_the_last_bit_and_no_index_is_below_zero() -> None:
    """Plain Python runs with arrays that refuse an index below zero; those too large it refuses itself."""
    studies = [*some_documents(6), everything_drawn()]
    plain = subprocess.run(
        [sys.executable, "-m", "tests.flowcore.in_plain_python"],
        input=json.dumps(studies),
        capture_output=True,
        text=True,
        check=False,
    )
    assert plain.returncode == 0, plain.stderr[-2000:]
    found = [simulate(read_study(each)).values for each in studies]
    assert plain.stdout.splitlines() == [json.dumps({a: v.tolist() for a, v in each.items()}) for each in found]


def everything_drawn() -> dict[str, Any]:
    """Return a study that draws from every distribution."""
    work = [each for number in NUMBERS if (each := as_times(number))["dist"] != "poisson"]
    names = [f"s{number}" for number in range(len(work))] + ["out"]
    steps = [desk(each, id=names[n], needs=[], to=names[n + 1]) for n, each in enumerate(work)]
    cases = {"id": "in", "name": "In", "kind": "random", "gap": "5 min", "to": "s0", "group": NUMBERS[-1]}
    return day([cases], steps, [], length="20 h").model_dump(mode="json", exclude_defaults=True, by_alias=True)


def test_a_watched_array_refuses_an_index_below_zero() -> None:
    watch = "from tests.flowcore.in_plain_python import *; np.zeros(3).view(Watched)[-1]"
    done = subprocess.run([sys.executable, "-c", watch], capture_output=True, text=True, check=False)
    assert "below zero" in done.stderr
