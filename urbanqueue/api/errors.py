"""Every error of the API is a list of problems: where, what, mend."""

import sys
from collections.abc import Callable, Sequence
from typing import Any, cast

from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.http.request import UnreadablePostError
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser
from psycopg.errors import DiskFull
from pydantic import BaseModel, ConfigDict
from pydantic_core import ErrorDetails

from flowcore.problems import MOST_PROBLEMS, Problem, StudyError, error_at
from flowcore.study import read_json
from flowcore.study.plain import LONGEST_TEXT
from flowcore.study.wording import problem_of

Respond = Callable[[HttpRequest], HttpResponseBase]

_BY_STATUS = {
    400: ("The request is not written as it should be.", "Reload the page and try again."),
    404: ("It is not there.", "Check the address, or go back."),
    405: ("This cannot be done here.", "Use one of the methods that the description of the API names."),
    413: ("The body is too large.", "Send a smaller document: dates and observations take most of it."),
    415: (
        "The body is not said to be what it should be.",
        'Send JSON as "application/json", a log as "application/octet-stream".',
    ),
    500: ("The program failed; it has been noted.", "Try again; what you have typed is still here."),
    503: ("The database does not answer just now.", "It is tried again in a moment."),
}
NO_ROOM = ("The database has no room left to save this.", "Make room on its disk; it is tried again in a moment.")
SECONDS_TO_TRY_AGAIN = 2
READ_BODY = "urbanqueue.body"


class Sent(BaseModel):
    """A body that is sent to us: a group of known keys."""

    model_config = ConfigDict(extra="forbid")


class Problems(Schema):
    """What went wrong."""

    problems: list[Problem]


WITH_FILES = ("/file", "/rosters/calendar/read", "/processes/read")
"""The ends of paths whose bodies have whole files in them."""
LONGEST_FILE = 8_000_000
OF_BYTES = ("/logs", "/folders", "/folders/preview")
"""The ends of paths to which files are sent as they are."""


class JsonParser(Parser):
    """Reads bodies as study files are read, and keeps what was read with the request: errors are worded by it."""

    def parse_body(self, request: HttpRequest) -> Any:
        """Return the JSON of a body; raises StudyError."""
        body = read_json(request.body, LONGEST_FILE if request.path.endswith(WITH_FILES) else LONGEST_TEXT)
        request.META[READ_BODY] = body
        return body


class InOurForm:
    """Middleware that lets every error under `/api/` be a list of problems, whoever found it."""

    def __init__(self, get_response: Respond) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request; errors that are not in our form yet are worded by their status."""
        if not request.path.startswith("/api/"):
            return self.get_response(request)
        if _has_body(request) and request.content_type != _kind_of_body(request):
            return refuse(request, 415)
        response = self.get_response(request)
        if response.status_code >= 400 and not response.headers.get("Content-Type", "").startswith("application/json"):
            worded = refuse(request, response.status_code)
            if "Allow" in response:
                worded["Allow"] = response["Allow"]
            return worded
        return response


def _kind_of_body(request: HttpRequest) -> str:
    is_file = request.method == "POST" and request.path.endswith(OF_BYTES)
    return "application/octet-stream" if is_file else "application/json"


def _has_body(request: HttpRequest) -> bool:
    return request.META.get("CONTENT_LENGTH") not in (None, "", "0")


def respond(status: int, problems: Sequence[Problem]) -> JsonResponse:
    """Return problems as a response, the first hundred of them."""
    told = [problem.model_dump(mode="json") for problem in problems[:MOST_PROBLEMS]]
    response = JsonResponse({"problems": told}, status=status)
    if status == 503:
        response["Retry-After"] = str(SECONDS_TO_TRY_AGAIN)
    return response


def refuse(request: HttpRequest, status: int) -> JsonResponse:
    """Return the one problem that a status stands for."""
    what, mend = _BY_STATUS.get(status, _BY_STATUS[500 if status >= 500 else 400])
    return respond(status, [error_at(where=request.path[:200], what=what, mend=mend)])


def csrf_failure(_request: HttpRequest, reason: str = "") -> JsonResponse:
    """Answer a request without the token that proves that it comes from our page."""
    return respond(
        403, [error_at(where="session", what=f"The request's token is not right. {reason}", mend="Reload the page.")]
    )


def failed(request: HttpRequest) -> HttpResponse:
    """Answer where something raised: 503 where the database cannot be reached or has no room, else 500."""
    error = sys.exc_info()[1]
    if not isinstance(error, OperationalError | InterfaceError):
        return refuse(request, 500)
    if isinstance(error.__cause__, DiskFull):
        return respond(503, [error_at("database", *NO_ROOM)])
    return refuse(request, 503)


def handle_errors(api: NinjaAPI) -> None:
    """Let every error that a view raises become a list of problems."""

    @api.exception_handler(StudyError)
    def _study(_request: HttpRequest, error: StudyError) -> JsonResponse:
        return respond(422, error.problems)

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> JsonResponse:
        return respond(422, _of_entries(error.errors[:MOST_PROBLEMS], request))

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, _error: Http404) -> JsonResponse:
        return refuse(request, 404)

    @api.exception_handler(AuthenticationError)
    def _unknown(_request: HttpRequest, _error: AuthenticationError) -> JsonResponse:
        return respond(401, [error_at(where="session", what="You are not signed in.", mend="Sign in.")])

    @api.exception_handler(PermissionDenied)
    def _denied(request: HttpRequest, _error: PermissionDenied) -> JsonResponse:
        return csrf_failure(request)

    @api.exception_handler(RequestDataTooBig)
    def _too_big(request: HttpRequest, _error: RequestDataTooBig) -> JsonResponse:
        return refuse(request, 413)

    @api.exception_handler(UnreadablePostError)
    def _cut_off(request: HttpRequest, _error: UnreadablePostError) -> JsonResponse:
        return refuse(request, 400)

    @api.exception_handler(HttpError)
    def _other(request: HttpRequest, error: HttpError) -> JsonResponse:
        if error.status_code == 403:
            return csrf_failure(request)
        if isinstance(error.__cause__, StudyError):
            return respond(422, [_without_document(problem) for problem in error.__cause__.problems])
        return refuse(request, error.status_code)


def _of_entries(entries: Sequence[dict[str, Any]], request: HttpRequest) -> list[Problem]:
    """Word validation errors; the first parts of their places only name where in the request they are."""
    if not request.body and any(entry["loc"][0] == "body" for entry in entries):
        return [error_at("request", "The request has no body.", "Send one, as JSON.")]
    return [_of_entry(entry, request) for entry in entries]


def _without_document(problem: Problem) -> Problem:
    """Return a problem with its address in the study, where the body holds a study and perhaps more."""
    return problem.model_copy(update={"where": problem.where.removeprefix("document/")})


def _of_entry(entry: dict[str, Any], request: HttpRequest) -> Problem:
    source, *place = entry["loc"]
    if source == "body":
        in_body = cast(ErrorDetails, {**entry, "loc": tuple(place[1:])})
        return _without_document(problem_of(in_body, request.META.get(READ_BODY)))
    given = {
        "path": dict(request.resolver_match.kwargs) if request.resolver_match else {},
        "query": dict(request.GET.lists()),
        "header": dict(request.headers),
    }[source]
    return problem_of(cast(ErrorDetails, {**entry, "loc": tuple(place)}), given)
