"""Signing in and out."""

from typing import Annotated

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router, Schema, Status
from ninja.decorators import decorate_view
from pydantic import StringConstraints

from flowcore.problems import error_at
from urbanqueue.accounts import throttle
from urbanqueue.accounts.models import Person
from urbanqueue.api.errors import Problems, Sent, respond
from urbanqueue.api.people import address_of

router = Router(tags=["session"])


class SignIn(Sent):
    """Who wants to sign in."""

    email: Annotated[str, StringConstraints(max_length=254)]
    password: Annotated[str, StringConstraints(max_length=1000)]


class Session(Schema):
    """Who is signed in, if anyone."""

    email: str | None = None
    name: str | None = None


@router.get("", auth=None, response=Session, operation_id="getSession", summary="Who is signed in")
def get_session(request: HttpRequest) -> Session:
    """Say who is signed in, and hand out the token that changes need."""
    get_token(request)
    person = request.user
    return Session(email=person.email, name=person.name) if isinstance(person, Person) else Session()


@router.post(
    "",
    auth=None,
    response={200: Session, 401: Problems, 429: Problems, 503: Problems},
    operation_id="signIn",
    summary="Sign in",
)
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, payload: SignIn) -> Status[Session] | HttpResponse:
    """Open a session for a person with the right password."""
    email = payload.email.strip().lower()
    tries = throttle.keys_of(email, address_of(request))
    if wait := throttle.seconds_to_wait(tries):
        return _too_often(wait)
    try:
        with throttle.a_turn():
            person = authenticate(request, username=email, password=payload.password)
    except throttle.Crowded:
        return respond(503, [error_at("session", "Many are signing in just now.", "Try again in a moment.")])
    if not isinstance(person, Person):
        wrong = error_at(
            where="session",
            what="No account has this e-mail address with this password.",
            mend="Check both; capitals count in the password.",
        )
        return respond(401, [wrong])
    throttle.forget_tries(tries)
    login(request, person)
    return Status(200, Session(email=person.email, name=person.name))


def _too_often(wait: int) -> HttpResponse:
    what = "Signing in failed too often."
    mend = f"Try again in {round(wait / 60)} minutes." if wait > 90 else f"Try again in {wait} seconds."
    response = respond(429, [error_at("session", what, mend)])
    response["Retry-After"] = str(wait)
    return response


@router.delete("", response={204: None}, operation_id="signOut", summary="Sign out")
def sign_out(request: HttpRequest) -> Status[None]:
    """Close the session."""
    logout(request)
    return Status(204, None)
