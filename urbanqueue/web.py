"""What a browser may do with our pages, and what of requests is worth a line in the log."""

import logging
from collections.abc import Callable

from django.http import HttpRequest, HttpResponseBase

POLICY = "; ".join(
    (
        "default-src 'self'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)


class ContentSecurityPolicy:
    """Middleware that says where scripts, styles and pictures may come from: from here, and scripts never inline."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request with the policy."""
        response = self.get_response(request)
        response["Content-Security-Policy"] = POLICY
        return response


class Mistakes(logging.Filter):
    """Keeps refusals out of the log that are no mistakes: answers of 503 are told to whoever asked and tried again."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Say whether a record is to be logged."""
        return getattr(record, "status_code", None) != 503 or record.exc_info is not None
