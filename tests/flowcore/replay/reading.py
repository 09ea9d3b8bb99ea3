"""Reads a written piece of a replay as any reader would, from what its docstring says."""

import gzip
import json
from typing import Any

import numpy as np

from flowcore.replay.written import REAL, WHOLE

Columns = dict[str, list[float]]


def columns_in(squeezed: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    whole = gzip.decompress(squeezed)
    length = int.from_bytes(whole[:8], "little")
    head = json.loads(whole[8 : 8 + length])
    place = 8 + length + -length % 8
    columns = {}
    for name, kind, many in head["columns"]:
        columns[name] = np.frombuffer(whole, np.dtype(f"<{kind}"), many, place)
        place += columns[name].nbytes + -columns[name].nbytes % 8
    assert place == len(whole)
    return head, columns


def lines_in(columns: dict[str, np.ndarray]) -> Columns:
    """Return the lines, column by column, with their times."""
    last: dict[int, int] = {}
    lines: Columns = {name: [] for name in (*WHOLE, *REAL)}
    left = {name: iter(columns[name].tolist()) for name in REAL}
    for line, who in enumerate(columns["who"].tolist()):
        before = last.get(who)
        for name in WHOLE:
            lines[name].append(int(columns[name][line]) + (0 if before is None else lines[name][before]))
        for bit, name in enumerate(REAL):
            is_new = columns["which"][line] >> bit & 1
            lines[name].append(next(left[name]) if is_new else lines[name][before or 0])
        last[who] = line
    return lines | {"at": np.repeat(columns["instants"], columns["counts"]).tolist(), "who": columns["who"].tolist()}
