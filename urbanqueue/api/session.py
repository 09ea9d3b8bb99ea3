"""Signing in and out."""

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.views.decorators.csrf import csrf_protect
from ninja import Router, Schema, Status
from ninja.decorators import decorate_view

from flowcore.problems import error_at
from urbanqueue.accounts.models import Person
from urbanqueue.api.errors import Problems

router = Router(tags=["session"])


class SignIn(Schema):
    """Who wants to sign in."""

    email: str
    password: str


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


@router.post("", auth=None, response={200: Session, 401: Problems}, operation_id="signIn", summary="Sign in")
@decorate_view(csrf_protect)
def sign_in(request: HttpRequest, payload: SignIn) -> Status[Session] | Status[Problems]:
    """Open a session for a person with the right password."""
    person = authenticate(request, username=payload.email.strip().lower(), password=payload.password)
    if not isinstance(person, Person):
        wrong = error_at(
            where="session",
            what="No account has this e-mail address with this password.",
            mend="Check both; capitals count in the password.",
        )
        return Status(401, Problems(problems=[wrong]))
    login(request, person)
    return Status(200, Session(email=person.email, name=person.name))


@router.delete("", response={204: None}, operation_id="signOut", summary="Sign out")
def sign_out(request: HttpRequest) -> Status[None]:
    """Close the session."""
    logout(request)
    return Status(204, None)
