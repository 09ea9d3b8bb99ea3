"""What differs between two studies, element by element."""

from collections.abc import Iterator
from typing import Any, NamedTuple

from pydantic import BaseModel

from flowcore.study.document import LISTS, StudyDocument, elements, written

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


MOST_IN_A_LINE = 3


def change_summary(before: StudyDocument, after: StudyDocument) -> str:
    """Return what changed from one study to another in one line of plain words."""
    changes = [f"{each.name}{':' if each.what else ''} {each.words}" for each in differences(before, after)]
    if not changes:
        return "" if written(before) == written(after) else "Put in another order"
    more = len(changes) - MOST_IN_A_LINE
    shown = changes[:MOST_IN_A_LINE] if more > 0 else changes
    return "; ".join(shown) + (f"; and {more} more" if more > 0 else "")


def differences(before: StudyDocument, after: StudyDocument) -> list[Change]:
    """Return every place where `after` differs from `before`, with the name of the element."""
    names = {element.id: element.name for study in (before, after) for _, element in elements(study)}
    return list(_walk(_Place("", "Study", ()), written(before), written(after), names))


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
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for number, (old_part, new_part) in enumerate(zip(before, after, strict=True)):
            yield from _walk(place.row(number, old_part, names), old_part, new_part, names)
    else:
        what, old_text, new_text = ", ".join(place.what), _text(before, names), _text(after, names)
        words = _words(what, old_text, new_text)
        yield Change(where=place.where, name=place.name, what=what, before=old_text, after=new_text, words=words)


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
    return names.get(value, value) if isinstance(value, str) else str(value)
