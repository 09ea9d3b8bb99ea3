"""What all tests share."""

import os

import pytest
from django.conf import settings

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")


@pytest.fixture(autouse=True)
def _quick_passwords(monkeypatch: pytest.MonkeyPatch) -> None:
    """Hash passwords in no time; signing in is in nearly every test."""
    monkeypatch.setattr(settings, "PASSWORD_HASHERS", ["django.contrib.auth.hashers.MD5PasswordHasher"])


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Run the browser's tests last: its driver leaves an event loop running, and a worker cannot start in one."""
    items.sort(key=lambda item: "browser" in item.path.parts)
