"""The API: one router per app."""

from django.http import HttpRequest
from ninja import NinjaAPI, Schema
from ninja.security import django_auth

from flowcore import __version__
from urbanqueue.api import pulse, runs, session, studies
from urbanqueue.api.errors import handle_errors


class Health(Schema):
    """A sign of life."""

    engine: str


api = NinjaAPI(title="Urban Queue", version="1", docs_url=None, auth=django_auth, urls_namespace="api")
handle_errors(api)
api.add_router("/session", session.router)
api.add_router("/studies", studies.router)
api.add_router("/pulse", pulse.router)
api.add_router("", runs.router)


@api.get("/health", auth=None, response=Health, operation_id="health", summary="Sign of life")
def health(request: HttpRequest) -> Health:
    """Say that the application answers."""
    return Health(engine=__version__)
