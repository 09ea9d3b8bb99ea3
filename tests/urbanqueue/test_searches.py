"""Searches of right-sizing: workers run the trials, whoever dies; stopped, gone on with, and nobody else's."""

import asyncio
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import numpy as np
import pytest
from django.utils import timezone
from procrastinate.contrib.django import app

from flowcore.results.statistics import Estimate
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial
from flowcore.sizing.size import size
from flowcore.study import StudyDocument
from flowcore.study.rosters import RosterRow
from tests.flowcore.sizing.studies import busy_noon
from tests.urbanqueue.conftest import Api, Workers, wait_for
from urbanqueue.runs.queue import QUEUE
from urbanqueue.searches import models, standing, tasks
from urbanqueue.searches.models import Search
from urbanqueue.searches.packing import asked_of, digest_of, packed, trial_of, unpacked
from urbanqueue.searches.queue import ask_for_help
from urbanqueue.studies.models import Version


@pytest.fixture
def noon() -> StudyDocument:
    """Clerks of whom at most five may be taken: a search of some seconds."""
    document = busy_noon().model_dump(mode="json")
    document["sizing"][0]["teams"][0]["shifts"][0] |= {"lengths": ["6 h", "8 h"], "every": "2 h"}
    document["run"] |= {"length": "1 wk"}
    return StudyDocument.model_validate(document)


@pytest.fixture
def noon_id(api: Api, noon: StudyDocument) -> int:
    status, study = api("POST", "/studies", {"document": noon.model_dump(mode="json")})
    assert status == 201, study
    return int(study["id"])


@pytest.fixture
def workers(transactional_db: None) -> Iterator[Workers]:
    running = Workers()
    yield running
    running.end()


def start(api: Api, study_id: int) -> dict[str, Any]:
    status, search = api("POST", f"/studies/{study_id}/searches")
    assert status == 201, search
    return dict(search)


async def worked_off() -> None:
    """Run the jobs that wait for trials, and no others."""
    worker = app.with_connector(app.connector.get_worker_connector())
    async with worker.open_async():
        await worker.run_worker_async(queues=[QUEUE], wait=False, install_signal_handlers=False, listen_notify=False)


def is_over(search: dict[str, Any]) -> bool:
    return Search.objects.get(pk=search["id"]).is_over


def tried(search: dict[str, Any]) -> int:
    return models.Trial.objects.filter(search=search["id"], outcome__isnull=False).count()


def answer_of(api: Api, search: dict[str, Any]) -> dict[str, Any]:
    status, answer = api("GET", f"/searches/{search['id']}/answer")
    assert status == 200, answer
    return dict(answer)


def test_workers_find_what_one_process_finds_though_one_is_killed(
    api: Api, noon_id: int, noon: StudyDocument, workers: Workers
) -> None:
    search = start(api, noon_id)
    assert (search["state"], search["number"], search["name"], search["version"]) == ("waiting", 1, "Clerks", 1)
    workers.start()
    wait_for(lambda: tried(search) > 30)
    shown = api("GET", f"/searches/{search['id']}")[1]
    assert shown["state"] == "running"
    assert shown["progress"]["stage"]
    assert shown["progress"]["tried"] > 0
    workers.kill_first()
    workers.start()
    workers.start()
    wait_for(lambda: is_over(search))
    shown = api("GET", f"/searches/{search['id']}")[1]
    assert (shown["state"], shown["problem"], shown["can_go_on"]) == ("done", "", False)
    assert shown["seconds"] > 0
    assert answer_of(api, search) == size(noon, threads=2).model_dump(mode="json")
    assert not models.Trial.objects.filter(search=search["id"]).exists(), "they are not needed any more"
    again = start(api, noon_id)
    assert again["seconds_left"] == pytest.approx(shown["seconds"], abs=1), "as long as the last one took"


def test_a_search_that_is_stopped_keeps_the_best_so_far_and_goes_on_to_the_same_answer(
    api: Api, noon_id: int, noon: StudyDocument, workers: Workers
) -> None:
    search = start(api, noon_id)
    workers.start()
    wait_for(lambda: (Search.objects.get(pk=search["id"]).progress or {}).get("cost"))
    assert api("GET", f"/searches/{search['id']}/answer")[0] == 422
    assert api("POST", f"/searches/{search['id']}/more")[0] == 422, "it is under way"
    assert api("POST", f"/searches/{search['id']}/cancel")[1]["state"] in ("stopping", "stopped")
    wait_for(lambda: is_over(search))
    stopped = api("GET", f"/searches/{search['id']}")[1]
    assert (stopped["state"], stopped["can_go_on"]) == ("stopped", True)
    kept = answer_of(api, search)
    assert [each["name"] for each in kept["proposals"]] == ["As it is today", "Cheapest so far"]
    assert kept["proposals"][1]["figures"]["step/desk/wait/within:5min"]["n"] == 30
    known = tried(search)
    status, going = api("POST", f"/searches/{search['id']}/more")
    assert (status, going["state"]) == (200, "waiting")
    assert tried(search) >= known > 0
    assert going["progress"]["tried"] > 0, "it is as far as it was"
    wait_for(lambda: is_over(search))
    assert answer_of(api, search)["proposals"] == size(noon, threads=2).model_dump(mode="json")["proposals"]


def test_a_search_that_never_began_can_be_stopped(api: Api, noon_id: int, workers: Workers) -> None:
    search = start(api, noon_id)
    api("POST", f"/searches/{search['id']}/cancel")
    workers.start()
    wait_for(lambda: is_over(search))
    answer = answer_of(api, search)
    assert answer["says"][0][0]["words"] == "Stopped before anything was found that seems to hold."
    assert answer["proposals"] == []


def test_what_is_deleted_is_let_go(api: Api, noon_id: int, workers: Workers) -> None:
    search = start(api, noon_id)
    workers.start()
    wait_for(lambda: tried(search) > 3)
    assert api("DELETE", f"/searches/{search['id']}")[0] == 204
    assert api("GET", f"/studies/{noon_id}/searches")[1] == []
    other = start(api, noon_id)
    wait_for(lambda: tried(other) > 3)


def test_a_search_that_cannot_be_made_says_why(api: Api, study_id: int, noon_id: int, noon: StudyDocument) -> None:
    status, answer = api("POST", f"/studies/{study_id}/searches")
    assert (status, answer["problems"][0]["what"]) == (422, "The study has no search.")
    document = noon.model_dump(mode="json")
    document["targets"] = [{"figure": "cost/total/per:day", "at_most": 500, "by": "interval"}]
    api("PUT", f"/studies/{noon_id}/document", document, If_Match='"1"')
    status, answer = api("POST", f"/studies/{noon_id}/searches", {"sizing": "clerks"})
    assert (status, answer["problems"][0]["where"]) == (422, "targets/0")
    assert api("POST", f"/studies/{noon_id}/searches", {"sizing": "moon"})[0] == 422
    assert api("GET", f"/studies/{noon_id}/searches")[1] == []


def test_what_goes_wrong_with_a_trial_is_said(api: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    models.Trial.objects.create(search_id=search["id"], digest="x", asked={"staffing": "nonsense"})
    ask_for_help(search["id"])
    asyncio.run(worked_off())
    told = api("GET", f"/searches/{search['id']}")[1]
    assert told["state"] == "failed"
    assert told["problem"].startswith("The engine failed")
    assert told["can_go_on"]


def test_a_search_of_another_engine_ends(api: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    Search.objects.update(engine="0.0-old", job=None)
    tasks.tend_searches(0)
    told = api("GET", f"/searches/{search['id']}")[1]
    assert (told["state"], told["can_go_on"]) == ("failed", False)
    assert "version 0.0-old" in told["problem"]
    assert api("POST", f"/searches/{search['id']}/more")[0] == 422


def test_a_search_whose_job_is_lost_is_put_back(api: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    before = Search.objects.get(pk=search["id"]).job
    tasks.tend_searches(0)
    assert Search.objects.get(pk=search["id"]).job == before
    Search.objects.update(job=None)
    tasks.tend_searches(0)
    assert Search.objects.get(pk=search["id"]).job not in (None, before)


def test_nobody_sees_or_stops_anothers_search(api: Api, stranger: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    path = f"/searches/{search['id']}"
    asked = [("GET", path), ("GET", f"{path}/answer"), ("POST", f"{path}/cancel"), ("POST", f"{path}/more")]
    for method, where in [*asked, ("DELETE", path), ("GET", f"/studies/{noon_id}/searches")]:
        assert stranger(method, where)[0] == 404, where
    assert stranger("POST", f"/studies/{noon_id}/searches")[0] == 404
    assert api("GET", path)[1]["state"] == "waiting"


def test_the_version_of_a_search_stays(api: Api, noon_id: int, noon: StudyDocument) -> None:
    document = noon.model_dump(mode="json")
    for number in range(1, 14):
        document["name"] = f"Noon {number}"
        assert api("PUT", f"/studies/{noon_id}/document", document, If_Match=f'"{number}"')[0] == 200
        if number == 2:
            search = start(api, noon_id)
    shown = api("GET", f"/searches/{search['id']}")[1]
    version = Version.objects.get(study=noon_id, number=shown["version"])
    assert (version.document["name"], version.folded) == ("Noon 2", False)


def test_how_long_it_still_takes_is_told_by_what_is_behind(api: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    assert search["seconds_left"] is None, "nobody can know"
    far = {"stage": "x", "share": 0.25, "share_then": 0.5, "tried": 9, "replications": 90, "cost": None, "after": 10.0}
    Search.objects.update(progress=far, begun_at=timezone.now() - timedelta(seconds=12))
    assert api("GET", f"/searches/{search['id']}")[1]["seconds_left"] == pytest.approx(28, abs=1)
    Search.objects.update(begun_at=timezone.now() - timedelta(seconds=30))
    assert api("GET", f"/searches/{search['id']}")[1]["seconds_left"] == pytest.approx(20, abs=1), "half is ahead"


def test_what_is_kept_of_a_trial_is_all_of_it() -> None:
    row = RosterRow.model_validate({"days": ["mon"], "from": "08:00", "to": "16:00", "people": 3})
    trial = Trial(Staffing({"a": [row]}, {"b": 2}, {"c": 1.5}, leaves_on_time=True), (4, 5), fresh=True, looks=True)
    again = trial_of(asked_of(trial))
    assert again == trial
    assert digest_of(asked_of(again)) == digest_of(asked_of(trial))
    assert again.staffing.rosters["a"] == [row]
    figures = {"x": Estimate(0.1, None, None, None, None, 1)}
    outcome = Outcome(np.array([0.1, 1 / 3]), np.ones((2, 2, 1)) / 7, np.eye(2), figures=figures)
    kept = unpacked(packed(outcome))
    assert kept.costs.tolist() == outcome.costs.tolist()
    assert kept.cells.tolist() == outcome.cells.tolist()
    assert kept.waited is not None
    assert kept.waited.tolist() == np.eye(2).tolist()
    assert (kept.figures, kept.stands_still) == (figures, False)
    assert unpacked(packed(Outcome(np.zeros(1), np.zeros((1, 2, 0)), stands_still=True))).waited is None


def test_a_search_is_of_a_scenario_and_is_current_as_long_as_that_is_so(
    api: Api, noon_id: int, noon: StudyDocument
) -> None:
    document = noon.model_dump(mode="json")
    document["scenarios"] = [
        {"id": "dear", "name": "Dear", "changes": [{"op": "replace", "path": "/teams/clerks/rate", "value": 30}]}
    ]
    api("PUT", f"/studies/{noon_id}/document", document, If_Match='"1"')
    today = start(api, noon_id)
    status, dear = api("POST", f"/studies/{noon_id}/searches", {"scenario": "dear"})
    assert (status, dear["scenario"], dear["is_current"]) == (201, "dear", True)
    searched = standing.study_of(Search.objects.get(pk=dear["id"]))
    assert [team.rate for team in searched.teams] == [30]
    assert api("POST", f"/studies/{noon_id}/searches", {"scenario": "gone"})[0] == 422
    document["name"] = "Called otherwise"
    document["scenarios"][0]["changes"][0]["value"] = 31
    api("PUT", f"/studies/{noon_id}/document", document, If_Match='"2"')
    assert [each["is_current"] for each in api("GET", f"/studies/{noon_id}/searches")[1]] == [False, True]
    document["sizing"][0]["teams"][0]["people"]["high"] = 9
    api("PUT", f"/studies/{noon_id}/document", document, If_Match='"3"')
    assert api("GET", f"/searches/{today['id']}")[1]["is_current"] is False


def test_an_answer_that_cannot_be_read_any_more_says_so(api: Api, noon_id: int) -> None:
    search = start(api, noon_id)
    Search.objects.update(answer={"says": "of old"}, state="done", finished_at=timezone.now())
    status, answer = api("GET", f"/searches/{search['id']}/answer")
    assert (status, answer["problems"][0]["mend"]) == (422, "Search again.")
