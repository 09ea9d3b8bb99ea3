"""Studies, their documents and their history."""

import copy
import json
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.conf import settings
from django.core.management import call_command
from django.utils import timezone

from flowcore import read_study
from flowcore.study import written
from tests.urbanqueue.conftest import Api
from urbanqueue.accounts.models import Person
from urbanqueue.logs.models import LogFile
from urbanqueue.studies.actions import FOLDED_KEPT, FOLDED_WITHIN, sweep_studies
from urbanqueue.studies.models import Study, Version


def put(api: Api, study_id: int, document: Any, version: int) -> tuple[int, Any]:
    return api("PUT", f"/studies/{study_id}/document", document, If_Match=f'"{version}"')


def test_a_new_study_already_runs(api: Api) -> None:
    status, study = api("POST", "/studies", {"name": "Front desk"})
    assert status == 201
    assert study["document"]["name"] == "Front desk"
    assert study["problems"] == []
    assert [step["kind"] for step in study["document"]["steps"]] == ["serve", "exit"]


def test_a_document_comes_back_as_it_was_sent(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    status, kept = api("GET", f"/studies/{study_id}/versions/1")
    assert status == 200
    assert read_study(kept) == read_study(demo)
    whole = api("GET", f"/studies/{study_id}")[1]
    assert whole["document"]["steps"] == demo["steps"]
    assert whole["version"] == 1


@pytest.mark.parametrize("name", ["animal-clinic", "phone-line"])
def test_every_construct_comes_back_and_can_be_saved_again(api: Api, name: str) -> None:
    document = json.loads((settings.ROOT / "demo" / f"{name}.json").read_text())
    created = api("POST", "/studies", {"document": document})[1]
    found = api("GET", f"/studies/{created['id']}")[1]["document"]
    for key in ("streams", "steps", "deadlines", "spans", "teams", "calendars", "traits", "levers"):
        assert found.get(key, []) == written(read_study(document)).get(key, []), key
    assert put(api, created["id"], found, 1)[0] == 200


def test_saving_makes_versions_and_keeps_the_old(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    changed = copy.deepcopy(demo)
    changed["teams"][1]["size"] = 4
    changed["name"] = "Hall with four"
    status, saved = put(api, study_id, changed, 1)
    assert (status, saved["version"], saved["problems"]) == (200, 2, [])
    assert put(api, study_id, changed, 2)[1]["version"] == 2, "nothing changed, so no new version"
    history = api("GET", f"/studies/{study_id}/versions")[1]
    assert [(entry["number"], entry["saved_by"]) for entry in history] == [(2, "Ana"), (1, "Ana")]
    words = "Study: name Residents' hall → Hall with four; Clerks: size 3 → 4"
    assert [entry["changed"] for entry in history] == [words, "Made"]
    assert api("GET", f"/studies/{study_id}/versions/1")[1]["teams"][1]["size"] == 3
    assert api("GET", "/studies")[1][0]["name"] == "Hall with four"


def test_a_conflict_returns_both_and_loses_neither(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    mine, theirs = copy.deepcopy(demo), copy.deepcopy(demo)
    theirs["teams"][0]["size"], mine["teams"][0]["size"] = 2, 3
    assert put(api, study_id, theirs, 1)[0] == 200
    status, conflict = put(api, study_id, mine, 1)
    assert status == 409
    assert conflict["version"] == 2
    assert conflict["yours"]["teams"][0]["size"] == 3
    assert conflict["theirs"]["teams"][0]["size"] == 2
    assert api("GET", f"/studies/{study_id}")[1]["document"]["teams"][0]["size"] == 2
    assert conflict["clashes"] == ["teams/greeters/size"]
    assert conflict["both"]["teams"][0]["size"] == 3
    assert [(each["name"], each["what"], each["after"]) for each in conflict["theirs_changed"]] == [
        ("Greeters", "size", "2")
    ]
    assert put(api, study_id, mine, 2)[1]["version"] == 3


def test_changes_in_different_places_can_be_kept_both(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    mine, theirs = copy.deepcopy(demo), copy.deepcopy(demo)
    theirs["teams"][0]["size"] = 2
    theirs["steps"] = [step for step in theirs["steps"] if step["id"] != "photo-booth"]
    mine["steps"][0]["name"] = "Kiosk"
    mine["teams"].append({"id": "guards", "name": "Guards", "size": 1})
    put(api, study_id, theirs, 1)
    conflict = put(api, study_id, mine, 1)[1]
    assert conflict["clashes"] == []
    both = conflict["both"]
    assert both["steps"][0]["name"] == "Kiosk"
    assert "photo-booth" not in [step["id"] for step in both["steps"]]
    assert [(team["id"], team["size"]) for team in both["teams"][:1]] == [("greeters", 2)]
    assert both["teams"][-1]["id"] == "guards"


def test_saving_without_saying_on_top_of_what(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    status, body = api("PUT", f"/studies/{study_id}/document", demo)
    assert status == 428
    assert body["problems"][0]["where"] == "If-Match"


@pytest.mark.parametrize(
    ("change", "where", "what"),
    [
        (lambda d: d["steps"][0].update(bogus=1), "steps/kiosk/bogus", "not known"),
        (lambda d: d["steps"][0].update(work="5"), "steps/kiosk/work", "no unit"),
        (
            lambda d: d["steps"][2]["work"]["otherwise"].update(mean="x"),
            "steps/counter/work/otherwise/mean",
            "not a dur",
        ),
        (lambda d: d["run"].update(replications=-1), "run/replications", "is below 1"),
    ],
)
def test_a_document_that_cannot_be_read_is_refused_with_places(
    api: Api, study_id: int, demo: dict[str, Any], change: Any, where: str, what: str
) -> None:
    change(demo)
    status, body = put(api, study_id, demo, 1)
    assert status == 422
    assert [(problem["where"], what in problem["what"]) for problem in body["problems"]] == [(where, True)]
    assert api("POST", "/studies", {"document": demo})[1] == body


def test_a_document_with_errors_is_kept_and_told(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    """Half-done work is saved all the same; only running it is refused."""
    demo["steps"][5]["next"][0]["share"] = 0.84
    demo["steps"][6]["needs"][0]["team"] = "robots"
    status, saved = put(api, study_id, demo, 1)
    assert status == 200
    errors = [problem for problem in saved["problems"] if problem["level"] == "error"]
    assert {problem["where"] for problem in errors} == {"steps/identity-desk/next", "steps/cashier/needs"}
    assert api("GET", f"/studies/{study_id}/checks")[1] == saved["problems"]
    status, body = api("POST", f"/studies/{study_id}/runs")
    assert (status, body["problems"]) == (422, errors)


def test_what_is_not_json_is_said(api: Api, study_id: int) -> None:
    response = api.client.put(f"/api/studies/{study_id}/document", "{", "application/json")
    assert response.status_code == 422
    assert "is not JSON" in response.json()["problems"][0]["what"]


def test_a_copy_is_a_study_of_its_own(api: Api, study_id: int) -> None:
    status, copied = api("POST", "/studies", {"copy_of": study_id})
    assert (status, copied["document"]["name"]) == (201, "Residents' hall (copy)")
    assert copied["id"] != study_id


def test_deleting_can_be_undone(api: Api, study_id: int) -> None:
    assert api("DELETE", f"/studies/{study_id}")[0] == 204
    assert api("GET", "/studies")[1] == []
    assert api("GET", f"/studies/{study_id}")[0] == 404
    assert api("POST", f"/studies/{study_id}/restore")[0] == 204
    assert api("GET", f"/studies/{study_id}")[0] == 200
    assert api("POST", f"/studies/{study_id}/restore")[0] == 404


def test_what_is_anothers_is_not_there(api: Api, stranger: Api, study_id: int, demo: dict[str, Any]) -> None:
    run = api("POST", f"/studies/{study_id}/runs")[1]["id"]
    hidden = [
        ("GET", f"/studies/{study_id}"),
        ("DELETE", f"/studies/{study_id}"),
        ("POST", f"/studies/{study_id}/restore"),
        ("GET", f"/studies/{study_id}/checks"),
        ("GET", f"/studies/{study_id}/versions"),
        ("GET", f"/studies/{study_id}/versions/1"),
        ("GET", f"/studies/{study_id}/runs"),
        ("POST", f"/studies/{study_id}/runs"),
        ("GET", f"/runs/{run}"),
        ("POST", f"/runs/{run}/cancel"),
        ("GET", f"/runs/{run}/figures"),
        ("GET", f"/runs/{run}/replications"),
        ("GET", f"/runs/{run}/against/{run}"),
    ]
    assert {(method, path, stranger(method, path)[0]) for method, path in hidden} == {(*each, 404) for each in hidden}
    assert put(stranger, study_id, demo, 1)[0] == 404
    assert stranger("POST", "/studies", {"copy_of": study_id})[0] == 404
    assert stranger("GET", "/studies") == (200, [])
    assert api("GET", f"/studies/{study_id}")[0] == 200


def test_the_demo_is_loaded_once_and_never_over_what_was_changed(transactional_db: None) -> None:
    call_command("load_demo", verbosity=0)
    study = Study.objects.get(owner__email="analyst@portalder.example", name="Residents' hall")
    others = set(Study.objects.exclude(pk=study.pk).values_list("name", flat=True))
    document = Version.objects.get(study=study).document
    api = Api(Person.objects.get(email="analyst@portalder.example"))
    assert put(api, study.pk, {**document, "name": "Another name"}, 1)[0] == 200
    call_command("load_demo", verbosity=0)
    assert {log.name for log in LogFile.objects.all()} == {"kiosk-march.csv", "phone-switch.csv"}
    assert sorted(Study.objects.values_list("name", flat=True)) == sorted({"Another name", *others})


def numbered(api: Api, study_id: int) -> list[int]:
    return [entry["number"] for entry in api("GET", f"/studies/{study_id}/versions")[1]]


def resized(demo: dict[str, Any], size: int) -> dict[str, Any]:
    document = copy.deepcopy(demo)
    document["teams"][1]["size"] = size
    return document


def test_saves_that_follow_each_other_soon_are_one_entry_of_the_history(
    api: Api, study_id: int, demo: dict[str, Any]
) -> None:
    for version in range(1, 12):
        assert put(api, study_id, resized(demo, 3 + version), version)[1]["version"] == version + 1
    assert numbered(api, study_id) == [12, 1]
    entries = api("GET", f"/studies/{study_id}/versions")[1]
    assert entries[0]["changed"] == "Clerks: size 3 → 14"
    assert Version.objects.filter(study=study_id).count() < 2 + 2 * FOLDED_KEPT
    Version.objects.filter(number=12).update(since=timezone.now() - FOLDED_WITHIN)
    put(api, study_id, resized(demo, 20), 12)
    assert numbered(api, study_id) == [13, 12, 1], "ten minutes later it is another entry"


def test_what_a_run_or_a_restore_refers_to_stays(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    put(api, study_id, resized(demo, 4), 1)
    assert api("POST", f"/studies/{study_id}/runs")[0] == 201
    put(api, study_id, resized(demo, 5), 2)
    put(api, study_id, resized(demo, 6), 3)
    status, _ = api("PUT", f"/studies/{study_id}/document?restores=2", resized(demo, 4), If_Match='"4"')
    assert status == 200
    entries = api("GET", f"/studies/{study_id}/versions")[1]
    assert [entry["number"] for entry in entries] == [5, 4, 2, 1]
    assert entries[0]["changed"] == "Version 2 restored"
    api("PUT", f"/studies/{study_id}/document?restores=99", resized(demo, 7), If_Match='"5"')
    entries = api("GET", f"/studies/{study_id}/versions")[1]
    assert [entry["number"] for entry in entries] == [6, 5, 4, 2, 1], "a restore stays an entry of its own"
    assert entries[0]["changed"] == "Clerks: size 4 → 7", "there is no version 99"
    assert [entry["number"] for entry in api("GET", f"/studies/{study_id}/versions?before=4")[1]] == [2, 1]


def test_two_people_or_two_tabs_find_what_both_began_with(api: Api, study_id: int, demo: dict[str, Any]) -> None:
    """Folded versions stay for a while: who edits on top of one is told of both sides' changes."""
    put(api, study_id, resized(demo, 4), 1)
    put(api, study_id, resized(demo, 5), 2)
    other = copy.deepcopy(resized(demo, 4))
    other["name"] = "Another name"
    status, conflict = put(api, study_id, other, 2)
    assert status == 409
    assert (conflict["clashes"], conflict["both"]["teams"][1]["size"]) == ([], 5)


def test_what_was_deleted_is_listed_and_swept_after_thirty_days(api: Api, stranger: Api, study_id: int) -> None:
    api("DELETE", f"/studies/{study_id}")
    [listed] = api("GET", "/studies/deleted")[1]
    assert listed["id"] == study_id
    deleted, until = (datetime.fromisoformat(listed[key]) for key in ("deleted_at", "restorable_until"))
    assert until - deleted == timedelta(days=30)
    assert stranger("GET", "/studies/deleted")[1] == []
    sweep_studies()
    assert Study.objects.filter(pk=study_id).exists()
    Study.objects.update(deleted_at=timezone.now() - timedelta(days=31))
    sweep_studies()
    assert not Study.objects.filter(pk=study_id).exists()


def of_format_1(study_id: int) -> dict[str, Any]:
    """Let a study's first version be as it was written in format 1, with a hold, and return it."""
    version = Version.objects.get(study=study_id, number=1)
    gate = {"id": "gate", "name": "Gate", "kind": "hold", "signal": {"every": "5 min"}, "next": [{"to": "served"}]}
    old = {**version.document, "format": 1, "steps": [*version.document["steps"], gate]}
    Version.objects.filter(pk=version.pk).update(document=old)
    return old


def test_a_version_of_an_earlier_format_opens_and_stays_as_it_was_written(api: Api, study_id: int) -> None:
    old = of_format_1(study_id)
    opened = api("GET", f"/studies/{study_id}")[1]["document"]
    assert (opened["format"], opened["steps"][-1]["kind"], opened["steps"][-1]["clears"]) == (
        2,
        "signal",
        {"every": "5 min"},
    )
    assert api("GET", f"/studies/{study_id}/versions/1")[1]["steps"][-1]["kind"] == "signal"
    assert put(api, study_id, opened, 1)[1]["version"] == 1, "nothing differs"
    status, saved = put(api, study_id, {**opened, "name": "Changed"}, 1)
    assert (status, saved["version"]) == (200, 2)
    assert Version.objects.get(study=study_id, number=1).document == old
    assert Version.objects.get(study=study_id, number=2).document["format"] == 2
    assert api("POST", f"/studies/{study_id}/runs")[0] == 201


def test_two_who_changed_a_version_of_an_earlier_format_can_keep_both(api: Api, study_id: int) -> None:
    of_format_1(study_id)
    opened = api("GET", f"/studies/{study_id}")[1]["document"]
    assert put(api, study_id, {**opened, "name": "Theirs"}, 1)[0] == 200
    status, conflict = put(api, study_id, {**opened, "currency": "SEK"}, 1)
    assert status == 409
    assert (conflict["both"]["name"], conflict["both"]["currency"], conflict["clashes"]) == ("Theirs", "SEK", [])
    assert conflict["both"]["steps"][-1]["kind"] == "signal"


def test_a_draft_of_an_earlier_format_is_brought_up_and_can_be_saved_as_it_is(api: Api, study_id: int) -> None:
    old = of_format_1(study_id)
    status, up = api("POST", "/documents", old)
    assert (status, up["format"], up["steps"][-1]["kind"]) == (200, 2, "signal")
    assert put(api, study_id, {**old, "name": "Typed long ago"}, 1)[0] == 200
