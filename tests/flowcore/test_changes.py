"""What differs between two studies, told in words, and two people's changes brought together."""

from typing import Any

import pytest

from flowcore.study import StudyDocument, read_study
from flowcore.study.differences import change_summary, differences, value_words
from flowcore.study.merging import merged
from tests.flowcore.builders import Part, document, exit_step, exponential, serve


def base(**changes: Any) -> Part:
    steps = [serve("desk", "2 min", "clerks", {"out": 1}), exit_step()]
    return document(steps, {"clerks": 3, "guards": 1}, exponential(1)) | changes


def read(**changes: Any) -> StudyDocument:
    return read_study(base(**changes))


def teams(*sizes: tuple[str, int]) -> list[Part]:
    return [{"id": team, "name": team.title(), "size": size} for team, size in sizes]


BOTH = teams(("clerks", 3), ("guards", 1))


@pytest.mark.parametrize(
    ("after", "told"),
    [
        ({}, ""),
        ({"teams": BOTH[::-1]}, "Put in another order"),
        ({"teams": teams(("clerks", 4), ("guards", 1))}, "Clerks: size 3 → 4"),
        ({"teams": teams(("clerks", 3))}, "Guards deleted"),
        ({"teams": [*BOTH, *teams(("cooks", 2))]}, "Cooks added"),
        ({"teams": [BOTH[0] | {"rate": 20}, BOTH[1]]}, "Clerks: rate 20"),
        ({"start": "2027-03-02T08:00"}, "Study: start 2027-03-02T08:00"),
        (
            {"teams": teams(("cooks", 2)), "name": "Other", "currency": "SEK"},
            "Clerks deleted; Guards deleted; Cooks added; and 2 more",
        ),
    ],
    ids=["nothing", "order", "a value", "deleted", "added", "a new key", "of the study", "many"],
)
def test_changes_in_a_line(after: Part, told: str) -> None:
    assert change_summary(read(), read(**after)) == told


def test_a_key_that_is_gone_is_told() -> None:
    assert change_summary(read(currency="SEK"), read()) == "Study: no currency any more"


def test_ids_are_told_by_name() -> None:
    def of(way: str) -> StudyDocument:
        steps = [serve("desk", {"by_type": {"one": "2 min"}, "otherwise": "1 min"}, None, {way: 1.0})]
        kinds = [{"id": "one", "name": "New customers"}]
        return read(
            steps=[*steps, exit_step(name="Served"), exit_step("left", name="Left")], case_types=kinds, teams=[]
        )

    assert change_summary(of("out"), of("left")) == "Desk: way to Served, to Served → Left"
    later = of("out").model_copy(deep=True)
    later.steps[0].work.by_type["one"] = "5 min"  # type: ignore[union-attr]
    assert change_summary(of("out"), later) == "Desk: work, by type, New customers 2 min → 5 min"


def test_parts_without_ids_are_told_by_their_place() -> None:
    hall = {"id": "hours", "name": "Hours", "weekly": [{"days": ["mon"], "from": "08:00", "to": "12:00"}]}
    later = hall | {"weekly": [{"days": ["mon"], "from": "09:00", "to": "12:00"}]}
    longer = hall | {"weekly": [*hall["weekly"], {"days": ["tue"], "from": "08:00", "to": "12:00"}]}
    [change] = differences(read(calendars=[hall]), read(calendars=[later]))
    assert (change.where, change.what, change.before, change.after) == (
        "calendars/hours/weekly/0/from",
        "hours 08:00–12:00, from",
        "08:00",
        "09:00",
    )
    [change] = differences(read(calendars=[hall]), read(calendars=[longer]))
    assert (change.where, change.name) == ("calendars/hours/weekly/1", "Hours")


def test_shifts_are_told_one_by_one() -> None:
    def crew(*shifts: tuple[str, str, int]) -> dict[str, Any]:
        rows = [{"days": ["mon"], "from": begin, "to": end, "people": people} for begin, end, people in shifts]
        return {"id": "crew", "name": "Crew", "roster": rows}

    early, late, peak = ("08:00", "12:00", 3), ("12:00", "16:00", 2), ("10:00", "14:00", 1)

    def told(before: tuple[Any, ...], after: tuple[Any, ...]) -> list[str]:
        return [each.words for each in differences(read(teams=[crew(*before)]), read(teams=[crew(*after)]))]

    assert told((early, late), (early, late, peak)) == ["shift 10:00–14:00 of 1 person added"]
    assert told((early, late), (peak, early, late)) == ["shift 10:00–14:00 of 1 person added"]
    assert told((early, late), (late,)) == ["no shift 08:00–12:00 of 3 people any more"]
    assert told((early, late), (("08:00", "12:00", 4), late, peak)) == [
        "shift 08:00–12:00, people 3 → 4",
        "shift 10:00–14:00 of 1 person added",
    ]


def test_other_shifts_are_told_as_a_whole() -> None:
    def crew(*shifts: tuple[str, str, str, int]) -> StudyDocument:
        rows = [{"days": [day], "from": begin, "to": end, "people": people} for day, begin, end, people in shifts]
        return read(teams=[{"id": "crew", "name": "Crew", "roster": rows}])

    today = crew(("mon", "08:00", "16:00", 3), ("mon", "10:00", "14:00", 1))
    mornings = [("mon", "08:00", "12:00", 2), ("tue", "08:00", "12:00", 1)]
    found = crew(*mornings, ("mon", "12:00", "16:00", 1), ("mon", "12:00", "16:00", 1))
    [change] = differences(today, found)
    assert change.words == "shifts 3 at 08:00–16:00, 1 at 10:00–14:00 → 2 at 08:00–12:00, 2 at 12:00–16:00"
    hours = [("mon", f"{hour:02}:00", f"{hour + 8:02}:00", 1) for hour in range(6, 14)]
    [many] = differences(today, crew(*hours))
    assert many.after is not None
    assert many.after.endswith("1 at 11:00–19:00 and 2 more")


def size(team: str, people: int) -> Part:
    return {"op": "replace", "path": f"/teams/{team}/size", "value": people}


@pytest.mark.parametrize(
    ("changes", "told"),
    [
        ([size("clerks", 5)], "One more: Clerks: size 4 → 5"),
        ([size("clerks", 4), {"op": "remove", "path": "/teams/guards"}], "One more: Guards deleted"),
        ([], "One more: Clerks: size 4 → 3"),
        ([size("clerks", 2), size("clerks", 4)], "One more: other changes"),
        ([size("cooks", 2)], "One more: other changes"),
    ],
)
def test_what_a_scenario_changes_is_told_by_what_comes_of_it(changes: list[Part], told: str) -> None:
    scenario = {"id": "more", "name": "One more", "changes": [size("clerks", 4)]}
    before, after = read(scenarios=[scenario]), read(scenarios=[scenario | {"changes": changes}])
    assert change_summary(before, after) == told
    assert [each.where for each in differences(before, after)] == ["scenarios/more/changes"]


def test_a_scenario_of_another_study_is_told_beside_the_change_of_the_study() -> None:
    scenario = {"id": "more", "name": "One more", "changes": [size("clerks", 4)]}
    other = scenario | {"name": "Two more", "changes": [size("clerks", 5)]}
    after = read(scenarios=[other], teams=teams(("clerks", 3), ("guards", 2)))
    told = "Guards: size 1 → 2; Two more: name One more → Two more; Two more: Clerks: size 4 → 5"
    assert change_summary(read(scenarios=[scenario]), after) == told


def test_both_sides_changes_are_kept() -> None:
    theirs = base(teams=teams(("clerks", 3), ("guards", 2), ("cooks", 1)))
    mine = base(teams=teams(("clerks", 5), ("guards", 1)), name="Mine")
    both, clashes = merged(base(), theirs, mine)
    assert both == base(teams=teams(("clerks", 5), ("guards", 2), ("cooks", 1)), name="Mine")
    assert clashes == []


def test_where_both_changed_one_value_mine_is_kept_and_named() -> None:
    both, clashes = merged(base(), base(name="Theirs", currency="USD"), base(name="Mine", currency="USD"))
    assert (both["name"], both["currency"]) == ("Mine", "USD")
    assert clashes == ["name"]


def test_what_one_deleted_and_the_other_left_alone_is_gone() -> None:
    both, clashes = merged(base(), base(teams=BOTH[:1]), base(name="Mine"))
    assert both == base(teams=BOTH[:1], name="Mine")
    both, clashes = merged(base(), base(name="Theirs"), base(teams=BOTH[:1]))
    assert both == base(teams=BOTH[:1], name="Theirs")
    assert clashes == []


def test_what_one_deleted_and_the_other_changed_clashes() -> None:
    changed = teams(("clerks", 3), ("guards", 9))
    both, clashes = merged(base(), base(teams=BOTH[:1]), base(teams=changed))
    assert (both["teams"], clashes) == (changed, ["teams/guards"])
    both, clashes = merged(base(), base(teams=changed), base(teams=BOTH[:1]))
    assert (both["teams"], clashes) == (BOTH[:1], ["teams/guards"])


def test_lists_without_ids_are_taken_as_a_whole() -> None:
    def with_skills(*skills: str) -> Part:
        return base(teams=[BOTH[0] | {"skills": list(skills)}, BOTH[1]])

    both, clashes = merged(with_skills("till"), with_skills("till", "phone"), with_skills("till"))
    assert (both, clashes) == (with_skills("till", "phone"), [])
    both, clashes = merged(with_skills("till"), with_skills("till", "phone"), with_skills())
    assert (both, clashes) == (with_skills(), ["teams/clerks/skills"])


@pytest.mark.parametrize(
    ("value", "said"),
    [
        (2.44444444444, "2.4444"),
        ("2.44444444444 min", "2.4444 min"),
        (1234567.0, "1234600"),
        (12, "12"),
        ({"dist": "exponential", "mean": "3 min"}, "dist exponential, mean 3 min"),
        (None, "nothing"),
    ],
)
def test_what_stands_at_a_place_in_words(value: object, said: str) -> None:
    assert value_words(value) == said
