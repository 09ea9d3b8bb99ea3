"""Stable keys: an element's luck hangs on its id and on nothing else."""

import hashlib
from collections.abc import Sequence


def link_names(step_id: str, targets: Sequence[str]) -> list[str]:
    """Return a name of its own for each way out of a step; several may lead to the same step."""
    names = []
    for turn, target in enumerate(targets):
        before = targets[:turn].count(target)
        names.append(f"{step_id}/{target}/{before}" if before else f"{step_id}/{target}")
    return names


def stable_key(part: str, element_id: str) -> int:
    """Return 64 bits that depend only on the kind of an element and its id."""
    digest = hashlib.blake2b(f"{part}/{element_id}".encode(), digest_size=8).digest()
    return int.from_bytes(digest, "big")
