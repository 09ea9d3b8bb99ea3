"""Every error of the API is a list of problems: where, what, mend."""

import json
from collections.abc import Sequence
from typing import Any, cast

from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic_core import ErrorDetails

from flowcore.problems import Problem, StudyError, error_at
from flowcore.study.wording import problem_of


class Problems(Schema):
    """What went wrong."""

    problems: list[Problem]


def respond(status: int, problems: Sequence[Problem]) -> JsonResponse:
    """Return problems as a response."""
    return JsonResponse({"problems": [problem.model_dump(mode="json") for problem in problems]}, status=status)


def csrf_failure(_request: HttpRequest, reason: str = "") -> JsonResponse:
    """Answer a request without the token that proves that it comes from our page."""
    return respond(
        403, [error_at(where="session", what=f"The request's token is not right. {reason}", mend="Reload the page.")]
    )


def handle_errors(api: NinjaAPI) -> None:
    """Let every error that a view raises become a list of problems."""

    @api.exception_handler(StudyError)
    def _study(_request: HttpRequest, error: StudyError) -> JsonResponse:
        return respond(422, error.problems)

    @api.exception_handler(ValidationError)
    def _validation(request: HttpRequest, error: ValidationError) -> JsonResponse:
        return respond(422, [_of_entry(entry, request) for entry in error.errors])

    @api.exception_handler(Http404)
    def _missing(request: HttpRequest, _error: Http404) -> JsonResponse:
        problem = error_at(where=request.path, what="It is not there.", mend="Check the address, or go back.")
        return respond(404, [problem])

    @api.exception_handler(AuthenticationError)
    def _unknown(_request: HttpRequest, _error: AuthenticationError) -> JsonResponse:
        return respond(401, [error_at(where="session", what="You are not signed in.", mend="Sign in.")])

    @api.exception_handler(PermissionDenied)
    def _denied(request: HttpRequest, _error: PermissionDenied) -> JsonResponse:
        return csrf_failure(request)

    @api.exception_handler(HttpError)
    def _other(request: HttpRequest, error: HttpError) -> JsonResponse:
        if error.status_code == 403:
            return csrf_failure(request)
        problem = error_at(where="request", what=str(error), mend="Send a body that is valid JSON.")
        return respond(error.status_code, [problem])


def _of_entry(entry: dict[str, Any], request: HttpRequest) -> Problem:
    """Word one validation error; the first two parts of its place only name the parameter."""
    place = list(entry["loc"])
    if place[0] != "body":
        name = str(place[-1])
        return error_at(where=name, what=f"{entry['msg']}.", mend=f"Give a right {name}.")
    body = json.loads(request.body)
    found = problem_of(cast(ErrorDetails, {**entry, "loc": tuple(place[2:])}), body)
    return found.model_copy(update={"where": found.where.removeprefix("document/")})
