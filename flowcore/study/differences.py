"""What differs between two studies, element by element."""

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from flowcore.study.document import Study, written


class Change(BaseModel):
    """One place where two studies differ; None where it is not there."""

    where: str
    name: str
    before: str | None
    after: str | None


def differences(before: Study, after: Study) -> list[Change]:
    """Return every place where `after` differs from `before`, with the name of the element."""
    return list(_walk("", "Study", written(before), written(after)))


def _walk(where: str, name: str, before: Any, after: Any) -> Iterator[Change]:
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in [*before, *(key for key in after if key not in before)]:
            inner = f"{where}/{key}" if where else key
            yield from _walk(inner, name, before.get(key), after.get(key))
    elif _has_ids(before) and _has_ids(after):
        old, new = ({each["id"]: each for each in side} for side in (before, after))
        for each in [*old, *(each for each in new if each not in old)]:
            called = (new.get(each) or old[each])["name"]
            yield from _walk(f"{where}/{each}", called, old.get(each), new.get(each))
    else:
        yield Change(where=where, name=name, before=_text(before), after=_text(after))


def _has_ids(value: Any) -> bool:
    return isinstance(value, list) and all(isinstance(each, dict) and "id" in each for each in value)


def _text(value: Any) -> str | None:
    if value is None:
        return None
    if isinstance(value, dict):
        return str(value.get("name") or ", ".join(f"{key} {_text(each)}" for key, each in value.items()))
    if isinstance(value, list):
        return "; ".join(str(_text(each)) for each in value)
    return str(value)
