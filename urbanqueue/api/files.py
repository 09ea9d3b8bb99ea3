"""Bodies and answers that are files, and how the API's description tells of them."""

from collections.abc import Iterator
from typing import Any

from django.http import HttpRequest

from urbanqueue.filed import PIECE

SENT_AS_BYTES: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
"""What an endpoint adds to its description whose body is a file as it is."""


def sent_pieces(request: HttpRequest) -> Iterator[bytes]:
    """Yield the body of a request as it comes."""
    while piece := request.read(PIECE):
        yield piece


def written_as(*kinds: str) -> dict[str, Any]:
    """Return what an endpoint adds to its description whose answer is a file of one of some kinds."""
    return {"responses": {200: {"content": {kind: {"schema": _schema(kind)} for kind in kinds}}}}


def _schema(kind: str) -> dict[str, str]:
    return {"type": "string"} if kind.startswith("text/") else {"type": "string", "format": "binary"}
