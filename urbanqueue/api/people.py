"""Who makes a request."""

from django.conf import settings
from django.http import HttpRequest

from urbanqueue.accounts.models import Person


def person_of(request: HttpRequest) -> Person:
    """Return the signed-in person; the API's guard has made sure that there is one."""
    assert isinstance(request.user, Person)
    return request.user


def address_of(request: HttpRequest) -> str:
    """Return the network address that a request comes from; behind a proxy, the last one that the proxy has seen."""
    if settings.BEHIND_TLS and (passed_on := request.headers.get("X-Forwarded-For")):
        return passed_on.rpartition(",")[2].strip()
    return str(request.META.get("REMOTE_ADDR", ""))
