"""The animal clinic from a blank study, by keyboard alone, as far as the demo's own."""

import json
from typing import Any

from django.conf import settings
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_studies, saved
from tests.browser.hands import Hands
from tests.browser.test_flow import document_of
from urbanqueue.studies.models import Study

Document = dict[str, Any]


def test_the_clinic_from_a_blank_study_by_keyboard(page: Page) -> None:
    open_studies(page)
    page.get_by_role("button", name="New study").press("Enter")
    hands = Hands(page)
    hands.stop("Service").wait_for()
    lay_the_flow(hands)
    name_who_works(hands)
    say_who_comes(hands)
    part_the_ways(hands)
    let_them_wait(hands)
    saved(page)
    expect(page.get_by_text("Nothing is wrong or doubtful.")).to_be_visible()
    found = document_of(Study.objects.get().pk)
    wanted = json.loads((settings.ROOT / "demo" / "animal-clinic.json").read_text())
    assert ways(found) == ways(wanted)
    assert needs(found) == needs(wanted)
    assert lines(found) == lines(wanted)
    assert [each["name"] for each in found["streams"]] == [each["name"] for each in wanted["streams"]]
    assert found["deadlines"][0]["within"] == wanted["deadlines"][0]["within"]
    assert traits(found) == traits(wanted)


def lay_the_flow(hands: Hands) -> None:
    """All steps one after the other, with the way past the blood test."""
    hands.stop("Service").focus()
    hands.call("Reception")
    for name in ("Triage", "Consultation"):
        hands.keys.press("n")
        hands.call(name)
    hands.command("Insert after: A parting of ways")
    hands.is_on("Parting")
    hands.call("Blood test?")
    hands.keys.press("n")
    hands.call("Taking blood")
    hands.command("Insert after: A delay")
    hands.is_on("Delay")
    hands.call("Laboratory")
    for name in ("Treatment", "Discharge", "Payment"):
        hands.keys.press("n")
        hands.call(name)
    hands.go_to("Served")
    hands.fill("Name of the exit", "Home again")


def name_who_works(hands: Hands) -> None:
    """Teams, and which step needs whom; the first team is renamed."""
    hands.command("Staff")
    hands.fill("Name of the team", "Receptionists")
    hands.fill("How many they are", "2")
    for name, size in (("Nurses", "3"), ("Vets", "3"), ("Treatment rooms", "4")):
        hands.add("team", name)
        hands.fill("How many they are", size)
    hands.pick("Kind of team", "places")
    for step in ("Triage", "Taking blood", "Discharge"):
        hands.go_to(step)
        hands.pick("Team of need 1", "Nurses")
    hands.go_to("Consultation")
    hands.pick("Team of need 1", "Treatment rooms")
    hands.press("kept until a later step")
    hands.pick("Kept until", "Discharge")
    hands.press("Needs more")
    hands.pick("Team of need 2", "Vets")
    hands.press("remembered by a name")
    hands.fill("Remembered as", "vet")
    hands.go_to("Treatment")
    hands.pick("Team of need 1", "Vets")
    hands.press("the same one as before")
    hands.press("Needs more")
    hands.pick("Team of need 2", "Nurses")


def say_who_comes(hands: Hands) -> None:
    """Case types with the chance of a blood test, and the streams that bring them."""
    hands.add("trait", "Blood test")
    hands.pick("Kind of trait", "one of some words")
    hands.command("Visitors")
    hands.fill("Name of the case type", "Check-up")
    hands.press("What it carries")
    hands.press("Blood test of its own")
    hands.pick("How Blood test is given", "is drawn by chance")
    hands.fill("Chance of yes", "15")
    hands.fill("Chance of no", "85")
    hands.add("case type", "Illness")
    hands.add("case type", "Emergency")
    hands.fill("Priority", "3")
    hands.command("Arrivals")
    hands.fill("Name of the stream", "Booked check-ups")
    hands.fill("One comes every: mean", "20 min")
    for stream, of, gap in (("Walk-ins", "Illness", "25 min"), ("Rushed in", "Emergency", "150 min")):
        hands.add("stream", stream)
        hands.fill("One comes every: mean", gap)
        hands.fill("Share of Check-up", "0")
        hands.fill(f"Share of {of}", "100")
    hands.pick("First step", "Triage")


def part_the_ways(hands: Hands) -> None:
    """By case type at the reception, by a rule at the blood test."""
    hands.go_to("Reception")
    hands.press("One more way")
    hands.pick("How ways part", "shares by case type")
    for place, of, share in ((1, "Check-up", "0"), (1, "Illness", "100"), (2, "Check-up", "100"), (2, "Illness", "0")):
        hands.fill(f"Share of way {place} for {of}", share)
    hands.go_to("Blood test?")
    hands.press("One more way")
    hands.pick("Way 2 leads to", "Treatment")
    hands.pick("How one way is picked", "by rules")
    hands.pick("Fact", "Blood test")
    hands.pick("Value", "yes")


def let_them_wait(hands: Hands) -> None:
    """Urgent ones first; who waits too long goes elsewhere, or a second vet is called."""
    for step in ("Triage", "Consultation", "Taking blood", "Treatment", "Discharge"):
        hands.go_to(step)
        hands.pick("Order of the line", "by priority")
    hands.go_to("Consultation")
    hands.press("they wait as long as it takes")
    hands.fill("Patience: mean", "3 h")
    hands.pick("Who gives up goes to", "A new exit")
    hands.go_to("Left unserved")
    hands.fill("Name of the exit", "Went elsewhere")
    hands.add("deadline", "Seen soon")
    hands.pick("Runs from", "Triage")
    hands.pick("Runs until", "Consultation")
    hands.fill("Runs for", "45 min")
    hands.pick("What happens then", "it goes on, and a companion is sent")
    hands.pick("To which step", "A new exit")
    hands.go_to("Leaves")
    hands.fill("Name of the exit", "Stand-by called")
    hands.keys.press("Escape")
    hands.is_on("Stand-by called")
    hands.keys.press("Shift+N")
    hands.call("Calling the stand-by vet")


def traits(document: Document) -> Any:
    """Return what the first case type carries, by name."""
    names = {trait["id"]: trait["name"] for trait in document["traits"]}
    return {names[trait]: value for trait, value in document["case_types"][0]["traits"].items()}


def called(document: Document) -> dict[str, str]:
    """Return the names of steps and teams by id."""
    return {part["id"]: part["name"] for part in [*document["steps"], *document["teams"]]}


def ways(document: Document) -> dict[str, list[str]]:
    """Return where each step leads, by name."""
    names = called(document)
    return {step["name"]: [names[link["to"]] for link in step.get("next", [])] for step in document["steps"]}


def needs(document: Document) -> dict[str, list[tuple[str, str | None, bool]]]:
    """Return whom each step needs, until when they are kept, and whether it has to be the same as before."""
    names = called(document)
    return {
        step["name"]: [
            (names[need["team"]], names.get(need.get("keep_until", "")), "same_as" in need) for need in step["needs"]
        ]
        for step in document["steps"]
        if "needs" in step
    }


def lines(document: Document) -> dict[str, Any]:
    """Return how cases wait at each step, by name."""
    names = called(document)
    found = {step["name"]: dict(step["line"]) for step in document["steps"] if step.get("line")}
    for line in found.values():
        line["gives_up_to"] = names.get(line.get("gives_up_to", ""))
    return found
