"""Stable keys: an element's luck hangs on its id and on nothing else."""

import hashlib


def stable_key(part: str, element_id: str) -> int:
    """Return 64 bits that depend only on the kind of an element and its id."""
    digest = hashlib.blake2b(f"{part}/{element_id}".encode(), digest_size=8).digest()
    return int.from_bytes(digest, "big")
