"""What differs between two studies, element by element."""

import json
from collections.abc import Iterator
from difflib import SequenceMatcher
from typing import Any, NamedTuple

from pydantic import BaseModel

from flowcore.problems import StudyError
from flowcore.study.document import LISTS, StudyDocument, elements, written
from flowcore.study.durations import in_unit, is_time, minutes, short_number, unit_of
from flowcore.study.runs import Scenario
from flowcore.study.scenarios import apply_scenario

Names = dict[str, str]


class Change(BaseModel):
    """One place where two studies differ; None where it is not there.

    `what` is the part of the element that differs, in words; empty where it is the whole element. `words` say how.
    """

    where: str
    name: str
    what: str
    before: str | None
    after: str | None
    words: str


DIGITS = 5
"""Numbers are told to so many digits."""
MOST_IN_A_LINE = 3
FEW_SHIFTS = 4
MOST_SHIFTS = 6


def change_summary(before: StudyDocument, after: StudyDocument) -> str:
    """Return what changed from one study to another in one line of plain words, whole elements first."""
    found = sorted(differences(before, after), key=lambda each: bool(each.what))
    changes = [_in_a_line(each) for each in found]
    if not changes:
        if before.sources != after.sources:
            return "Where values come from"
        return "" if written(before) == written(after) else "Put in another order"
    more = len(changes) - MOST_IN_A_LINE
    shown = changes[:MOST_IN_A_LINE] if more > 0 else changes
    return "; ".join(shown) + (f"; and {more} more" if more > 0 else "")


def _in_a_line(change: Change) -> str:
    return f"{change.name}{':' if change.what else ''} {change.words}"


def differences(before: StudyDocument, after: StudyDocument) -> list[Change]:
    """Return every place where `after` differs from `before`, with the name of the element."""
    names = {element.id: element.name for study in (before, after) for _, element in elements(study)}
    found = list(_walk(_Place("", "Study", ()), _told_apart(before), _told_apart(after), names))
    known = {scenario.id: scenario for scenario in before.scenarios}
    for scenario in after.scenarios:
        old = known.get(scenario.id, scenario)
        if old.changes != scenario.changes:
            found += _of_scenario(after, old, scenario)
    return found


def _of_scenario(study: StudyDocument, before: Scenario, after: Scenario) -> list[Change]:
    """Return what other changes of a scenario make of a study, told as the study's own would be."""
    where = f"scenarios/{after.id}/changes"
    sides = [
        study.model_copy(update={"scenarios": [after.model_copy(update={"changes": each.changes})]})
        for each in (before, after)
    ]
    try:
        found = differences(*(apply_scenario(each, after.id) for each in sides))
    except StudyError:
        found = []
    if not found:
        old, new = (str(len(each.changes)) for each in (before, after))
        return [Change(where=where, name=after.name, what="changes", before=old, after=new, words="other changes")]
    return [_as_scenarios(each, where, after.name) for each in found]


def _as_scenarios(change: Change, where: str, name: str) -> Change:
    """Return a change of the study as one of a scenario."""
    what = f"{change.name}, {change.what}" if change.what else change.name
    return change.model_copy(update={"where": where, "name": name, "what": what, "words": _in_a_line(change)})


def _told_apart(study: StudyDocument) -> dict[str, Any]:
    """Return a study without where its values come from, which says itself what else changed.

    Its drawing is told by its file alone, and what its scenarios change by what comes of it.
    """
    drawing = {"drawing": study.drawing.file or "a drawing"} if study.drawing else {}
    kept = {key: value for key, value in written(study).items() if key != "sources"} | drawing
    for scenario in kept.get("scenarios", []):
        scenario.pop("changes", None)
    return kept


class _Place(NamedTuple):
    """Where a difference is: its address, the name of the element that it is in, and the way from there in words."""

    where: str
    name: str
    what: tuple[str, ...]

    def key(self, key: str, names: Names) -> "_Place":
        where = f"{self.where}/{key}" if self.where else key
        return _Place(where, self.name, (*self.what, names.get(key, key.replace("_", " "))))

    def element(self, element_id: str, called: str) -> "_Place":
        is_whole_list = self.where in LISTS
        return _Place(f"{self.where}/{element_id}", called, () if is_whole_list else (*self.what, called))

    def row(self, number: int, row: Any, names: Names) -> "_Place":
        label = _row_words(self.where.rpartition("/")[2], row, names)
        return _Place(f"{self.where}/{number}", self.name, (*self.what[:-1], label) if label else self.what)


def _walk(place: _Place, before: Any, after: Any, names: Names) -> Iterator[Change]:
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in [*before, *(key for key in after if key not in before)]:
            yield from _walk(place.key(key, names), before.get(key), after.get(key), names)
    elif have_ids(before) and have_ids(after):
        old, new = ({each["id"]: each for each in side} for side in (before, after))
        for each in [*old, *(each for each in new if each not in old)]:
            called = (new.get(each) or old[each])["name"]
            yield from _walk(place.element(each, called), old.get(each), new.get(each), names)
    elif _are_other_shifts(place, before, after):
        yield _other_shifts(place, _shifts_words(before), _shifts_words(after))
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for number, (old_part, new_part) in enumerate(zip(before, after, strict=True)):
            yield from _walk(place.row(number, old_part, names), old_part, new_part, names)
    elif _are_rows(place, before, after, names):
        yield from _rows(place, before or [], after or [], names)
    else:
        what, old_text, new_text = ", ".join(place.what), _text(before, names), _text(after, names)
        words = _words(what, old_text, new_text)
        yield Change(where=place.where, name=place.name, what=what, before=old_text, after=new_text, words=words)


def _are_other_shifts(place: _Place, before: Any, after: Any) -> bool:
    """Say whether both are rosters of which hardly a shift stays: then what became of each row says nothing."""
    if place.where.rpartition("/")[2] != "roster" or not before or not after:
        return False
    most = max(len(before), len(after))
    return most >= FEW_SHIFTS and 2 * sum(row in before for row in after) < most


def _other_shifts(place: _Place, before: str, after: str) -> Change:
    words = _words("shifts", before, after)
    return Change(where=place.where, name=place.name, what="shifts", before=before, after=after, words=words)


def _shifts_words(rows: list[Any]) -> str:
    """Return shifts by their hours, with the most people on any day: "3 at 08:00–16:00, 1 at 10:00–14:00"."""
    people: dict[str, dict[str, int]] = {}
    for row in rows:
        by_day = people.setdefault(f"{row['from']}–{row['to']}", {})
        for day in row["days"]:
            by_day[day] = by_day.get(day, 0) + row["people"]
    told = [f"{max(by_day.values())} at {hours}" for hours, by_day in list(people.items())[:MOST_SHIFTS]]
    return ", ".join(told) + (f" and {len(people) - MOST_SHIFTS} more" if len(people) > MOST_SHIFTS else "")


def _are_rows(place: _Place, before: Any, after: Any, names: Names) -> bool:
    """Say whether both are lists of rows each of which can be told from the others; one may be left out."""
    if not all(isinstance(each, list | None) for each in (before, after)):
        return False
    key = place.where.rpartition("/")[2]
    return all(_row_words(key, row, names) for row in [*(before or []), *(after or [])])


def _rows(place: _Place, before: list[Any], after: list[Any], names: Names) -> Iterator[Change]:
    """Yield what differs between lists of rows of which one has more: those changed, gone and new, each by its name."""
    key = place.where.rpartition("/")[2]
    texts = [[_row_words(key, row, names) for row in rows] for rows in (before, after)]
    if any(len(set(labels)) < len(labels) for labels in texts):
        texts = [[json.dumps(row, sort_keys=True) for row in rows] for rows in (before, after)]
    for kind, i, j, k, m in SequenceMatcher(None, texts[0], texts[1], autojunk=False).get_opcodes():
        both = min(j - i, m - k) if kind in ("equal", "replace") else 0
        for n in range(both):
            yield from _walk(place.row(i + n, before[i + n], names), before[i + n], after[k + n], names)
        yield from (_row_change(place.row(n, before[n], names), before[n], None, names) for n in range(i + both, j))
        yield from (_row_change(place.row(n, after[n], names), None, after[n], names) for n in range(k + both, m))


def _row_change(place: _Place, before: Any, after: Any, names: Names) -> Change:
    what = ", ".join(place.what)
    people = (before or after).get("people")
    of = f" of {people} {'person' if people == 1 else 'people'}" if people is not None else ""
    words = f"{what}{of} added" if before is None else f"no {what}{of} any more"
    texts = [_text(each, names) for each in (before, after)]
    return Change(where=place.where, name=place.name, what=what, before=texts[0], after=texts[1], words=words)


_ROWS = {"roster": "shift", "next": "way", "needs": "need", "sessions": "session", "weekly": "hours"}


def _row_words(key: str, row: Any, names: Names) -> str | None:
    """Return what tells a row of a list from the others; None where nothing does."""
    if key not in _ROWS or not isinstance(row, dict):
        return None
    if "from" in row:
        return f"{_ROWS[key]} {row['from']}–{row['to']}"
    target = row.get("to") or row.get("team") or row.get("skill")
    return f"{_ROWS[key]} {'to ' if key == 'next' else ''}{names.get(target, target)}" if target else None


def _words(what: str, before: str | None, after: str | None) -> str:
    if before is None:
        return f"{what} {after}" if what else "added"
    if after is None:
        return f"no {what} any more" if what else "deleted"
    return f"{what} {before} → {after}"


def have_ids(value: Any) -> bool:
    """Say whether something is a list of elements that are told by their ids."""
    return isinstance(value, list) and all(isinstance(each, dict) and "id" in each for each in value)


def value_words(value: Any) -> str:
    """Return what stands at a place of a document, in words."""
    return _text(value, {}) or "nothing"


def _text(value: Any, names: Names) -> str | None:
    if value is None:
        return None
    if isinstance(value, dict):
        return str(
            value.get("name")
            or _text(value.get("to"), names)
            or ", ".join(f"{names.get(key, key)} {_text(each, names)}" for key, each in value.items())
        )
    if isinstance(value, list):
        return "; ".join(str(_text(each, names)) for each in value)
    if isinstance(value, str):
        return in_unit(minutes(value), unit_of(value), DIGITS) if is_time(value) else names.get(value, value)
    return short_number(value, DIGITS) if isinstance(value, float) else str(value)
