"""Memos over the API: made of runs, changed by hand, told to be out of date, saved as pages that are safe to open."""

import re
from base64 import b64decode
from collections.abc import Callable
from html.parser import HTMLParser
from typing import Any

import pytest

from tests.urbanqueue.conftest import Api
from tests.urbanqueue.test_runs import start
from urbanqueue.memos import printer

Work = Callable[[], None]
SVG = '<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/hostname"/><script>alert(1)</script></svg>'
SCENARIO = {
    "id": "five",
    "name": "Five clerks",
    "changes": [{"op": "replace", "path": "/teams/clerks/size", "value": 5}],
}


@pytest.fixture
def run(api: Api, study_id: int, work: Work) -> dict[str, Any]:
    found = start(api, study_id)
    work()
    return found


def write(api: Api, study_id: int, *columns: str) -> dict[str, Any]:
    status, memo = api("POST", f"/studies/{study_id}/memos", {"columns": list(columns)})
    assert status == 201, memo
    return dict(memo)


def text_of(memo: dict[str, Any]) -> dict[str, str]:
    return {section["heading"]: section["text"] for section in memo["text"]["sections"]}


def save(api: Api, memo: dict[str, Any], form: str, *evidence: dict[str, Any]) -> Any:
    body = {"form": form, "evidence": list(evidence)}
    return api.client.post(f"/api/memos/{memo['id']}/file", body, content_type="application/json")


def test_a_memo_says_what_the_findings_say(api: Api, study_id: int, run: dict[str, Any]) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    text = text_of(memo)
    assert list(text) == ["Question", "What was tried", "Answer", "Assumptions", "How sure"]
    findings = api("GET", f"/runs/{run['id']}/findings")[1]
    told = ["".join(words["words"] for words in each["sentence"]) for each in findings["sentences"]]
    assert text["Answer"].splitlines() == told
    assert findings["grounds"] in text["How sure"]
    assert "Clerks" in text["Assumptions"]
    assert memo["stale"] == []
    assert [picture["kind"] for picture in memo["text"]["pictures"]] == ["minutes", "week", "spread"]
    assert [each["title"] for each in api("GET", f"/studies/{study_id}/memos")[1]] == [memo["title"]]


def test_a_memo_of_a_comparison_says_what_was_tried(api: Api, study_id: int, demo: dict[str, Any], work: Work) -> None:
    api("PUT", f"/studies/{study_id}/document", demo | {"scenarios": [SCENARIO]}, If_Match='"1"')
    run = start(api, study_id)
    work()
    columns = [f"{run['id']}:", f"{run['id']}:five"]
    text = text_of(write(api, study_id, *columns))
    path = f"/studies/{study_id}/comparison?column={columns[0]}&column={columns[1]}"
    comparison = api("GET", path)[1]
    assert "“Five clerks”: Clerks: size 3 → 5." in text["What was tried"]
    assert text["Answer"].splitlines() == [
        "".join(words["words"] for words in sentence) for sentence in comparison["sentences"]
    ]
    alone = write(api, study_id, columns[1])
    assert "“Five clerks”: Clerks: size 3 → 5." in text_of(alone)["What was tried"]


def test_a_memo_says_when_it_is_out_of_date(
    api: Api, study_id: int, demo: dict[str, Any], run: dict[str, Any], work: Work
) -> None:
    memo = write(api, study_id, f"{run['id']}:")

    def stale() -> str:
        return " ".join(api("GET", f"/memos/{memo['id']}")[1]["stale"])

    measure = {
        "id": "m",
        "name": "M",
        "share": {"where": {"all": [{"fact": "waited", "is": "over", "value": "5 min"}]}},
    }
    api("PUT", f"/studies/{study_id}/document", demo | {"targets": [], "measures": [measure]}, If_Match='"1"')
    assert stale() == "", "what is only asked changes nothing of what was found"
    demo["teams"][1]["size"] = 7
    api("PUT", f"/studies/{study_id}/document", demo, If_Match='"2"')
    assert stale() == "The study has changed since run 1 was made."
    api("POST", f"/runs/{run['id']}/more", {"replications": 7})
    work()
    assert "Run 1 has 7 replications by now; the text was made of 6." in stale()
    api("DELETE", f"/runs/{run['id']}")
    assert stale() == "Run 1 is deleted, and the pictures of it with it."


def test_nobody_writes_over_what_was_written_meanwhile(api: Api, study_id: int, run: dict[str, Any]) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    text = memo["text"] | {"title": "For Monday"}
    status, changed = api("PUT", f"/memos/{memo['id']}", {"text": text, "edition": 1})
    assert (status, changed["text"]["title"], changed["edition"]) == (200, "For Monday", 2)
    status, answer = api("PUT", f"/memos/{memo['id']}", {"text": text, "edition": 1})
    assert (status, answer["problems"][0]["what"]) == (409, "The memo was changed elsewhere meanwhile.")
    assert api("DELETE", f"/memos/{memo['id']}") == (204, None)
    assert api("GET", f"/memos/{memo['id']}")[0] == 404


def test_nobody_reads_a_memo_that_is_not_theirs(api: Api, stranger: Api, study_id: int, run: dict[str, Any]) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    asked = [("GET", None), ("PUT", {"text": memo["text"], "edition": 1}), ("DELETE", None)]
    assert [stranger(method, f"/memos/{memo['id']}", body)[0] for method, body in asked] == [404, 404, 404]
    assert save(stranger, memo, "html").status_code == 404
    assert stranger("POST", f"/studies/{study_id}/memos", {"columns": [f"{run['id']}:"]})[0] == 404


class Tags(HTMLParser):
    """Notes the tags of a page, and the pictures in it."""

    def __init__(self) -> None:
        super().__init__()
        self.seen: list[str] = []
        self.pictures: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.seen.append(tag)
        if tag == "img":
            self.pictures.append(dict(attrs)["src"] or "")


def test_a_saved_page_needs_nothing_else_and_runs_nothing(api: Api, study_id: int, run: dict[str, Any]) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    text = memo["text"] | {"title": "<script>alert(1)</script>"}
    api("PUT", f"/memos/{memo['id']}", {"text": text, "edition": 1})
    table = {"caption": "A table", "head": ["=a"], "rows": [["<b>1</b>"]]}
    page = save(api, memo, "html", {"caption": "A picture", "svg": SVG}, table).content.decode()
    tags = Tags()
    tags.feed(page)
    assert not {"script", "iframe", "object", "link", "b", "svg"} & set(tags.seen)
    assert [b64decode(picture.partition("base64,")[2]).decode() for picture in tags.pictures] == [SVG]
    assert "default-src 'none'; img-src data:" in page
    assert not re.search(r"(?:https?:)?//[a-z]", page)
    order = [page.index(words) for words in ("<h2>Answer", "A picture", "A table", "<h2>Assumptions")]
    assert order == sorted(order)


def test_a_memo_is_printed_by_the_server(api: Api, study_id: int, run: dict[str, Any]) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    assert memo["prints_here"]
    printed = save(api, memo, "pdf", {"caption": "A picture", "svg": SVG})
    assert (printed.status_code, printed.content[:5]) == (200, b"%PDF-")
    assert b"localhost" not in printed.content


def test_a_server_without_a_printer_says_so(
    api: Api, study_id: int, run: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    memo = write(api, study_id, f"{run['id']}:")
    monkeypatch.setattr(printer, "BROWSERS", ())
    printer.browser.cache_clear()
    try:
        assert api("GET", f"/memos/{memo['id']}")[1]["prints_here"] is False
        answer = save(api, memo, "pdf")
        assert answer.status_code == 422
        assert answer.json()["problems"][0]["mend"] == "Save the page, and print it from the browser."
    finally:
        printer.browser.cache_clear()
