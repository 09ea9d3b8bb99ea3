"""Who makes a request."""

from django.http import HttpRequest

from urbanqueue.accounts.models import Person


def person_of(request: HttpRequest) -> Person:
    """Return the signed-in person; the API's guard has made sure that there is one."""
    assert isinstance(request.user, Person)
    return request.user
