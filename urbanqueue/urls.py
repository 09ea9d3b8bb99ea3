"""Addresses: the API under /api/, the workbench everywhere else."""

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseBase
from django.urls import path, re_path

from urbanqueue.api.router import api


def workbench(_request: HttpRequest) -> HttpResponseBase:
    """Serve the front end; it finds its own way from the address."""
    page = settings.WEB_ROOT / "index.html"
    if not page.exists():
        return HttpResponse("The front end is not built yet: run ./start.", status=503)
    response = FileResponse(page.open("rb"), content_type="text/html")
    response["Cache-Control"] = "no-cache"
    return response


urlpatterns = [path("api/", api.urls), re_path(r"^(?!api/|assets/).*$", workbench)]
handler500 = "urbanqueue.api.errors.failed"
