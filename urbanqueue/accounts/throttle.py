"""How often signing in may fail: by account and by address, and how many passwords are tried at once."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from threading import BoundedSemaphore

from django.db.models import F
from django.utils import timezone

from urbanqueue.accounts.models import FailedSignIns

MOST_PER_ACCOUNT = 10
MOST_PER_ADDRESS = 100
WHILE = timedelta(minutes=10)
PASSWORDS_AT_ONCE = 2
SECONDS_FOR_A_TURN = 3

_turns = BoundedSemaphore(PASSWORDS_AT_ONCE)


class Crowded(Exception):
    """Raised where more passwords are being tried than may be at once."""


def keys_of(email: str, address: str) -> dict[str, int]:
    """Return what failures are counted by, each with how many there may be."""
    return {f"account:{email}"[:200]: MOST_PER_ACCOUNT, f"address:{address}"[:200]: MOST_PER_ADDRESS}


def seconds_to_wait(keys: dict[str, int]) -> int:
    """Count a try under each key, and return how long to wait where there have been too many (0: none)."""
    wait = 0
    now = timezone.now()
    FailedSignIns.objects.filter(since__lt=now - WHILE).delete()
    for key, most in keys.items():
        FailedSignIns.objects.get_or_create(key=key)
        FailedSignIns.objects.filter(key=key).update(count=F("count") + 1)
        found = FailedSignIns.objects.get(key=key)
        if found.count > most:
            wait = max(wait, 1 + int((found.since + WHILE - now).total_seconds()))
    return wait


def forget_tries(keys: dict[str, int]) -> None:
    """Count this try of someone who knew the password for nothing, and the account anew."""
    for key in keys:
        if key.startswith("account:"):
            FailedSignIns.objects.filter(key=key).delete()
        else:
            FailedSignIns.objects.filter(key=key).update(count=F("count") - 1)


@contextmanager
def a_turn() -> Iterator[None]:
    """Wait for a turn to try a password; raises Crowded where it does not come."""
    if not _turns.acquire(timeout=SECONDS_FOR_A_TURN):
        raise Crowded
    try:
        yield
    finally:
        _turns.release()
