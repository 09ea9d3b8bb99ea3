"""Own measures over the API: told by new runs, worked out for old ones, and nothing lost on the way."""

from collections.abc import Callable
from typing import Any

import pytest

from flowcore import read_study, simulate
from tests.urbanqueue.conftest import Api
from tests.urbanqueue.test_runs import start
from urbanqueue.runs import actions, samples
from urbanqueue.runs.models import Run

Work = Callable[[], None]
SOON = {"all": [{"fact": "waited-here", "is": "at-most", "value": "5 min"}]}
MEASURE = {"id": "soon", "name": "Seen soon", "share": {"of": "step/counter", "where": SOON}}


@pytest.fixture(autouse=True)
def small_chunks(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(samples, "VISITS_PER_CHUNK", 12_000)


def write(api: Api, study_id: int, demo: dict[str, Any], version: int, **parts: Any) -> None:
    status, answer = api("PUT", f"/studies/{study_id}/document", demo | parts, If_Match=f'"{version}"')
    assert status == 200, answer


def own(api: Api, run: dict[str, Any], kind: str = "measures") -> Any:
    return api("GET", f"/runs/{run['id']}/own-figures")[1][kind]


def test_a_run_that_is_there_is_worked_out_from_its_seed(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id)
    work()
    before = api("GET", f"/runs/{run['id']}/replications")[1]
    write(api, study_id, demo, 1, measures=[MEASURE])
    [told] = own(api, run)
    assert (told["is_told"], told["figures"][0]["figure"]) == (False, None)
    assert api("POST", f"/runs/{run['id']}/measures") == (204, None)
    under_way = api("GET", f"/runs/{run['id']}")[1]
    assert (under_way["state"], under_way["redrawn"]) == ("done", {"share": 0.0, "problem": ""})
    assert api("GET", f"/runs/{run['id']}/findings")[1]["replications"] == 6, "it is read as it was meanwhile"
    status, answer = api("POST", f"/runs/{run['id']}/more", {"replications": 8})
    assert (status, answer["problems"][0]["what"]) == (422, "Its own measures are being worked out.")
    work()
    [told] = own(api, run)
    expected = simulate(read_study(demo | {"measures": [MEASURE]})).figure("measure/soon/share")
    assert (told["is_told"], told["figures"][0]["figure"]["mean"]) == (True, expected.mean)
    after = api("GET", f"/runs/{run['id']}/replications")[1]
    assert {address: after[address] for address in before} == before
    assert api("GET", f"/runs/{run['id']}")[1]["redrawn"] is None
    assert [each["number"] for each in api("GET", f"/studies/{study_id}/runs")[1]] == [1]
    assert start(api, study_id)["done"] == 6, "a new run reads what was worked out"


def test_a_measure_that_was_changed_is_not_told_as_it_was(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    write(api, study_id, demo, 1, measures=[MEASURE])
    run = start(api, study_id)
    work()
    write(api, study_id, demo, 2, measures=[MEASURE | {"name": "Seen within 5 min"}])
    [told] = own(api, run)
    assert told["is_told"], "another name is the same measure"
    assert told["figures"][0]["title"]["name"] == "Seen within 5 min"
    later = {"all": [SOON["all"][0] | {"value": "6 min"}]}
    write(api, study_id, demo, 3, measures=[MEASURE | {"share": {"of": "step/counter", "where": later}}])
    [told] = own(api, run)
    assert (told["is_told"], told["figures"][0]["figure"]) == (False, None)


def test_working_out_can_be_stopped_and_goes_with_its_run(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id)
    work()
    write(api, study_id, demo, 1, measures=[MEASURE])
    api("POST", f"/runs/{run['id']}/measures")
    assert api("DELETE", f"/runs/{run['id']}/measures") == (204, None)
    work()
    assert own(api, run)[0]["is_told"] is False
    assert api("GET", f"/runs/{run['id']}/findings")[1]["replications"] == 6
    api("POST", f"/runs/{run['id']}/measures")
    assert api("DELETE", f"/runs/{run['id']}")[0] == 204
    work()
    assert not Run.objects.exists()


def test_a_measure_that_does_not_fit_what_was_run_is_not_told(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    run = start(api, study_id)
    work()
    demo["steps"].append({"id": "new", "name": "New", "kind": "delay", "time": "1 min", "next": [{"to": "served"}]})
    of_new = MEASURE | {"id": "new", "share": {"of": "step/new", "where": SOON}}
    write(api, study_id, demo, 1, measures=[MEASURE, of_new])
    assert api("POST", f"/runs/{run['id']}/measures") == (204, None)
    work()
    told = {each["id"]: each["figures"][0]["figure"] for each in own(api, run)}
    assert told["soon"]["mean"] > 0
    assert told["new"] is None


def test_every_scenario_of_a_stopped_run_is_worked_out_as_far_as_it_came(
    api: Api, study_id: int, demo: dict[str, Any], work: Work
) -> None:
    scenario = {"id": "more", "name": "More", "changes": [{"op": "replace", "path": "/run/seed", "value": 99}]}
    write(api, study_id, demo, 1, scenarios=[scenario])
    run = start(api, study_id)
    work()
    stopped = Run.objects.get(pk=run["id"])
    stopped.parts.update(kept=[0, 2, 3], done=3)
    write(api, study_id, demo, 2, scenarios=[scenario], measures=[MEASURE])
    actions.work_out(stopped)
    work()
    for name in ("", "more"):
        [told] = api("GET", f"/runs/{run['id']}/own-figures?scenario={name}")[1]["measures"]
        assert (told["is_told"], told["figures"][0]["figure"]["n"]) == (True, 3)


def test_nobody_works_out_what_is_not_theirs(api: Api, stranger: Api, study_id: int, work: Work) -> None:
    run = start(api, study_id)
    work()
    for method, path in (("POST", "measures"), ("DELETE", "measures"), ("GET", "own-figures")):
        assert stranger(method, f"/runs/{run['id']}/{path}")[0] == 404


def test_the_board_tells_what_is_pinned(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    run = start(api, study_id)
    work()
    pinned = ["step/counter/wait/p90", "type/all/wait/within:7min", "no/such/thing"]
    write(api, study_id, demo, 1, board=pinned)
    board = own(api, run, "board")
    assert [each["address"] for each in board] == pinned
    assert [each["figure"] is None for each in board] == [False, False, True]
    assert board[0]["title"]["name"] == "Wait at Counter"
    assert start(api, study_id)["done"] == 6, "the board changes no replication"
