"""Every figure that a run yields is in the catalogue, and the catalogue promises none that no run yields."""

import json
from functools import cache
from pathlib import Path

import pytest

from flowcore.results.catalogue import KINDS, Address, main_measures, preferred_sign, titled
from flowcore.results.figure_search import MOST_FOUND, addresses_of, search_figures
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.browser.everything import everything

DEMO = Path(__file__).parents[2] / "demo"
HALL = read_study(json.loads((Path(__file__).parent / "formats" / "2" / "residents-hall.json").read_text()))
SHORT = {"length": "2 d", "warm_up": "0 min", "replications": 1, "precision": None}


CROWDED = {
    "name": "A crowded room with shifts",
    "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "20 min", "to": "desk"}],
    "steps": [
        {
            "id": "desk", "name": "Desk", "kind": "serve", "work": "30 min", "needs": [{"team": "clerks"}],
            "place": "room", "checkpoint": True, "next": [{"to": "out"}],
        },
        {"id": "out", "name": "Out", "kind": "exit"},
    ],
    "teams": [
        {
            "id": "clerks", "name": "Clerks",
            "roster": [{"days": ["mon", "tue"], "from": "08:00", "to": "12:00", "people": 2}],
        }
    ],
    "site": {"places": [{"id": "room", "name": "Room", "x": 0, "y": 0, "capacity": 2}]},
}  # fmt: skip


def hall() -> StudyDocument:
    return read_study(json.loads((DEMO / "residents-hall.json").read_text()))


@cache
def yielded() -> frozenset[str]:
    """Return the addresses of two days of a study that has everything, and of two days of the demo studies."""
    found: set[str] = set()
    demos = [read_study(json.loads(file.read_text())) for file in DEMO.glob("*.json")]
    for study in (read_study(everything()), read_study(CROWDED), *demos):
        short = study.model_copy(update={"run": study.run.model_copy(update=SHORT)})
        found |= set(simulate(short).figures())
    return frozenset(found)


def test_every_figure_of_a_run_is_in_the_catalogue() -> None:
    assert sorted(address for address in yielded() if Address.read(address) is None) == []


def test_every_row_of_the_catalogue_is_yielded_in_every_way_that_it_says() -> None:
    read = [found for address in yielded() if (found := Address.read(address))]
    told = {(a.subject, a.kind.quantity, a.statistic, a.half) for a in read if not a.statistic.startswith("within:")}
    promised = {
        (subject, kind.quantity, statistic, half)
        for kind in KINDS
        for subject in kind.subjects
        for half in ("", "regular", "overtime")
        for statistic in (kind.halves if half else kind.statistics)
    }
    assert sorted(promised - told) == []
    assert sorted(told - promised) == []


@pytest.mark.parametrize(
    ("address", "wish"),
    [
        ("type/all/wait/mean", -1),
        ("type/all/wait/sd", 0),
        ("step/counter/wait/p90", -1),
        ("step/counter/wait/within:5min", 1),
        ("type/all/wait/none", 1),
        ("type/all/wait:overtime/mean", -1),
        ("type/all/wait/p90:each", -1),
        ("type/all/completed", 1),
        ("type/all/abandoned:regular", -1),
        ("step/counter/work/mean", 0),
        ("cost/total/per:day", -1),
        ("cost/value/per:day", 1),
        ("cost/team/clerks/total/per:case", -1),
        ("type/all/value:waste/share", -1),
        ("team/clerks/utilisation", 0),
        ("no/such/thing", 0),
    ],
)
def test_which_way_is_better(address: str, wish: int) -> None:
    assert preferred_sign(address) == wish


@pytest.mark.parametrize(
    ("address", "name", "of"),
    [
        ("type/all/wait/mean", "Wait on the whole way", "mean, min"),
        ("type/all/total/p90", "Door to door", "9 in 10 within, min"),
        ("step/counter/wait/mean", "Wait at Counter", "mean, min"),
        ("step/counter/wait/within:5min", "Wait at Counter", "within 5 min, % of cases"),
        ("team/clerks/utilisation", "Clerks: at work", "% of the time"),
        ("cost/total/per:day", "Cost", "EUR a day"),
        ("cost/team/clerks/idle/per:case", "Clerks: paid waiting for work", "EUR a completed case"),
        ("type/all/completed", "Cases completed", "in a replication"),
        ("step/counter/cause:busy/mean", "Wait while all are busy at Counter", "mean, min"),
        ("step/counter/wait:overtime/mean", "Wait at Counter in overtime", "mean, min"),
        ("member/clerks:2/state:break", "Clerks 2: share of the time on a break", "% of the time"),
    ],
)
def test_titles_name_the_figure_and_its_unit(address: str, name: str, of: str) -> None:
    title = titled(address, hall())
    assert title is not None
    assert (title.name, title.of) == (name, of)


def test_the_main_measures_go_from_the_wide_to_the_narrow() -> None:
    chosen = main_measures(sorted(yielded()))
    assert chosen[:3] == ["type/all/total/mean", "type/all/wait/mean", "type/all/wait/p90"]
    assert chosen.index("cost/total/per:day") < chosen.index("step/counter/wait/mean")
    assert all(titled(address, hall()) for address in chosen)


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("wait", "type/all/wait/mean"),
        ("counter 9 in 10", "step/counter/wait/p90"),
        ("cost a day", "cost/total/per:day"),
        ("counter within 30 s", "step/counter/wait/within:30s"),
        ("door under 2.5 min", "type/all/total/within:2.5min"),
        ("clerks at work", "team/clerks/utilisation"),
        ("", "type/all/wait/mean"),
    ],
)
def test_figures_are_found_by_their_words(text: str, first: str) -> None:
    found = search_figures(HALL, text)
    assert found[0].address == first
    assert len({each.address for each in found}) == len(found) <= MOST_FOUND


def test_what_is_found_is_there_in_a_run() -> None:
    results = simulate(HALL.model_copy(update={"run": HALL.run.model_copy(update=SHORT)}))
    lacking = [address for address in addresses_of(HALL) if not results.has(address)]
    assert lacking == []


def test_nothing_is_called_that() -> None:
    assert search_figures(HALL, "moon") == []
