"""Visits as columns of the database, each squeezed by itself, and back as they were."""

import json
import zlib
from collections.abc import Iterator
from dataclasses import fields
from io import BytesIO

import numpy as np

from flowcore.logs.visits import Visits
from urbanqueue.logs.models import LogColumn, LogFile

FAST = 1


def columns_of(log: LogFile, visits: Visits) -> Iterator[LogColumn]:
    """Yield the columns of visits."""
    for field in fields(Visits):
        value = getattr(visits, field.name)
        if isinstance(value, list):
            content = json.dumps(value).encode()
        else:
            file = BytesIO()
            np.save(file, value, allow_pickle=False)
            content = file.getvalue()
        yield LogColumn(log=log, name=field.name, content=zlib.compress(content, FAST))


def visits_of(log: LogFile) -> Visits:
    """Return the visits that were read of a log."""
    found = {}
    for name, content in log.columns.values_list("name", "content"):
        plain = zlib.decompress(bytes(content))
        is_array = plain.startswith(b"\x93NUMPY")
        found[name] = np.load(BytesIO(plain), allow_pickle=False) if is_array else json.loads(plain)
    return Visits(**found)
