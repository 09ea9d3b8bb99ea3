"""Runs of several scenarios: what is read from the store, stopped and gone on with, fair, precise, or failed."""

import copy
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from flowcore import read_study, simulate
from flowcore.findings.comparison import by_time_rows
from flowcore.reports.comparison import Column
from flowcore.reports.pair import pair_of
from flowcore.results.comparison import compare
from flowcore.study.scenarios import apply_scenario
from tests.urbanqueue.conftest import Api
from tests.urbanqueue.test_runs import chunks_of, start
from urbanqueue.runs import chunks, queue, samples
from urbanqueue.runs.models import Chunk, ReplicationRow, Run, Sample

Work = Callable[[], None]
WAIT = "type/all/wait/mean"


@pytest.fixture(autouse=True)
def small_chunks(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(samples, "VISITS_PER_CHUNK", 12_000)


@pytest.fixture
def demo(demo: dict[str, Any]) -> dict[str, Any]:
    clerks = next(n for n, team in enumerate(demo["teams"]) if team["id"] == "clerks")
    lever = {"id": "clerks", "name": "Clerks", "sets": [f"/teams/{clerks}/size"], "values": [3, 4, 5]}
    gone = [{"op": "replace", "path": "/steps/nowhere/work", "value": "1 min"}]
    return demo | {
        "levers": [lever],
        "scenarios": [
            {"id": "four", "name": "Four clerks", "levers": {"clerks": 4}},
            {"id": "five", "name": "Five clerks", "levers": {"clerks": 5}},
            {"id": "lost", "name": "Lost", "changes": gone},
        ],
    }


def values_of(api: Api, run: dict[str, Any], scenario: str) -> Any:
    status, found = api("GET", f"/runs/{run['id']}/replications?scenario={scenario}&address={WAIT}")
    assert status == 200, found
    return found[WAIT]


def engine_says(demo: dict[str, Any], scenario: str, replications: int) -> list[float]:
    study = apply_scenario(read_study(demo), scenario)
    return simulate(study, numbers=range(replications)).values[WAIT].tolist()


def test_a_run_of_scenarios_says_of_each_what_the_engine_says(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id, scenarios=["", "four"])
    named = [(part["scenario"], part["name"], part["replications"]) for part in run["parts"]]
    assert named == [("", "As it is today", 6), ("four", "Four clerks", 6)]
    assert (run["replications"], run["started_by"]) == (12, "Ana")
    work()
    over = api("GET", f"/runs/{run['id']}")[1]
    assert (over["state"], [part["done"] for part in over["parts"]]) == ("done", [6, 6])
    for scenario in ("", "four"):
        assert values_of(api, run, scenario) == engine_says(demo, scenario, 6)
    assert values_of(api, run, "four") != values_of(api, run, "")
    assert api("GET", f"/runs/{run['id']}/figures?scenario=five")[0] == 422


def test_what_was_run_before_is_answered_at_once(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    """Also under another name of the study, by a second run, and for as many replications as there are."""
    first = start(api, study_id, scenarios=["", "four"])
    work()
    renamed = demo | {"name": "Another name", "targets": [{"figure": WAIT, "at_most": "5 min"}]}
    assert api("PUT", f"/studies/{study_id}/document", renamed, If_Match='"1"')[0] == 200
    again = start(api, study_id, scenarios=["four", "", "five"], settings=demo["run"] | {"replications": 4})
    assert [(part["stored"], part["done"]) for part in again["parts"]] == [(4, 4), (4, 4), (0, 0)]
    assert again["state"] == "waiting"
    at_once = start(api, study_id, scenarios=["four"], settings=demo["run"] | {"replications": 5})
    assert (at_once["state"], at_once["done"]) == ("done", 5)
    assert values_of(api, at_once, "four") == values_of(api, first, "four")[:5]
    work()
    assert ReplicationRow.objects.count() == 6 + 6 + 4, "nothing twice"
    other_seed = start(api, study_id, scenarios=[""], settings=demo["run"] | {"seed": 99})
    assert other_seed["done"] == 0


def test_a_run_stopped_and_gone_on_with_has_the_figures_of_an_undisturbed_one(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id, scenarios=["", "four"])
    later = chunks_of(run).latest("pk")
    chunks.do_chunk(later.pk)
    stopped = api("POST", f"/runs/{run['id']}/cancel")[1]
    assert (stopped["state"], stopped["done"]) == ("stopped", 2)
    assert not chunks_of(run).filter(is_done=False).exists()
    status, on = api("POST", f"/runs/{run['id']}/more", {"replications": 8})
    assert (status, on["state"], on["replications"]) == (200, "waiting", 16)
    work()
    over = api("GET", f"/runs/{run['id']}")[1]
    assert (over["state"], over["done"]) == ("done", 16)
    for scenario in ("", "four"):
        assert values_of(api, run, scenario) == engine_says(demo, scenario, 8)


def test_a_stopped_run_keeps_what_it_had_whatever_others_add(api: Api, study_id: int, work: Work) -> None:
    stopped = start(api, study_id, scenarios=[""])
    chunks.do_chunk(chunks_of(stopped).latest("pk").pk)
    api("POST", f"/runs/{stopped['id']}/cancel")
    before = values_of(api, stopped, "")
    whole = start(api, study_id, scenarios=[""])
    work()
    assert len(values_of(api, whole, "")) == 6
    assert values_of(api, stopped, "") == before == values_of(api, whole, "")[2:4]


def test_stopping_one_run_leaves_to_another_what_both_wait_for(api: Api, study_id: int, work: Work) -> None:
    first, second = (start(api, study_id, scenarios=[""]) for _ in range(2))
    assert chunks_of(first).filter(is_done=False).count() == queue.FEWEST_IN_HAND
    api("POST", f"/runs/{first['id']}/cancel")
    assert chunks_of(second).filter(is_done=False).count() == queue.FEWEST_IN_HAND
    work()
    assert api("GET", f"/runs/{second['id']}")[1]["state"] == "done"
    assert api("GET", f"/runs/{first['id']}")[1]["done"] == 0


def test_the_scenarios_of_a_run_go_on_evenly(api: Api, study_id: int) -> None:
    run = start(api, study_id, scenarios=["", "four", "five"])
    for _ in range(4):
        chunks.do_chunk(Chunk.objects.filter(is_done=False).earliest("pk").pk)
    done = [part["done"] for part in api("GET", f"/runs/{run['id']}")[1]["parts"]]
    assert max(done) - min(done) <= 2, done


def test_replications_are_added_until_each_scenario_is_precise(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    wanted = {"figure": WAIT, "within": 0.1, "at_most": 60}
    settings = demo["run"] | {"replications": 4, "precision": wanted}
    run = start(api, study_id, scenarios=["", "five"], settings=settings)
    work()
    over = api("GET", f"/runs/{run['id']}")[1]
    assert over["state"] == "done"
    for part in over["parts"]:
        figure = api("GET", f"/runs/{run['id']}/figures?scenario={part['scenario']}&address={WAIT}")[1]["figures"][WAIT]
        assert 4 < part["done"] <= 60
        assert part["done"] == 60 or figure["half_width"] <= 0.1 * figure["mean"]
        alone = apply_scenario(read_study(demo | {"run": settings}), part["scenario"])
        assert values_of(api, run, part["scenario"]) == simulate(alone).values[WAIT].tolist()


@pytest.mark.parametrize(
    ("asked", "where", "says"),
    [
        ({"scenarios": ["lost"]}, "scenarios/lost", "Lost: /steps/nowhere/work leads nowhere"),
        ({"scenarios": None}, "scenarios/lost", "Lost: /steps/nowhere/work leads nowhere"),
        ({"scenarios": ["moon"]}, "scenarios", "no scenario “moon”"),
        ({"scenarios": []}, "scenarios", "No scenario is chosen"),
    ],
)
def test_a_scenario_that_cannot_run_is_named(
    api: Api, study_id: int, asked: dict[str, Any], where: str, says: str
) -> None:
    status, found = api("POST", f"/studies/{study_id}/runs", asked)
    assert status == 422
    assert found["problems"][0]["where"] == where
    assert says in found["problems"][0]["what"]
    assert not Run.objects.exists()


def test_a_scenario_that_fails_leaves_the_others(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    crowd = [{"op": "replace", "path": "/streams/visitors/gap", "value": "0.1 s"}]
    more = copy.deepcopy(demo)
    more["streams"] = [{"id": "visitors", "name": "Visitors", "kind": "random", "gap": "3 min", "to": "greeter"}]
    more["scenarios"].append({"id": "crowd", "name": "A crowd", "changes": crowd})
    assert api("PUT", f"/studies/{study_id}/document", more, If_Match='"1"')[0] == 200
    run = start(api, study_id, scenarios=["", "crowd"])
    work()
    over = api("GET", f"/runs/{run['id']}")[1]
    assert over["state"] == "failed"
    assert [part["done"] for part in over["parts"]] == [6, 0]
    assert over["problem"].startswith("A crowd: After ")
    assert api("GET", f"/runs/{run['id']}/figures")[1]["replications"] == 6
    again = api("POST", f"/runs/{run['id']}/more", {"replications": 6})[1]
    assert (again["state"], again["problem"]) == ("waiting", "")


def test_scenarios_side_by_side(api: Api, stranger: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    """As the engine compares them; of half read results as of whole ones; the targets of the version first."""
    demo["targets"] = [{"figure": "step/counter/wait/p90", "at_most": "20 min"}]
    assert api("PUT", f"/studies/{study_id}/document", demo, If_Match='"1"')[0] == 200
    run = start(api, study_id, scenarios=["", "four", "five"])
    work()
    path = f"/studies/{study_id}/comparison?column={run['id']}:&column={run['id']}:four&column={run['id']}:five"
    status, found = api("GET", path)
    assert status == 200, found
    assert [column["name"] for column in found["columns"]] == ["As it is today", "Four clerks", "Five clerks"]
    assert [[setting["at"] for setting in lever["settings"]] for lever in found["levers"]] == [[3, 4, 5]]
    assert (found["by"], [family["columns"] for family in found["families"]]) == (["clerks"], [[0, 1, 2]])
    assert [len(column["changes"]) for column in found["columns"]] == [0, 1, 1]
    first = found["rows"][0]
    assert first["address"] == "step/counter/wait/p90"
    assert first["limit"] == {"at_most": 20, "at_least": None, "words": "target: at most 20"}
    study = read_study(demo)
    results = [simulate(apply_scenario(study, each)) for each in ("", "four", "five")]
    pairs = [(results[0].contributions(first["address"]), each.contributions(first["address"])) for each in results[1:]]
    for cell, difference in zip(first["cells"][1:], compare(first["address"], pairs, 0.95), strict=True):
        assert cell["difference"]["mean"] == difference.difference.mean
        assert cell["difference"]["low"] == difference.difference.low
        assert cell["verdict"] == difference.verdict
    assert found["trade_off"]["efficient"][0] == 0
    assert len(found["sentences"]) == 3
    within = api("GET", f"{path}&address=step/counter/wait/within:7.1min")[1]["rows"]
    assert within[0]["cells"][2]["figure"]["mean"] == results[2].figure("step/counter/wait/within:7.1min").mean
    assert api("GET", f"{path}&column=99:")[0] == 422
    assert stranger("GET", path)[0] == 404


def test_a_whole_run_is_named_in_one_word(api: Api, study_id: int, work: Work) -> None:
    run = start(api, study_id, scenarios=["", "four", "five"])["id"]
    work()

    def names(*columns: str) -> list[str]:
        asked = "&".join(each if "=" in each else f"column={each}" for each in columns)
        status, found = api("GET", f"/studies/{study_id}/comparison?{asked}")
        assert status == 200, found
        return [column["scenario"] for column in found["columns"]]

    assert names(f"{run}:*") == ["", "four", "five"]
    assert names(f"{run}:five", f"{run}:*") == ["five", "", "four"], "what is named itself is not named twice"
    assert names(f"{run}:*", "without=" + f"{run}:four") == ["", "five"]
    assert api("GET", f"/studies/{study_id}/comparison?column=99:*")[0] == 422


def test_the_targets_of_now_hold_for_runs_of_earlier_versions(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id, scenarios=["", "four"])
    work()
    path = f"/studies/{study_id}/comparison?column={run['id']}:*"
    assert [row["limit"] for row in api("GET", path)[1]["rows"] if row["limit"]] == []
    target = {"figure": "step/counter/wait/within:10min", "at_least": 0.5}
    assert api("PUT", f"/studies/{study_id}/document", demo | {"targets": [target]}, If_Match='"1"')[0] == 200
    first = api("GET", path)[1]["rows"][0]
    assert first["address"] == target["figure"]
    assert first["limit"] == {"at_most": None, "at_least": 0.5, "words": "target: at least 50 %"}
    assert {cell["keeps"] for cell in first["cells"]} <= {"kept", "missed", "in doubt"}


def test_two_scenarios_over_each_other(
    api: Api, stranger: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    """Whatever is read of both is what the engine says of them, also once what was read is kept at hand."""
    run = start(api, study_id, scenarios=["", "four"])
    work()
    path = f"/studies/{study_id}/comparison/pair?first={run['id']}:&other={run['id']}:four&address={WAIT}"
    status, found = api("GET", path)
    assert status == 200, found
    study = read_study(demo)
    columns = [Column("", each, simulate(each)) for each in (apply_scenario(study, ""), apply_scenario(study, "four"))]
    expected = pair_of(columns[0], columns[1], WAIT)
    assert found["distributions"] == expected.distributions.model_dump()
    assert [each["hour"] for each in found["week"]] == [each.hour for each in expected.week]
    apart = [each["difference"]["mean"] for each in found["week"]]
    assert apart == pytest.approx([each.difference.mean for each in expected.week], abs=1e-5), "kept in four bytes"
    assert api("GET", path)[1] == found
    assert stranger("GET", path)[0] == 404
    assert api("GET", path.replace(":four", ":nobody"))[0] == 422


def test_what_is_kept_at_hand_is_never_stale(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    """Compared, gone on with, compared again: each time of as many replications as there are."""
    run = start(api, study_id, scenarios=["", "four"])
    path = f"/studies/{study_id}/comparison?column={run['id']}:*&address={WAIT}"
    for replications in (6, 8):
        work()
        cells = api("GET", path)[1]["rows"][0]["cells"]
        assert [cell["figure"]["n"] for cell in cells] == [replications] * 2
        expected = [sum(engine_says(demo, each, replications)) / replications for each in ("", "four")]
        assert [cell["figure"]["mean"] for cell in cells] == pytest.approx(expected)
        api("POST", f"/runs/{run['id']}/more", {"replications": 8})


def test_a_run_says_how_long_it_took(api: Api, study_id: int, work: Work) -> None:
    """Only while it was under way, each time that one went on with it."""
    run = start(api, study_id, scenarios=[""])
    assert run["seconds"] == 0
    work()
    took = api("GET", f"/runs/{run['id']}")[1]["seconds"]
    begun = Run.objects.get(pk=run["id"])
    assert took == (begun.finished_at - begun.begun_at).total_seconds() > 0
    Run.objects.filter(pk=run["id"]).update(created_at=begun.created_at - timedelta(days=3))
    api("POST", f"/runs/{run['id']}/more", {"replications": 8})
    work()
    assert took < api("GET", f"/runs/{run['id']}")[1]["seconds"] < 3600


def test_how_long_a_run_will_take_is_told_before_it_starts(
    api: Api, study_id: int, work: Work, monkeypatch: pytest.MonkeyPatch
) -> None:
    """By a short try at first, then by what was run; what is stored takes no time."""
    asked = {"scenarios": ["", "four"]}
    path = f"/studies/{study_id}/runs/estimate"
    first = api("POST", path, asked)[1]
    assert (first["workers"], first["seconds"]) == (0, None), "nobody is there to do it"
    assert [(part["replications"], part["stored"]) for part in first["parts"]] == [(6, 0), (6, 0)]
    assert all(part["seconds"] > 0 for part in first["parts"])
    start(api, study_id, scenarios=[""])
    work()
    monkeypatch.setattr("urbanqueue.api.runs.workers_for_one", lambda: 2)
    then = api("POST", path, asked)[1]
    took = Sample.objects.get().seconds
    assert [part["seconds"] for part in then["parts"]] == [0, pytest.approx(took)]
    assert then["seconds"] == pytest.approx(took / 2)
    assert api("POST", path, {"scenarios": ["lost"]})[0] == 422


def test_going_on_where_it_cannot_be_is_refused_in_words(api: Api, study_id: int, work: Work) -> None:
    run = start(api, study_id, scenarios=[""])
    assert "still under way" in api("POST", f"/runs/{run['id']}/more", {"replications": 9})[1]["problems"][0]["what"]
    work()
    for wrong in (0, 10_001):
        assert api("POST", f"/runs/{run['id']}/more", {"replications": wrong})[0] == 422
    Run.objects.update(engine="0.0.1")
    status, found = api("POST", f"/runs/{run['id']}/more", {"replications": 9})
    assert (status, "version 0.0.1" in found["problems"][0]["what"]) == (422, True)
    assert api("GET", f"/runs/{run['id']}")[1]["can_go_on"] is False


def test_a_run_has_a_name_and_a_note(api: Api, stranger: Api, study_id: int) -> None:
    run = start(api, study_id, scenarios=[""])
    assert api("PATCH", f"/runs/{run['id']}", {"name": " First look "})[1]["name"] == "First look"
    assert api("PATCH", f"/runs/{run['id']}", {"note": "For Monday."})[1]["note"] == "For Monday."
    named = api("GET", f"/studies/{study_id}/runs")[1][0]
    assert (named["name"], named["note"]) == ("First look", "For Monday.")
    for method, path, body in (
        ("PATCH", "", {"name": "Mine"}),
        ("DELETE", "", None),
        ("POST", "/more", {"replications": 9}),
        ("POST", "/cancel", None),
    ):
        assert stranger(method, f"/runs/{run['id']}{path}", body)[0] == 404
    assert Run.objects.get(pk=run["id"]).name == "First look"


def test_a_deleted_run_takes_what_no_other_reads_with_it(api: Api, study_id: int, work: Work) -> None:
    both = start(api, study_id, scenarios=["", "four"])
    one = start(api, study_id, scenarios=["four"])
    work()
    assert api("DELETE", f"/runs/{both['id']}")[0] == 204
    assert Sample.objects.count() == 1
    assert len(values_of(api, one, "four")) == 6
    under_way = start(api, study_id, scenarios=["five"])
    assert api("DELETE", f"/runs/{under_way['id']}")[0] == 204
    assert not Chunk.objects.filter(is_done=False).exists()
    assert api("DELETE", f"/studies/{study_id}")[0] == 204


def test_targets_of_every_interval_are_judged_by_what_is_stored(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    aim = {"figure": "step/counter/wait/within:5min", "at_least": 0.95, "by": "interval"}
    status, _ = api("PUT", f"/studies/{study_id}/document", demo | {"targets": [aim]}, If_Match='"1"')
    assert status == 200
    run = start(api, study_id, scenarios=["", "four"])
    work()
    path = f"/studies/{study_id}/comparison?column={run['id']}:&column={run['id']}:four"
    [row] = api("GET", path)[1]["by_time"]
    study = read_study(demo | {"targets": [aim]})
    engine = [apply_scenario(study, each) for each in ("", "four")]
    columns = [Column("", each, simulate(each, numbers=range(6))) for each in engine]
    assert row == by_time_rows(columns)[0].model_dump(mode="json")
    marks = [
        samples.digest_of(read_study(demo | {"targets": targets})) for targets in ([aim], [aim | {"sure": 0.9}], [])
    ]
    assert marks[0] == marks[1] != marks[2]
