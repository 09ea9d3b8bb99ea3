"""A memo written from what is seen, typed over, kept, and taken away."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from flowcore import read_study
from tests.browser.conftest import Axe, open_findings, sign_in
from urbanqueue.memos.models import Memo
from urbanqueue.runs import actions, chunks
from urbanqueue.runs.models import Chunk, Part
from urbanqueue.studies.actions import save_document

ONE_MORE = {
    "id": "more",
    "name": "One more",
    "changes": [{"op": "replace", "path": "/teams/clerks/size", "value": 4}],
}


def write_memo(page: Page) -> None:
    page.get_by_role("button", name="Memo", exact=True).press("Enter")
    page.get_by_role("menuitem", name="Write a memo of this").press("Enter")
    page.get_by_label("Title of the memo").wait_for()


def test_a_memo_is_written_typed_over_and_found_again(page: Page, part: Part, axe: Axe) -> None:
    open_findings(page, part)
    write_memo(page)
    expect(page.get_by_role("textbox", name="Answer", exact=True)).to_have_value(
        re.compile("Most waiting in line is at Counter")
    )
    for picture in ("Where the minutes go", "The week by the hour", "How long they take"):
        page.get_by_role("region", name=picture).get_by_role("img").wait_for()
    title = page.get_by_label("Title of the memo")
    title.fill("What the hall needs")
    question = page.get_by_role("textbox", name="Question", exact=True)
    question.press_sequentially("\nWhat does one more clerk buy? ")
    page.get_by_role("button", name="Take away the section Assumptions").press("Enter")
    page.get_by_role("button", name="Add a picture").press("Enter")
    page.get_by_role("menuitem", name="Over time").press("Enter")
    page.get_by_label("Caption of picture 4").fill("Nobody is left inside.")
    expect(page.get_by_role("status").filter(has_text="Saved")).to_be_visible()
    axe("a memo")
    page.reload()
    expect(question).to_have_value(re.compile("one more clerk buy"))
    expect(page.get_by_role("region", name="Assumptions")).to_have_count(0)
    expect(page.get_by_label("Caption of picture 4")).to_have_value("Nobody is left inside.")
    page.get_by_role("link", name="Findings").click()
    page.get_by_role("button", name="Memo", exact=True).click()
    page.get_by_role("menuitem", name="What the hall needs").click()
    expect(title).to_have_value("What the hall needs")
    page.get_by_role("button", name="Delete", exact=True).click()
    page.get_by_role("menuitem", name="Delete this memo for good").click()
    page.wait_for_url("**/findings")
    assert not Memo.objects.exists()


def test_a_memo_is_taken_away_as_a_page_and_as_pdf(page: Page, part: Part, tmp_path: Path) -> None:
    open_findings(page, part)
    write_memo(page)
    for picture in ("Where the minutes go", "The week by the hour", "How long they take"):
        page.get_by_role("region", name=picture).get_by_role("img").wait_for()
    page.get_by_label("Title of the memo").fill("On paper")
    for what, file in (("Page (HTML)", "memo.html"), ("PDF, printed by the server", "memo.pdf")):
        page.get_by_role("button", name="Save or print").click()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name=what).click()
        download.value.save_as(tmp_path / file)
    assert (tmp_path / "memo.pdf").read_bytes().startswith(b"%PDF-")
    page.goto((tmp_path / "memo.html").as_uri())
    expect(page.get_by_role("heading", level=1)).to_have_text("On paper")
    pictures = page.get_by_role("img")
    expect(pictures).to_have_count(3)
    for picture in pictures.all():
        assert picture.evaluate("image => image.decode().then(() => image.naturalWidth)") > 300


def test_what_is_printed_has_the_text_and_no_buttons(page: Page, part: Part) -> None:
    open_findings(page, part)
    write_memo(page)
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Save or print")).to_be_hidden()
    expect(page.get_by_role("navigation")).to_be_hidden()
    answer = page.get_by_role("region", name="Answer").locator("div", has_text="Most waiting in line is at Counter")
    expect(answer.last).to_be_visible()
    height = page.get_by_role("main").evaluate("main => [main.clientHeight, main.scrollHeight]")
    assert height[0] == height[1], "nothing is left behind a scroll bar"


def test_two_who_type_at_one_memo_do_not_write_over_each_other(page: Page, part: Part) -> None:
    open_findings(page, part)
    write_memo(page)
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_label("Title of the memo").fill("Theirs")
    expect(other.get_by_role("status").filter(has_text="Saved")).to_be_visible()
    page.get_by_label("Title of the memo").fill("Mine")
    expect(page.get_by_role("status").filter(has_text="was changed elsewhere meanwhile")).to_be_visible()
    expect(page.get_by_label("Title of the memo")).to_have_value("Mine")
    assert Memo.objects.get().text["title"] == "Theirs"


def test_a_comparison_becomes_a_memo(page: Page, part: Part) -> None:
    study = part.run.version.study
    settings = actions.RunSettings.model_validate(part.run.settings)
    document = {**part.run.version.document, "scenarios": [ONE_MORE]}
    save_document(study.pk, study.version, read_study(document), study.owner)
    study.refresh_from_db()
    actions.start_run(study, study.owner, ["", "more"], settings)
    while chunk := Chunk.objects.filter(is_done=False).first():
        chunks.do_chunk(chunk.pk)
    sign_in(page)
    page.goto(f"/studies/{study.pk}/compare")
    write_memo(page)
    tried = page.get_by_role("textbox", name="What was tried", exact=True)
    expect(tried).to_have_value(re.compile("“One more”: Clerks: size 3 → 4"))
    expect(page.get_by_role("row", name=re.compile("Wait on the whole way, mean"))).to_contain_text("better")
    expect(page.locator("[data-drawn] svg")).to_be_visible()
