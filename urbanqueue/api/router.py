"""The API: one router per app."""

from collections.abc import Mapping
from http import HTTPStatus
from math import isfinite
from types import MappingProxyType
from typing import Any

from django.http import HttpRequest
from ninja import NinjaAPI, Schema
from ninja.renderers import JSONRenderer
from ninja.security import django_auth

from flowcore import __version__
from urbanqueue.api import (
    catalogue,
    comparison,
    exchange,
    findings,
    folders,
    logs,
    measures,
    memos,
    one_more,
    processes,
    pulse,
    replays,
    run_logs,
    runs,
    scenarios,
    searches,
    session,
    studies,
)
from urbanqueue.api.errors import JsonParser, handle_errors


class FiniteJson(JSONRenderer):
    """Writes JSON; a number that is not finite, which JSON has no word for, is null."""

    json_dumps_params: Mapping[str, Any] = MappingProxyType({"allow_nan": False})

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> Any:
        """Return an answer as text."""
        try:
            return super().render(request, data, response_status=response_status)
        except ValueError:
            return super().render(request, _finite(data), response_status=response_status)


def _finite(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _finite(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_finite(value) for value in data]
    return None if isinstance(data, float) and not isfinite(data) else data


class DescribedApi(NinjaAPI):
    """An API whose description tells the answers that any request may get, whatever it asks for."""

    def get_openapi_schema(self, **options: Any) -> Any:
        """Return the description, with the answers that come before or behind every operation."""
        described = super().get_openapi_schema(**options)
        for path in described["paths"].values():
            for operation in path.values():
                for status in (*OF_ALL, *(OF_SIGNED_IN if operation.get("security") else ())):
                    operation["responses"].setdefault(status, _problems(status))
        return described


OF_ALL = (400, 403, 413, 415, 422, 500, 503)
OF_SIGNED_IN = (401,)


def _problems(status: int) -> dict[str, Any]:
    content = {"application/json": {"schema": {"$ref": "#/components/schemas/Problems"}}}
    return {"description": HTTPStatus(status).phrase, "content": content}


class Health(Schema):
    """A sign of life."""

    engine: str


api = DescribedApi(
    title="Urban Queue",
    version="1",
    docs_url=None,
    auth=django_auth,
    urls_namespace="api",
    parser=JsonParser(),
    renderer=FiniteJson(),
)
handle_errors(api)
api.add_router("/session", session.router)
api.add_router("/studies", studies.router)
api.add_router("/pulse", pulse.router)
api.add_router("", runs.router)
api.add_router("", run_logs.router)
api.add_router("", replays.router)
api.add_router("", searches.router)
api.add_router("", findings.router)
api.add_router("", measures.router)
api.add_router("", memos.router)
api.add_router("", one_more.router)
api.add_router("", comparison.router)
api.add_router("", scenarios.router)
api.add_router("", catalogue.router)
api.add_router("", exchange.router)
api.add_router("/processes", processes.router)
api.add_router("", logs.router)
api.add_router("", folders.router)


@api.get("/health", auth=None, response=Health, operation_id="health", summary="Sign of life")
def health(request: HttpRequest) -> Health:
    """Say that the application answers."""
    return Health(engine=__version__)
