"""Whole folders over the API: passed on with everything, made again with the same figures, never trusted."""

import csv
import io
import json
import zipfile
from collections.abc import Callable, Mapping
from typing import Any

import pytest

from flowcore.exchange.folder import unzipping
from tests.urbanqueue.conftest import Api
from tests.urbanqueue.test_logs import LOG, bring, brought, read
from tests.urbanqueue.test_memos import SCENARIO, write
from tests.urbanqueue.test_runs import start
from tests.urbanqueue.test_searches import noon, noon_id
from tests.urbanqueue.test_searches import start as begin_search
from urbanqueue.accounts.models import Person
from urbanqueue.runs.models import Run
from urbanqueue.studies.models import Study

__all__ = ["noon", "noon_id"]
Work = Callable[[], None]
FIGURES = "runs/1/2 Five clerks/figures.csv"


@pytest.fixture
def whole_id(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> int:
    """A study with three versions, the last of which restores the first; a run, a memo of it, and a log."""
    changed = demo | {"scenarios": [SCENARIO]}
    api("PUT", f"/studies/{study_id}/document", changed, If_Match='"1"')
    run = start(api, study_id)
    work()
    api("PATCH", f"/runs/{run['id']}", {"name": "Before summer", "note": "As agreed with the hall."})
    write(api, study_id, f"{run['id']}:", f"{run['id']}:five")
    api("PUT", f"/studies/{study_id}/document?restores=1", demo, If_Match='"2"')
    read(api, brought(api, study_id), work)
    return study_id


def folder_of(api: Api, study_id: int) -> bytes:
    response = api.client.get(f"/api/studies/{study_id}/folder")
    assert (response.status_code, response["Content-Type"]) == (200, "application/zip")
    return b"".join(response.streaming_content)  # type: ignore[attr-defined]


def send(api: Api, content: bytes, path: str = "/folders") -> tuple[int, Any]:
    response = api.client.post(f"/api{path}", content, content_type="application/octet-stream")
    return response.status_code, response.json()


def files_in(content: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert archive.testzip() is None
        return {name: archive.read(name) for name in archive.namelist()}


def zip_of(files: Mapping[str, bytes], packed: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", packed) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def with_contents(content: bytes, change: Callable[[dict[str, Any]], object]) -> bytes:
    files = files_in(content)
    contents = json.loads(files["folder.json"])
    change(contents)
    return zip_of(files | {"folder.json": json.dumps(contents).encode()})


def turned(content: bytes, name: str) -> bytes:
    """Return a zip with all bits of one byte of a file turned."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        place = archive.getinfo(name).header_offset + 30 + len(name) + 100
    return content[:place] + bytes([content[place] ^ 255]) + content[place + 1 :]


def figures_of(api: Api, run_id: int, scenario: str) -> Any:
    return api("GET", f"/runs/{run_id}/figures?scenario={scenario}")[1]["figures"]


def test_everything_is_in_the_folder(api: Api, whole_id: int, demo: dict[str, Any]) -> None:
    files = files_in(folder_of(api, whole_id))
    assert sorted(files) == sorted(
        ["readme.txt", "folder.json", "study.json", "memos/1.json", "memos/1.html", "data/1 kiosk.csv"]
        + [f"versions/{number}.json" for number in (1, 2, 3)]
        + [
            f"runs/1/{scenario}/{table}.csv"
            for scenario in ("1 As it is today", "2 Five clerks")
            for table in ("figures", "replications", "week")
        ]
    )
    assert json.loads(files["study.json"]) == json.loads(files["versions/3.json"])
    assert files["data/1 kiosk.csv"] == LOG.encode()
    assert b"Five clerks" in files["memos/1.html"]
    assert "version 3" in files["readme.txt"].decode()
    run = Run.objects.get()
    figures = figures_of(api, run.pk, "five")
    rows = list(csv.DictReader(io.StringIO(files[FIGURES].decode("utf-8-sig"))))
    waits = {row["address"]: row["mean"] for row in rows}
    assert float(waits["step/counter/wait/mean"]) == pytest.approx(figures["step/counter/wait/mean"]["mean"])


def test_a_folder_says_what_it_is_and_makes_nothing(api: Api, stranger: Api, whole_id: int) -> None:
    content = folder_of(api, whole_id)
    status, look = send(stranger, content, "/folders/preview")
    assert (status, look["name"]) == (200, "Residents' hall")
    assert [(each["count"], each["what"]) for each in look["found"]] == [
        (3, "versions"),
        (1, "run"),
        (1, "memo"),
        (1, "log"),
    ]
    assert [each["name"] for each in look["not_kept"]] == ["Who did what"]
    assert Study.objects.count() == 1


def test_somebody_else_has_the_same_study_with_the_same_figures(
    api: Api, stranger: Api, whole_id: int, work: Work
) -> None:
    status, made = send(stranger, folder_of(api, whole_id))
    assert (status, made["version"]) == (201, 3)
    told = ("number", "changed", "saved_at")
    mine, theirs = (
        [[version[key] for key in told] for version in who("GET", f"/studies/{study}/versions")[1]]
        for who, study in ((api, whole_id), (stranger, made["id"]))
    )
    assert mine == theirs
    assert Study.objects.get(pk=made["id"]).versions.get(number=3).restores == 1
    [run] = stranger("GET", f"/studies/{made['id']}/runs")[1]
    assert (run["number"], run["version"], run["state"], run["done"]) == (1, 2, "waiting", 0)
    assert (run["name"], run["note"]) == ("Before summer", "As agreed with the hall.")
    [memo] = stranger("GET", f"/studies/{made['id']}/memos")[1]
    assert "Run 1 has 0 replications by now; the text was made of 6." in memo["stale"]
    work()
    before = Run.objects.get(version__study=whole_id)
    for scenario in ("", "five"):
        assert figures_of(stranger, run["id"], scenario) == figures_of(api, before.pk, scenario)
    [old] = api("GET", f"/studies/{whole_id}/memos")[1]
    [memo] = stranger("GET", f"/studies/{made['id']}/memos")[1]
    assert memo["stale"] == old["stale"]
    assert memo["created_at"] == old["created_at"]
    assert [column["run"] for column in memo["columns"]] == [run["id"], run["id"]]
    [log] = stranger("GET", f"/studies/{made['id']}/logs")[1]
    assert (log["name"], log["state"], log["rows"]) == ("kiosk.csv", "read", 300)


def test_a_folder_passed_on_again_is_the_same(api: Api, stranger: Api, whole_id: int, work: Work) -> None:
    first = folder_of(api, whole_id)
    _, made = send(stranger, first)
    work()
    before, after = files_in(first), files_in(folder_of(stranger, made["id"]))
    who = ("saved_by", "started_by", "brought_at", "changed_at")
    for files in (before, after):
        contents = json.loads(files.pop("folder.json"))
        for each in contents["versions"] + contents["runs"] + contents["data"] + contents["memos"]:
            for key in who:
                each.pop(key, None)
        files["contents"] = json.dumps(contents).encode()
    assert before == after


def test_a_run_that_was_stopped_is_run_again_as_far_as_it_was(
    api: Api, stranger: Api, study_id: int, work: Work
) -> None:
    run = start(api, study_id)
    work()
    api("POST", f"/runs/{run['id']}/more", {"replications": 500})
    api("POST", f"/runs/{run['id']}/cancel")
    content = folder_of(api, study_id)
    look = send(stranger, content, "/folders/preview")[1]
    assert "It had not come to its end: it had 6 replications in all." in [each["what"] for each in look["not_kept"]]
    _, made = send(stranger, content)
    work()
    [again] = stranger("GET", f"/studies/{made['id']}/runs")[1]
    assert (again["state"], again["done"], again["each"]) == ("done", 6, 6)


def test_a_log_with_an_odd_name_goes_the_whole_way(api: Api, stranger: Api, study_id: int) -> None:
    for name in ("../%00%0a/kiosk?.csv", "%01", "."):
        assert bring(api, study_id, LOG, name)[0] == 201
    content = folder_of(api, study_id)
    assert sorted(name for name in files_in(content) if name.startswith("data/")) == [
        "data/1 kiosk-.csv",
        "data/2 log",
        "data/3 unnamed",
    ]
    _, made = send(stranger, content)
    assert sorted(log["name"] for log in stranger("GET", f"/studies/{made['id']}/logs")[1]) == [
        ".",
        "..//kiosk?.csv",
        "log",
    ]


def test_a_search_is_made_again(api: Api, stranger: Api, noon_id: int) -> None:
    begin_search(api, noon_id)
    content = folder_of(api, noon_id)
    look = send(stranger, content, "/folders/preview")[1]
    assert {"count": 1, "what": "search for staffing"} in look["found"]
    _, made = send(stranger, content)
    [search] = stranger("GET", f"/studies/{made['id']}/searches")[1]
    assert (search["number"], search["version"], search["state"]) == (1, 1, "waiting")
    gone = with_contents(content, lambda contents: contents["searches"][0].update(sizing="moon"))
    look = send(stranger, gone, "/folders/preview")[1]
    assert "Search 1" in [each["name"] for each in look["not_kept"]]


def test_a_run_that_says_it_is_done_and_has_nothing_is_left_out(api: Api, stranger: Api, whole_id: int) -> None:
    def without_replications(contents: dict[str, Any]) -> None:
        for part in contents["runs"][0]["parts"]:
            part["done"] = 0

    _, made = send(stranger, with_contents(folder_of(api, whole_id), without_replications))
    assert stranger("GET", f"/studies/{made['id']}/runs")[1] == []


def test_what_a_folder_lacks_is_told_and_left_out(api: Api, stranger: Api, whole_id: int) -> None:
    files = files_in(folder_of(api, whole_id))
    for name in ("data/1 kiosk.csv", "memos/1.json", "versions/2.json"):
        del files[name]
    content = zip_of(files)
    look = send(stranger, content, "/folders/preview")[1]
    assert {each["name"] for each in look["not_kept"]} == {"Who did what", "kiosk.csv", "Memo 1", "Version 2"}
    assert [each["what"] for each in look["found"]] == ["versions"]
    status, made = send(stranger, content)
    assert status == 201
    assert stranger("GET", f"/studies/{made['id']}/runs")[1] == []
    assert [version["number"] for version in stranger("GET", f"/studies/{made['id']}/versions")[1]] == [3, 1]


def test_runs_of_another_engine_are_told(api: Api, stranger: Api, whole_id: int) -> None:
    content = with_contents(folder_of(api, whole_id), lambda contents: contents["runs"][0].update(engine="0.1-old"))
    look = send(stranger, content, "/folders/preview")[1]
    assert "The engine" in [each["name"] for each in look["not_kept"]]


MISFITS: list[tuple[Callable[[dict[str, Any]], object], str]] = [
    (lambda contents: contents.update(folder=2), "folder.json/folder"),
    (lambda contents: contents.pop("versions"), "folder.json/versions"),
    (lambda contents: contents.update(current=7), "folder.json/study"),
    (lambda contents: contents["runs"][0].update(version=9), "folder.json/study"),
    (lambda contents: contents["runs"][0].update(number=-1), "folder.json/runs/0/number"),
    (lambda contents: contents["runs"].append(contents["runs"][0]), "folder.json/study"),
    (lambda contents: contents["versions"][0].update(saved_at="soon"), "folder.json/versions/0/saved_at"),
    (lambda contents: contents["runs"][0]["settings"].update(replications=10**9), "folder.json/runs/0/settings"),
    (lambda contents: contents["runs"][0]["parts"][0].update(name="x" * 500), "folder.json/runs/0/parts/0/name"),
    (lambda contents: contents["data"][0].update(reading={"kind": "exe"}), "folder.json/data/0/reading"),
    (lambda contents: contents.update(extra=1), "folder.json/extra"),
]


def test_a_list_that_does_not_fit_is_refused_with_the_place(api: Api, stranger: Api, whole_id: int) -> None:
    whole = folder_of(api, whole_id)
    for change, where in MISFITS:
        content = with_contents(whole, change)
        for path in ("/folders/preview", "/folders"):
            status, answer = send(stranger, content, path)
            assert (status, Study.objects.count()) == (422, 1), where
            assert answer["problems"][0]["where"].startswith(where), answer


def test_what_is_no_folder_is_refused_in_words(api: Api, whole_id: int, monkeypatch: pytest.MonkeyPatch) -> None:
    content = folder_of(api, whole_id)
    files = files_in(content)
    broken = {
        "no zip": b"PK is not enough",
        "cut off": content[: len(content) // 2],
        "a zip of something": zip_of({"holiday.jpg": b"x"}),
        "no JSON": zip_of({"folder.json": b"{"}),
        "packed oddly": zip_of(files, zipfile.ZIP_LZMA),
        "no current version": zip_of({name: each for name, each in files.items() if name != "versions/3.json"}),
        "a current version that is none": zip_of(files | {"versions/3.json": b'{"format": 2, "name": 3}'}),
        "a log that is none": zip_of(files | {"data/1 kiosk.csv": b"\xd0\xcf\x11\xe0 an old workbook"}),
        "a byte turned": turned(content, "versions/3.json"),
    }
    for kind, each in broken.items():
        status, answer = send(api, each)
        assert (status, Study.objects.count()) == (422, 1), kind
        assert answer["problems"][0]["mend"], kind
    monkeypatch.setattr(unzipping, "LARGEST_FILE", 100)
    assert "MB" in send(api, content)[1]["problems"][0]["what"]
    monkeypatch.setattr(unzipping, "MOST_UNPACKED", 1000)
    assert "GB" in send(api, content)[1]["problems"][0]["what"]
    monkeypatch.setattr(unzipping, "MOST_FILES", 3)
    assert "files" in send(api, content)[1]["problems"][0]["what"]


def test_a_folder_is_its_owners(api: Api, stranger: Api, whole_id: int, person: Person) -> None:
    assert stranger.client.get(f"/api/studies/{whole_id}/folder").status_code == 404
    content = folder_of(api, whole_id)
    assert send(Api(), content)[0] == 401
    _, made = send(stranger, content)
    assert Study.objects.get(pk=made["id"]).owner != person
    assert api("GET", f"/studies/{made['id']}")[0] == 404
