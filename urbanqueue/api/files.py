"""How the API's description tells of answers that are files."""

from typing import Any


def written_as(*kinds: str) -> dict[str, Any]:
    """Return what an endpoint adds to its description whose answer is a file of one of some kinds."""
    return {"responses": {200: {"content": {kind: {"schema": _schema(kind)} for kind in kinds}}}}


def _schema(kind: str) -> dict[str, str]:
    return {"type": "string"} if kind.startswith("text/") else {"type": "string", "format": "binary"}
