"""What differs between two studies, element by element."""

from collections.abc import Iterator
from typing import Any

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
    return list(_walk("", "Study", written(before), written(after), names))


def _walk(where: str, name: str, before: Any, after: Any, names: Names) -> Iterator[Change]:
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in [*before, *(key for key in after if key not in before)]:
            inner = f"{where}/{key}" if where else key
            yield from _walk(inner, name, before.get(key), after.get(key), names)
    elif have_ids(before) and have_ids(after):
        old, new = ({each["id"]: each for each in side} for side in (before, after))
        for each in [*old, *(each for each in new if each not in old)]:
            called = (new.get(each) or old[each])["name"]
            yield from _walk(f"{where}/{each}", called, old.get(each), new.get(each), names)
    elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        for place, (old_part, new_part) in enumerate(zip(before, after, strict=True)):
            yield from _walk(f"{where}/{place}", name, old_part, new_part, names)
    else:
        what, old_text, new_text = _what(where, names), _text(before, names), _text(after, names)
        words = _words(what, old_text, new_text)
        yield Change(where=where, name=name, what=what, before=old_text, after=new_text, words=words)


def _words(what: str, before: str | None, after: str | None) -> str:
    if before is None:
        return f"{what} {after}" if what else "added"
    if after is None:
        return f"no {what} any more" if what else "deleted"
    return f"{what} {before} → {after}"


def _what(where: str, names: Names) -> str:
    path = where.split("/")
    inner = path[2:] if path[0] in LISTS else path
    return ", ".join(names.get(part, part.replace("_", " ")) for part in inner if not part.isdecimal())


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
