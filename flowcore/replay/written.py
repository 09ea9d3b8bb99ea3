"""Pieces of a replay as bytes: a head in JSON, then columns of numbers, which are small where little changes.

Lines are those of all records and members as the piece begins, then the changes. Of whole numbers it is written by how
much they differ from those of the same record before (at first from nothing), of others those that do differ, with a
bit each of `which` that says so.
"""

import gzip
import json

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import Seen
from flowcore.kernel.records.record import Table
from flowcore.replay.recorder import Piece

WHOLE = ("number", "step", "came_from", "with_", "together", "doing", "cause", "type", "token")
REAL = ("ends", "rank", "turn")
EFFORT = 5
_ALIGNED = 8


def written(piece: Piece) -> bytes:
    """Return a piece, squeezed as gzip does.

    Behind the lines are those who left: `gone_at` which time, by the exit `gone_step`. The head tells `begins`, `ends`
    (minutes), `is_last`, how many had `left` and how many `gave_up` before, how many `lines` and `members` there are,
    and the `columns` that follow one another: name, kind (f8, i4, u1) and length, each beginning at a multiple of
    eight bytes.
    """
    lines, gone = _lines(piece), piece.notes[piece.notes.kind == k.Note.DEPARTED]
    instants, counts = _instants(lines.at)
    columns: list[tuple[str, NDArray[np.generic]]] = [
        ("instants", instants),
        ("counts", counts.astype(np.int32)),
        ("who", lines.who.astype(np.int32)),
        *_whole(lines),
        *_real(lines),
        ("gone_at", np.asarray(gone.at)),
        ("gone_step", np.asarray(gone.step)),
    ]
    head = {
        "begins": piece.begins,
        "ends": piece.ends,
        "is_last": piece.is_last,
        "left": piece.left,
        "gave_up": piece.gave_up,
        "members": len(piece.members),
        "lines": len(lines),
        "columns": [[name, column.dtype.str[1:], len(column)] for name, column in columns],
    }
    text = json.dumps(head).encode()
    parts = [len(text).to_bytes(_ALIGNED, "little"), _padded(text), *(_padded(each.tobytes()) for _, each in columns)]
    return gzip.compress(b"".join(parts), EFFORT, mtime=0)


def _lines(piece: Piece) -> Table[Seen]:
    """Return what is seen as the piece begins, at that time, and what changes."""
    first = np.concatenate([piece.cases[np.asarray(piece.cases.doing) != 0], piece.members])
    return np.concatenate([first, piece.changes]).view(np.recarray)  # type: ignore[return-value]  # a Table at run time


def _instants(at: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Return the times at which anything changes, in order, and how many lines each has."""
    starts = np.flatnonzero(np.diff(at, prepend=-1.0) != 0)
    return at[starts], np.diff(np.append(starts, len(at)))


def _before(who: NDArray[np.int32]) -> NDArray[np.int64]:
    """Return for each line the one before of the same record or member, -1 for none."""
    order = np.argsort(who, kind="stable")
    before = np.full(len(who), -1)
    same = who[order][1:] == who[order][:-1]
    before[order[1:][same]] = order[:-1][same]
    return before


def _whole(lines: Table[Seen]) -> list[tuple[str, NDArray[np.generic]]]:
    before = _before(lines.who)
    found: list[tuple[str, NDArray[np.generic]]] = []
    for name in WHOLE:
        values = np.asarray(lines[name], np.int32)
        found.append((name, values - np.where(before >= 0, values[before], 0)))
    return found


def _real(lines: Table[Seen]) -> list[tuple[str, NDArray[np.generic]]]:
    before = _before(lines.who)
    which = np.zeros(len(lines), np.uint8)
    columns: list[tuple[str, NDArray[np.generic]]] = []
    for bit, name in enumerate(REAL):
        values = np.asarray(lines[name], np.float64)
        differs = (before < 0) | (values != values[before])
        which |= differs.astype(np.uint8) << bit
        columns.append((name, values[differs]))
    return [("which", which), *columns]


def _padded(part: bytes) -> bytes:
    return part + bytes(-len(part) % _ALIGNED)
