"""What a run says, read as an analyst reads it, and taken away in files that other programs open."""

import csv
import io
import json
import re
from itertools import pairwise
from pathlib import Path
from xml.etree import ElementTree

import openpyxl
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Axe, open_findings, saved
from urbanqueue.runs.models import Part
from urbanqueue.runs.samples import results_of
from urbanqueue.studies.models import Study

SVG = "{http://www.w3.org/2000/svg}"
VIEWS = [
    "At a glance",
    "Map",
    "Steps",
    "Week",
    "Spread",
    "Over time",
    "People",
    "Costs",
    "Counts",
    "Own figures",
    "All figures",
]


def saved_as(page: Page, picture: str, what: str, folder: Path) -> Path:
    """Save a picture in one of its forms, and return the file."""
    page.get_by_role("button", name=f"Save: {picture}").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name=what).click()
    file = folder / download.value.suggested_filename
    download.value.save_as(file)
    return file


def test_the_first_screen_says_it_without_scrolling(page: Page, part: Part, axe: Axe) -> None:
    open_findings(page, part)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Half of the cases wait under")
    expect(page.get_by_role("main")).to_contain_text("Most waiting in line is at Counter")
    for picture in ("Where the minutes go", "The week by the hour", "How long they take"):
        expect(page.get_by_role("region", name=picture).get_by_role("img")).to_be_in_viewport(ratio=0.9)
    expect(page.get_by_role("complementary", name="Teams")).to_contain_text("a case waits, min")
    axe("the findings at a glance")


@pytest.mark.parametrize("theme", ["day", "night"])
def test_every_view_can_be_read_by_everyone(page: Page, part: Part, axe: Axe, theme: str) -> None:
    open_findings(page, part)
    page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
    page.set_viewport_size({"width": 1024, "height": 800})
    for view in VIEWS:
        page.get_by_role("button", name=view, exact=True).press("Enter")
        main = page.get_by_role("main")
        main.get_by_role("img").or_(main.get_by_role("table")).or_(
            main.get_by_role("region", name="Board")
        ).first.wait_for()
        axe(f"{view}, {theme}")
        assert page.evaluate("document.scrollingElement.scrollWidth <= innerWidth"), view
        assert main.evaluate("main => main.scrollWidth <= main.clientWidth"), f"{view} is cut off"


def test_figures_in_sentences_lead_to_where_they_stand(page: Page, part: Part) -> None:
    open_findings(page, part)
    results = results_of(part)
    page.get_by_role("main").get_by_role("link", name="Counter", exact=True).press("Enter")
    row = page.get_by_role("table", name="Steps").get_by_role("row", name="Counter")
    expect(row).to_contain_text(f"{results.figure('step/counter/wait/mean').mean:.0f}")
    expect(page.get_by_role("button", name="Steps", exact=True)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("main").get_by_role("heading", level=1).get_by_role("link").first.click()
    expect(page.get_by_role("row", name="Wait on the whole way half within, min")).to_be_focused()


def test_any_figure_is_found_by_its_words_and_sorted(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="All figures").click()
    page.get_by_label("Words of figures").fill("clerks at work")
    found = page.get_by_role("row", name="Clerks: at work % of the time")
    expect(found).to_contain_text(f"{100 * (results_of(part).figure('team/clerks/utilisation').mean or 0):.0f}")
    page.get_by_role("button", name="Clerks: at work", exact=True).press("Enter")
    strip = page.get_by_role("img", name="Clerks: at work: 6 replications between")
    expect(strip.locator("circle")).to_have_count(6)
    page.get_by_label("Words of figures").fill("wait within 7.1 min")
    share = results_of(part).figure("type/all/wait/within:7.1min").mean
    row = page.get_by_role("row", name="Wait on the whole way within").first
    expect(row).to_contain_text(f"{100 * (share or 0):.0f}")
    page.get_by_role("button", name="Mean").click()
    means = page.get_by_role("cell").filter(has_text="±").all_inner_texts()
    numbers = [float(re.sub(r"[^\d.].*", "", each)) for each in means]
    assert numbers == sorted(numbers)
    page.get_by_label("Words of figures").fill("nothing of the kind")
    expect(page.get_by_text("No figure has all these words.")).to_be_visible()


def test_pictures_and_tables_are_taken_away(page: Page, part: Part, tmp_path: Path) -> None:
    open_findings(page, part)
    page.evaluate("document.documentElement.dataset.theme = 'night'")
    minutes = "Where the minutes go"
    drawn = ElementTree.parse(saved_as(page, minutes, "Picture as SVG", tmp_path)).getroot()
    words = [each.text for each in drawn.iter(f"{SVG}text")]
    results = results_of(part)
    assert f"{results.figure('type/parking/total/mean').mean:.0f}" in words
    assert "Parking permit" in words
    assert "font/woff2;base64," in (drawn.find(f"{SVG}style").text or "")  # type: ignore[union-attr]
    assert drawn.find(f"{SVG}rect").get("fill") == "#f6f3ec", "the paper of the day"  # type: ignore[union-attr]
    assert "var(" not in ElementTree.tostring(drawn, "unicode")
    png = saved_as(page, "How long they take", "Picture as PNG", tmp_path).read_bytes()
    width, height = int.from_bytes(png[16:20], "big"), int.from_bytes(png[20:24], "big")
    assert png[:8] == b"\x89PNG\r\n\x1a\n"
    assert width > 600
    assert height > 200

    text = saved_as(page, minutes, "Numbers as CSV", tmp_path).read_text("utf-8-sig")
    rows = {row[0]: row for row in csv.reader(io.StringIO(text))}
    head = rows[""]
    for kind, name in (("all", "All cases"), ("parking", "Parking permit"), ("identity", "Identity card")):
        assert float(rows[name][head.index("in all, min")]) == pytest.approx(
            results.figure(f"type/{kind}/total/mean").mean
        )
        assert sum(float(cell) for cell in rows[name][1:-1]) == pytest.approx(float(rows[name][-1]))
    page.get_by_role("button", name="Week", exact=True).click()
    sheet = openpyxl.load_workbook(saved_as(page, "The week by the hour", "Numbers as XLSX", tmp_path)).active
    nine = next(row for row in sheet.iter_rows(values_only=True) if row[:2] == ("Tuesday", "9:00"))  # type: ignore[union-attr]
    wait = results.figure("step/counter/wait/hour:33")
    assert nine[2:] == pytest.approx((wait.mean, wait.half_width), rel=1e-6)


def test_the_bars_of_the_minutes_are_as_long_as_their_parts(page: Page, part: Part) -> None:
    open_findings(page, part)
    for bar in page.get_by_role("region", name="Where the minutes go").locator("g[data-figure^='type/']").all():
        boxes = [rect.bounding_box() for rect in bar.locator("g[data-figure] > rect:first-child").all()]
        ends = [(box["x"], box["x"] + box["width"]) for box in boxes if box]
        for (_, end), (begin, _) in pairwise(ends):
            assert begin - end == pytest.approx(1, abs=0.7), "each begins where the one before ends"


def test_one_more_of_each_is_tried_and_becomes_a_scenario(page: Page, part: Part, axe: Axe) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="One more", exact=True).click()
    page.get_by_role("button", name="Try one more of each").click()
    page.get_by_role("progressbar", name="Tries").wait_for(state="detached")
    rows = page.get_by_role("region", name="Where one more helps").get_by_role("row")
    expect(rows.nth(1)).to_contain_text("One more of Clerks")
    expect(rows.nth(1)).to_contain_text("better")
    axe("where one more helps")
    rows.nth(1).get_by_role("button", name="Make it a scenario").press("Enter")
    page.get_by_text("is made, and shown now").wait_for()
    saved(page)
    study = Study.objects.get(pk=part.run.version.study_id)
    [scenario] = study.versions.latest("number").document["scenarios"]
    assert scenario["name"] == "One more of Clerks"
    assert [change["path"] for change in scenario["changes"]] == ["/teams/clerks/size"]


def test_what_is_known_of_the_real_service_stands_beside_what_was_simulated(page: Page, part: Part, axe: Axe) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Observed", exact=True).click()
    page.get_by_role("button", name="Add what was observed").click()
    page.get_by_label("Find a figure").last.fill("wait at counter")
    page.get_by_role("option", name="Wait at Counter mean, min", exact=True).click()
    row = page.get_by_role("row", name="Wait at Counter")
    value = row.get_by_label("Observed: Wait at Counter", exact=True)
    value.fill("500 min")
    value.press("Enter")
    expect(row).to_contain_text("% too low")
    value.fill("soon")
    value.press("Enter")
    expect(page.get_by_text(re.compile("“soon”"))).to_be_visible()
    value.press("Escape")
    low = row.get_by_label("At the least: Wait at Counter")
    low.fill("1 min")
    low.press("Enter")
    expect(row).to_contain_text("fits")
    axe("observed beside simulated")
    saved(page)
    page.reload()
    page.get_by_role("button", name="Observed", exact=True).click()
    expect(page.get_by_role("row", name="Wait at Counter")).to_contain_text("fits")
    page.get_by_role("button", name="Take away what was observed: Wait at Counter").click()
    expect(page.get_by_text("Type what was counted or measured")).to_be_visible()


def test_the_map_of_the_run_tells_waits_causes_and_flows(page: Page, part: Part, tmp_path: Path) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Map", exact=True).press("Enter")
    drawn = page.get_by_role("region", name="Map of the run").get_by_role("img")
    expect(drawn).to_have_accessible_name(re.compile(r"Counter, Clerks \d+ %, .+ min; most of it all busy"))
    saved_file = saved_as(page, "Map of the run", "Numbers as CSV", tmp_path)
    rows = {row[0]: row for row in csv.reader(io.StringIO(saved_file.read_text("utf-8-sig")))}
    results = results_of(part)
    assert float(rows["Counter"][1]) == pytest.approx(results.figure("step/counter/wait/mean").mean)
    assert float(rows["Cashier → Served"][3]) == pytest.approx(
        results.figure("link/cashier:served/arrived").mean, abs=0.5
    )
    thick = drawn.locator("g[stroke-width]").evaluate_all(
        "ways => ways.map(way => Number(way.getAttribute('stroke-width')))"
    )
    assert max(thick) > 3 * min(thick), "more cases, a thicker line"


def test_an_hour_of_the_week_is_taken_apart(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Week", exact=True).press("Enter")
    hour = page.get_by_role("region", name="One hour of the week")
    hour.get_by_role("combobox", name="Day").press("Enter")
    page.get_by_role("option", name="Tuesday").press("Enter")
    hour.get_by_role("combobox", name="Hour").press("Enter")
    page.get_by_role("option", name="10:00 to 11:00", exact=True).press("Enter")
    expect(hour).to_contain_text("Tuesday 10:00 to 11:00")
    for picture in ("Where the minutes of this hour go", "How long they wait in this hour"):
        expect(hour.get_by_role("region", name=picture).get_by_role("img")).to_be_visible()
    week = page.get_by_role("region", name="The week by the hour")
    week.locator("[data-figure$='/hour:83']").click()
    expect(hour).to_contain_text("Thursday 11:00 to 12:00")


def test_lines_and_members_are_told_over_time(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Over time", exact=True).press("Enter")
    page.get_by_role("combobox", name="What is drawn over time").press("Enter")
    page.get_by_role("option", name="Cases waiting at Counter").press("Enter")
    spread = page.get_by_role("region", name="How much of the time how many")
    expect(spread).to_contain_text(re.compile(r"Nobody for \d+ % of the time, at most \d+ for nine tenths"))
    page.get_by_role("combobox", name="What is drawn over time").press("Enter")
    page.get_by_role("option", name="Clerks: members present").press("Enter")
    expect(page.get_by_role("img", name="Over the run: Clerks: members present")).to_be_visible()
    expect(spread).to_have_count(0)


def test_case_types_and_their_costs_stand_side_by_side(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Spread", exact=True).press("Enter")
    shown = page.get_by_role("region", name="How long they take")
    choice = page.get_by_role("combobox", name="What is spread")

    def choose(quantity: str) -> None:
        expect(shown.get_by_role("img")).to_be_visible()
        expect(choice).to_have_attribute("aria-expanded", "false")
        choice.press("Enter")
        page.get_by_role("option", name=quantity, exact=True).press("Enter")

    for name in ("Door to door, Parking permit", "Door to door, New address"):
        choose("Door to door")
        expect(page.get_by_role("region", name=name).get_by_role("img")).to_be_visible()
    choose("Cost of a case")
    expect(shown).to_contain_text(re.compile(r"Half within .+ EUR"))


def test_figures_are_sifted_their_columns_chosen_and_all_saved(page: Page, part: Part, tmp_path: Path) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="All figures", exact=True).press("Enter")
    page.get_by_role("combobox", name="Of what").press("Enter")
    page.get_by_role("option", name="of teams").press("Enter")
    for column in ("spread", "address"):
        page.get_by_role("button", name="Columns").press("Enter")
        page.get_by_role("menuitem", name=column).press("Enter")
    page.get_by_label("Words of figures").fill("at work")
    row = page.get_by_role("row", name="Clerks: at work").first
    expect(row).to_contain_text("team/clerks/utilisation")
    expect(page.get_by_role("row", name="Wait at Counter")).to_have_count(0)
    page.reload()
    page.get_by_role("columnheader", name="address").wait_for()
    with page.expect_download() as download:
        page.get_by_role("button", name="All that this run says as JSON").press("Enter")
    download.value.save_as(tmp_path / "all.json")
    told = json.loads((tmp_path / "all.json").read_text())
    results = results_of(part)
    assert told["figures"]["step/counter/wait/p90"]["mean"] == results.figure("step/counter/wait/p90").mean
    assert len(told["figures"]) == len(results.figures())
    assert {"step/counter/wait", "team/clerks/utilisation"} <= set(told["weeks"])


def test_what_is_known_is_pasted_from_a_spreadsheet(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("button", name="Observed", exact=True).press("Enter")
    page.get_by_role("button", name="Paste many").press("Enter")
    lines = "Wait at the counter\t500\tStop watch\nCases completed\t1,000 a month\nMoon phase\t3\n"
    page.get_by_label("What was observed, a line for each figure").fill(lines)
    expect(page.get_by_role("list", name="What is understood")).to_contain_text("no figure is called that")
    page.get_by_role("button", name="Add 2 figures").press("Enter")
    expect(page.get_by_role("row", name="Wait at Counter")).to_contain_text("% too low")
    completed = page.get_by_role("row", name="Cases completed")
    expect(completed.get_by_role("combobox", name="Counted for: Cases completed")).to_contain_text("a month")
    expect(completed).to_contain_text("too high")
    saved(page)
    observed = Study.objects.get(pk=part.run.version.study_id).versions.latest("number").document["observed"]
    assert observed == [
        {"figure": "step/counter/wait/mean", "value": "500 min", "source": "Stop watch"},
        {"figure": "type/all/completed", "value": 1000, "per": "month"},
    ]
