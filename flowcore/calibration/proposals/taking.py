"""Proposals taken over into a document; `tests/shared/taking.json` holds this law for both languages."""

import copy
from collections.abc import Iterable
from typing import Any

from flowcore.calibration.proposals.proposal import PlaceSet, Proposal
from flowcore.study.pointers import pointer_to

BY_TYPE = "/by_type/"


def take(document: dict[str, Any], proposals: Iterable[Proposal], file: str, rows: int, date: str) -> None:
    """Put what is proposed into a document, with where it comes from."""
    sources = document.setdefault("sources", {})
    for proposal in proposals:
        for place in proposal.set:
            _put(document, place)
        sources[proposal.at] = {"file": file, "rows": rows, "date": date, "method": proposal.method}


def _put(document: dict[str, Any], place: PlaceSet) -> None:
    if BY_TYPE in place.at:
        _tell_types_apart(document, place.at.partition(BY_TYPE)[0])
    pointer = pointer_to(document, place.at)
    owner, key = pointer.to_last(document)
    if isinstance(owner, list) and key == "-":
        _add(owner, place.value)
    else:
        owner[key] = place.value


def _add(parts: list[dict[str, Any]], new: dict[str, Any]) -> None:
    if all(part["id"] != new["id"] for part in parts):
        parts.append(copy.deepcopy(new))


def _tell_types_apart(document: dict[str, Any], at: str) -> None:
    """Let types have durations of their own where one was for all."""
    owner, key = pointer_to(document, at).to_last(document)
    if not isinstance(owner[key], dict) or "otherwise" not in owner[key]:
        owner[key] = {"by_type": {}, "otherwise": owner[key]}
    owner[key].setdefault("by_type", {})
