"""The flow that was gone is found again from the ways of cases, though some of them are noise; five shapes of flows."""

import random
from collections.abc import Callable
from itertools import pairwise
from typing import Any

import numpy as np
import pytest

from flowcore.discovery.flow import Discovered, discovered
from flowcore.logs.visits import Outcome, Visits
from flowcore.study import read_study

Way = list[str]
Draw = Callable[[random.Random], tuple[Way, str]]


def a_loop(luck: random.Random) -> tuple[Way, str]:
    """Checked again and again until it is right: three in ten go back."""
    way = ["Receive", "Check"]
    while luck.random() < 0.3:
        way += ["Correct", "Check"]
    return [*way, "File"], "one"


def together(luck: random.Random) -> tuple[Way, str]:
    """Money and papers are looked at in any order, at the same time."""
    return ["Open", *luck.sample(["Money", "Papers"], 2), "Decide"], "one"


def a_skip(luck: random.Random) -> tuple[Way, str]:
    """Four in ten need no second look."""
    return ["Register", *(["Second look"] if luck.random() < 0.6 else []), "Pay"], "one"


def two_types(luck: random.Random) -> tuple[Way, str]:
    """Passports go to the booth first, moves to the counter; both pay."""
    if luck.random() < 0.5:
        return ["Greet", "Booth", "Identity", "Pay"], "passport"
    return ["Greet", "Counter", "Pay"], "move"


def all_of_it(luck: random.Random) -> tuple[Way, str]:
    """A skip, two branches of which one is done again, and a choice at the end."""
    again = ["Draw"] + ["Draw"] * (luck.random() < 0.2)
    other = ["Ask", "Answer"]
    mixed: Way = []
    while again or other:
        mixed.append((again if not other or (again and luck.random() < 0.5) else other).pop(0))
    first = ["Triage"] if luck.random() < 0.5 else []
    return ["Apply", *first, *mixed, "Grant" if luck.random() < 0.7 else "Refuse"], "one"


def noisy(way: Way, luck: random.Random) -> Way:
    """One row is missing, is there twice, or has changed places."""
    way = list(way)
    place = luck.randrange(len(way))
    match luck.randrange(3):
        case 0 if len(way) > 1:
            del way[place]
        case 1:
            way.insert(place, way[place])
        case _:
            other = luck.randrange(len(way))
            way[place], way[other] = way[other], way[place]
    return way


def gone(draw: Draw, many: int, noise: float, seed: int = 1) -> Visits:
    luck = random.Random(seed)
    ways = [draw(luck) for _ in range(many)]
    ways = [(noisy(way, luck) if luck.random() < noise else way, kind) for way, kind in ways]
    return visits_of(ways)


def visits_of(ways: list[tuple[Way, str]]) -> Visits:
    steps = sorted({step for way, _ in ways for step in way})
    types = sorted({kind for _, kind in ways})
    case = np.repeat(np.arange(len(ways)), [len(way) for way, _ in ways]).astype(np.int32)
    step = np.array([steps.index(each) for way, _ in ways for each in way], np.int32)
    at = np.arange(len(case), dtype=float)
    nobody = np.full(len(case), -1, np.int32)
    of_cases = np.array([types.index(kind) for _, kind in ways], np.int32)
    columns = (case, step, nobody, at, at, at, np.zeros(len(case)), np.zeros(len(case), np.int8), nobody, of_cases)
    return Visits(*columns, np.full(len(ways), np.nan), [str(n) for n in range(len(ways))], steps, [], types)


def edges(found: Discovered) -> set[tuple[str, str]]:
    name = {step["id"]: step["name"] for step in found.steps}
    onward = {(step["name"], name[way["to"]]) for step in found.steps for way in step.get("next", ())}
    return onward | {("", name[found.first])}


def shares(found: Discovered, step: str) -> dict[str, Any]:
    name = {each["id"]: each["name"] for each in found.steps}
    [ways] = [each["next"] for each in found.steps if each["name"] == step]
    return {name[way["to"]]: way.get("share_by_type", way.get("share", way.get("chance", 1))) for way in ways}


TRUE: dict[Draw, str] = {
    a_loop: " > Receive > Check > Correct > Check > File > Leaves",
    together: " > Open > Fork 1 > Money > Join 1 > Decide > Leaves | Fork 1 > Papers > Join 1",
    a_skip: " > Register > Second look > Pay > Leaves | Register > Pay",
    two_types: " > Greet > Booth > Identity > Pay > Leaves | Greet > Counter > Pay",
    all_of_it: " > Apply > Triage > Fork 1 > Draw > Join 1 > Grant > Leaves | Apply > Fork 1 | Draw > Draw"
    " | Fork 1 > Ask > Answer > Join 1 > Refuse > Leaves",
}
"""The edges of each flow: ways through it, of which each names what the ones before do not."""


def edges_of(ways: str) -> set[tuple[str, str]]:
    return {pair for way in ways.split(" | ") for pair in pairwise(each.strip() for each in way.split(">"))}


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("noise", [0.0, 0.05, 0.15])
@pytest.mark.parametrize("draw", TRUE)
def test_the_true_flow_is_found(draw: Draw, noise: float, seed: int) -> None:
    found = discovered(gone(draw, 2000, noise, seed), 0.95 - noise)
    assert edges(found) == edges_of(TRUE[draw])
    assert 1 - noise <= found.covers <= 1 - noise / 2


def test_the_flow_that_is_found_can_be_run() -> None:
    for draw in TRUE:
        found = discovered(gone(draw, 2000, 0.05))
        types = [
            {"id": each, "name": each.title()} for each in (("move", "passport") if draw is two_types else ("one",))
        ]
        mix = [{"type": each["id"], "share": 1 / len(types)} for each in types]
        stream = {"id": "in", "name": "In", "kind": "random", "gap": "30 min", "to": found.first, "mix": mix}
        study = read_study({"name": "Found", "case_types": types, "streams": [stream], "steps": found.steps})
        assert len(study.steps) == len(found.steps)


def test_shares_are_those_that_were_gone() -> None:
    assert shares(discovered(gone(a_skip, 5000, 0.0)), "Register")["Pay"] == pytest.approx(0.4, abs=0.03)
    assert shares(discovered(gone(a_loop, 5000, 0.0)), "Check")["Correct"] == pytest.approx(0.3, abs=0.03)
    by_type = shares(discovered(gone(two_types, 2000, 0.0)), "Greet")
    assert by_type == {"Booth": {"move": 0, "passport": 1}, "Counter": {"move": 1, "passport": 0}}


def test_a_branch_that_is_not_always_gone_has_a_chance() -> None:
    def draw(luck: random.Random) -> tuple[Way, str]:
        both = luck.sample(["Left", "Right"], 2)
        return ["Begin", *(both if luck.random() < 0.75 else ["Left"]), "End"], "one"

    ways = shares(discovered(gone(draw, 4000, 0.0)), "Fork 1")
    assert ways == {"Left": 1, "Right": pytest.approx(0.75, abs=0.03)}


def test_the_more_it_must_cover_the_more_rare_ways_are_in_it() -> None:
    visits = gone(a_skip, 2000, 0.1)
    few, many = discovered(visits, 0.5), discovered(visits, 0.99)
    assert few.covers < many.covers
    assert len(edges(few)) < len(edges(many))


def test_who_gave_up_has_not_gone_all_of_the_way() -> None:
    visits = gone(a_skip, 500, 0.0)
    outcome = visits.outcome.copy()
    outcome[visits.case < 100] = Outcome.GAVE_UP
    left = Visits(*[outcome if name == "outcome" else getattr(visits, name) for name in Visits.__dataclass_fields__])
    assert discovered(left).covers == 1
    outcome[:] = Outcome.GAVE_UP
    with pytest.raises(ValueError, match="no case"):
        discovered(left)


def test_names_that_read_alike_and_one_step_alone() -> None:
    found = discovered(visits_of([(["Desk!", "Desk?"], "one")] * 20))
    assert [step["id"] for step in found.steps] == ["desk", "desk-2", "leaves"] or found.steps[0]["id"] == "desk-2"
    assert edges(discovered(visits_of([(["Only"], "one")] * 5))) == {("", "Only"), ("Only", "Leaves")}
