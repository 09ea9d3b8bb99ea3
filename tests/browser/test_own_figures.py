"""Figures of one's own: pinned to the board, made from parts, and worked out for the run that is there."""

import threading
from collections.abc import Iterator

import pytest
from django.db import connection
from playwright.sync_api import Page, expect

from tests.browser.conftest import Axe, open_findings, saved
from urbanqueue.runs import chunks
from urbanqueue.runs.models import Chunk, Part
from urbanqueue.studies.models import Study


def own_figures(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Own figures", exact=True).click()


@pytest.fixture
def draws() -> Iterator[None]:
    """Draw what is handed out, as a worker does, until the test is over."""
    over = threading.Event()

    def work() -> None:
        while not over.wait(0.2):
            for chunk in list(Chunk.objects.filter(is_done=False).values_list("pk", flat=True)):
                chunks.do_chunk(chunk)
        connection.close()

    worker = threading.Thread(target=work)
    worker.start()
    yield
    over.set()
    worker.join()


def test_a_measure_is_made_from_parts_by_keyboard_and_worked_out(page: Page, part: Part, draws: None, axe: Axe) -> None:
    own_figures(page, part)
    page.get_by_role("button", name="Make a measure").press("Enter")
    page.get_by_role("menuitem", name="A share of cases").press("Enter")
    measure = page.get_by_role("listitem", name="Share")
    name = measure.get_by_label("Name of the measure Share")
    name.fill("Long waits")
    name.press("Enter")
    measure = page.get_by_role("listitem", name="Long waits")
    value = measure.get_by_label("Value")
    value.fill("soon")
    value.press("Enter")
    expect(page.get_by_text("“soon”")).to_be_visible()
    value.fill("12 min")
    value.press("Enter")
    whose = measure.get_by_role("combobox", name="What Long waits is of")
    whose.press("Enter")
    page.get_by_role("option", name="visits to Counter").press("Enter")
    fact = measure.get_by_role("combobox", name="Fact")
    fact.press("Enter")
    page.get_by_role("option", name="the wait here").press("Enter")
    value.fill("12 min")
    value.press("Enter")
    saved(page)
    expect(measure).to_contain_text("–")
    axe("own figures")
    page.get_by_role("button", name="Work it out for this run").press("Enter")
    expect(measure).to_contain_text("±")
    expect(page.get_by_role("button", name="Work it out for this run")).to_have_count(0)
    [told] = Study.objects.get(pk=part.run.version.study_id).versions.latest("number").document["measures"]
    rule = {"all": [{"fact": "waited-here", "is": "over", "value": "12 min"}]}
    assert told == {"id": "share", "name": "Long waits", "share": {"of": "step/counter", "where": rule}}
    measure.get_by_role("button", name="Target").press("Enter")
    limit = page.get_by_label("At most")
    limit.fill("25")
    limit.press("Enter")
    page.keyboard.press("Escape")
    saved(page)
    study = Study.objects.get(pk=part.run.version.study_id)
    assert study.versions.latest("number").document["targets"][-1] == {"figure": "measure/share/share", "at_most": 0.25}


def test_every_form_of_a_measure_can_be_asked_for(page: Page, part: Part) -> None:
    own_figures(page, part)
    page.get_by_role("button", name="Make a measure").click()
    page.get_by_role("menuitem", name="The most of a level").click()
    measure = page.get_by_role("listitem", name="Highest level")
    measure.get_by_role("button", name="only while something holds").click()
    measure.get_by_role("combobox", name="What Highest level is of").click()
    page.get_by_role("option", name="Clerks at work").click()
    form = measure.get_by_role("combobox", name="Form of Highest level")
    form.click()
    page.get_by_role("option", name="The time from").click()
    measure.get_by_role("button", name="begin elsewhere").click()
    measure.get_by_role("combobox", name="Highest level: to: step").click()
    page.get_by_role("option", name="Counter").click()
    saved(page)
    [told] = Study.objects.get(pk=part.run.version.study_id).versions.latest("number").document["measures"]
    assert told["time"]["to"] == {"step": "counter"}
    form.click()
    page.get_by_role("option", name="The share of").click()
    measure.get_by_role("combobox", name="What Highest level is of").click()
    page.get_by_role("option", name="the time", exact=True).click()
    expect(measure).to_contain_text("only a case can tell")
    measure.get_by_role("combobox", name="Fact").click()
    expect(page.get_by_role("option", name="the wait so far")).to_have_count(0)
    page.get_by_role("option", name="the line at Counter").click()
    expect(measure.get_by_text("only a case can tell")).to_have_count(0)
    page.get_by_role("button", name="Delete the measure Highest level").click()
    expect(measure).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(measure).to_be_visible()


def test_a_figure_is_pinned_to_the_board_of_the_study(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="All figures", exact=True).click()
    page.get_by_label("Words of figures").fill("counter wait")
    page.get_by_role("button", name="Pin: Wait at Counter, mean, min").press("Enter")
    saved(page)
    page.get_by_role("button", name="Own figures", exact=True).click()
    board = page.get_by_role("region", name="Board")
    expect(board.get_by_role("listitem")).to_contain_text("mean, min")
    page.reload()
    expect(board.get_by_role("listitem")).to_contain_text("Wait at Counter")
    board.get_by_role("button", name="Take off the board: Wait at Counter").click()
    expect(board).to_contain_text("Pin the figures that this study is about")
