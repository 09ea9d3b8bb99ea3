"""Writes `tests/shared/replay.json`: studies, pieces as the engine writes them, and what is seen at moments of them.

`python -m tests.flowcore.replay.make_shared`. A test holds it against the engine, and one of the front end reads it.
"""

import base64
import gzip
import json
from pathlib import Path
from typing import Any

import numpy as np

from flowcore.kernel.records import kinds as k
from flowcore.replay.recorder import Piece, Recorder
from flowcore.replay.written import written
from flowcore.study import read_study
from flowcore.study import written as document_of
from tests.oracle.studies import study as put_together

PATH = Path(__file__).parents[2] / "shared" / "replay.json"
SEEDS = (2, 8, 11, 19)
MOMENTS = 12


def shared() -> list[dict[str, Any]]:
    """Return the pieces and what is seen of them."""
    return [_case(seed) for seed in SEEDS]


def _case(seed: int) -> dict[str, Any]:
    study = read_study(put_together(seed))
    piece = Recorder(study, 0).piece(30.0, 130.0)
    moments = np.sort(np.random.default_rng(seed).uniform(piece.begins, piece.ends, MOMENTS)).round(3).tolist()
    return {
        "seed": seed,
        "study": document_of(study),
        "members": [team.members for team in study.teams],
        "piece": base64.b64encode(gzip.decompress(written(piece))).decode(),
        "seen": [_seen(piece, each) for each in moments],
    }


def _seen(piece: Piece, moment: float) -> dict[str, Any]:
    """What is seen at a moment: where every case is and what it does, each line in its order, what members do."""
    cases, members = piece.at(moment)
    there = [each for each in cases if each.doing != k.Doing.NOTHING]
    waiting = sorted(
        (each for each in there if each.doing == k.Doing.WAITING and each.cause != k.Account.BRANCHES),
        key=lambda each: (each.rank, each.turn, each.who),
    )
    lines: dict[str, list[int]] = {}
    for each in waiting:
        lines.setdefault(str(each.step), []).append(int(each.who))
    return {
        "moment": moment,
        "cases": sorted([int(each.who), int(each.number), int(each.doing), int(each.step)] for each in there),
        "lines": lines,
        "members": [[int(each.doing), int(each.number), int(each.token)] for each in members],
        "gone": int((piece.notes[piece.notes.kind == k.Note.DEPARTED].at <= moment).sum()),
    }


if __name__ == "__main__":
    PATH.write_text(json.dumps(shared(), indent=None) + "\n")
