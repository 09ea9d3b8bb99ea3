"""The engine against exact formulas. Intervals are at 99.9 %, from the run itself; the seed is fixed."""

import json
import math
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from flowcore.simulate import simulate
from flowcore.study import StudyDocument
from flowcore.theory import erlang_b, erlang_c, wait_mg1, wait_mmc
from flowcore.theory.network import offered_load, visit_rates
from tests.flowcore.builders import exit_step, exponential, serve, single_line, study

SURE = 0.999


def interval(of: StudyDocument, address: str) -> tuple[float, float]:
    found = simulate(of.model_copy(update={"run": of.run.model_copy(update={"confidence": SURE})})).figure(address)
    assert found.low is not None
    assert found.high is not None
    return found.low, found.high


def assert_holds(of: StudyDocument, address: str, truth: float) -> None:
    low, high = interval(of, address)
    assert low <= truth <= high, f"{address}: {truth} is not in {low} to {high}"


@pytest.mark.parametrize(("servers", "work"), [(1, 0.7), (3, 2.4), (10, 8.5)])
def test_mean_wait_of_m_m_c(servers: int, work: float) -> None:
    assert_holds(single_line(exponential(work), servers, 1.0), "step/desk/wait/mean", wait_mmc(servers, 1.0, work))


def test_share_that_does_not_wait_in_m_m_c() -> None:
    line = single_line(exponential(2.4), 3, 1.0)
    assert_holds(line, "step/desk/wait/none", 1 - erlang_c(3, 2.4))
    assert_holds(line, "team/clerks/utilisation", 0.8)


@pytest.mark.parametrize(
    ("work", "mean", "sd"),
    [
        ("0.7 min", 0.7, 0.0),
        ({"dist": "uniform", "low": "0.2 min", "high": "1.2 min"}, 0.7, 1 / math.sqrt(12)),
        ({"dist": "lognormal", "mean": "0.7 min", "sd": "0.5 min"}, 0.7, 0.5),
        ({"dist": "erlang", "mean": "0.7 min", "k": 3}, 0.7, 0.7 / math.sqrt(3)),
        (
            {"dist": "triangular", "low": "0.1 min", "mode": "0.5 min", "high": "1.5 min"},
            0.7,
            math.sqrt((0.01 + 0.25 + 2.25 - 0.05 - 0.15 - 0.75) / 18),
        ),
    ],
)
def test_mean_wait_of_m_g_1(work: Any, mean: float, sd: float) -> None:
    assert_holds(single_line(work, 1, 1.0), "step/desk/wait/mean", wait_mg1(1.0, mean, sd))


def rework_network() -> StudyDocument:
    return study(
        [
            serve("intake", exponential(0.6), "clerks", {"expert": 0.4, "cashier": 0.6}),
            serve("expert", exponential(2.0), "experts", {"intake": 0.25, "cashier": 0.75}),
            serve("cashier", exponential(0.7), "cashiers", {"out": 1}),
            exit_step(),
        ],
        {"clerks": 1, "experts": 2, "cashiers": 1},
        exponential(1.0),
    )


def test_open_network_with_rework_against_product_form() -> None:
    network = rework_network()
    visits = dict(zip(["intake", "expert", "cashier"], visit_rates(network)[0], strict=False))
    assert visits["intake"] == pytest.approx(1 / (1 - 0.4 * 0.25))
    for step, servers, work in (("intake", 1, 0.6), ("expert", 2, 2.0), ("cashier", 1, 0.7)):
        assert_holds(network, f"step/{step}/wait/mean", wait_mmc(servers, visits[step], work))
    sojourn = sum(
        visits[step] * (wait_mmc(servers, visits[step], work) + work)
        for step, servers, work in (("intake", 1, 0.6), ("expert", 2, 2.0), ("cashier", 1, 0.7))
    )
    assert_holds(network, "type/all/total/mean", sojourn)


def test_offered_load_counts_rework() -> None:
    load = offered_load(rework_network())
    assert load["experts"] == pytest.approx(2.0 * 0.4 / 0.9)


def test_infinite_servers_as_a_delay() -> None:
    delay = study(
        [
            {"id": "pause", "name": "Pause", "kind": "delay", "time": exponential(5), "next": [{"to": "out"}]},
            exit_step(),
        ],
        {},
        exponential(0.5),
    )
    assert_holds(delay, "step/pause/inside/mean", 10.0)


def test_erlang_b_by_its_definition() -> None:
    load, servers = 4.2, 6
    terms = [load**n / math.factorial(n) for n in range(servers + 1)]
    assert erlang_b(servers, load) == pytest.approx(terms[-1] / sum(terms))


def test_formulas_where_servers_cannot_keep_up() -> None:
    assert wait_mmc(2, 1.0, 2.0) == math.inf
    assert wait_mg1(1.0, 1.0, 0.1) == math.inf
    assert erlang_c(2, 3.0) == 1.0


def test_command_line_says_the_same(tmp_path: Path) -> None:
    file = tmp_path / "study.json"
    file.write_text(single_line(exponential(2.4), 3, 1.0).model_dump_json())
    command = [sys.executable, "-m", "flowcore", "run", str(file), "--length", "30d", "--threads", "2"]
    done = subprocess.run([*command, "--out", str(tmp_path / "out.json")], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    figure = json.loads((tmp_path / "out.json").read_text())["figures"]["step/desk/wait/mean"]
    assert len(figure["values"]) == 12
    assert figure["low"] <= wait_mmc(3, 1.0, 2.4) <= figure["high"]
