"""JSON that may be a study: what no document may hold, wherever it stands, is told before anything else."""

import json
import math
import re
from collections import deque
from collections.abc import Iterator
from itertools import islice
from typing import Any

from flowcore.problems import MOST_PROBLEMS, Problem, StudyError, error_at
from flowcore.study.wording import address_of

DEEPEST = 60
LONGEST_TEXT = 20_000
MOST_PARTS = 1_000_000
LARGEST_WHOLE_NUMBER = 2**63
_UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff]")

Path = tuple[str | int, ...]


def read_json(text: bytes, longest: int = LONGEST_TEXT) -> Any:
    """Return the JSON document in a text, for `read_study`; no text in it may have more letters than `longest`.

    Raises StudyError where it is no JSON, and for each place that holds what `unfit_places` finds.
    """
    if text.count(b",") > MOST_PARTS:
        raise StudyError([_too_many_parts()])
    try:
        document = json.loads(text)
    except UnicodeDecodeError:
        what, mend = "It is not a text in UTF-8.", "Save it as UTF-8."
    except json.JSONDecodeError as error:
        what, mend = f"Line {error.lineno}, column {error.colno} is not JSON: {error.msg}.", "Correct it there."
    except RecursionError:
        what, mend = "It is nested too deep to be read.", "Take the nesting apart."
    except ValueError:
        what, mend = "It has a whole number of thousands of digits.", "Give a smaller number."
    else:
        require_plain(document, longest)
        return document
    raise StudyError([error_at("study", what, mend)])


def require_plain(document: object, longest: int = LONGEST_TEXT) -> None:
    """Raise StudyError for what `unfit_places` finds, the first hundred of it."""
    if not _is_plain(document, longest):
        raise StudyError(list(islice(unfit_places(document, longest), MOST_PROBLEMS)))


def _is_plain(document: object, longest: int) -> bool:
    """Say whether `unfit_places` finds nothing, without keeping track of where: most documents have nothing."""
    level: list[Any] = [[document]]
    suspect: set[str] = set()
    parts = 0
    for _ in range(DEEPEST + 1):
        inner: list[Any] = []
        for here in level:
            parts += len(here)
            if parts > MOST_PARTS:
                return False
            if isinstance(here, dict) and not here.keys() <= suspect:
                suspect |= here.keys()
            for value in here.values() if isinstance(here, dict) else here:
                kind = type(value)
                if kind is dict or kind is list:
                    inner.append(value)
                elif kind is str:
                    if len(value) > longest or not value.isprintable():
                        suspect.add(value)
                elif not _is_fit(value, longest):
                    return False
        level = inner
    return not level and all(_is_fit(each, longest) for each in suspect)


def unfit_places(document: object, longest: int = LONGEST_TEXT) -> Iterator[Problem]:
    """Yield a problem for every text, number or depth of a JSON document that can be neither kept nor shown."""
    ahead: deque[tuple[Path, Any]] = deque([((), [document])])
    parts = 0
    while ahead:
        path, here = ahead.popleft()
        parts += len(here)
        if len(path) > DEEPEST:
            yield error_at("study", f"It is nested more than {DEEPEST} deep.", "Take the nesting apart.")
            return
        if parts > MOST_PARTS:
            yield _too_many_parts()
            return
        for place, value in here.items() if isinstance(here, dict) else enumerate(here):
            if isinstance(value, dict | list):
                ahead.append(((*path, place), value))
            elif not _is_fit(value, longest):
                yield error_at(address_of((*path, place)[1:], document), *_wrong_with(value, longest))
        if isinstance(here, dict):
            unfit = [key for key in here if not _is_fit(key, longest)]
            for key in unfit[:1]:
                yield error_at(address_of(path[1:], document), *_wrong_with(key, longest))


def _too_many_parts() -> Problem:
    return error_at("study", f"It has more than {MOST_PARTS:,} parts.", "Leave away what is not needed.")


def _is_fit(value: object, longest: int) -> bool:
    """Say whether a single value can be kept and shown."""
    if isinstance(value, str):
        return len(value) <= longest and (value.isprintable() or not _UNPRINTABLE.search(value))
    if isinstance(value, int):
        return -LARGEST_WHOLE_NUMBER <= value <= LARGEST_WHOLE_NUMBER
    return not isinstance(value, float) or math.isfinite(value)


def _wrong_with(value: object, longest: int) -> tuple[str, str]:
    """Return what is wrong with a value that is not fit, and what mends it."""
    if isinstance(value, float):
        return "It is no finite number.", "Give a number."
    if isinstance(value, int):
        return "The whole number is too large.", "Give a smaller number."
    if isinstance(value, str) and len(value) > longest:
        return "The text is too long.", f"Shorten it to {longest} characters."
    return "The text has characters that cannot be shown.", "Write it anew, without control characters."
