"""Which replications of a run are worth watching."""

import numpy as np
from pydantic import BaseModel

from flowcore.results.run import Results

MEAN_WAIT = "type/all/wait/mean"


class WorthWatching(BaseModel):
    """A replication by its number, from zero, and why it is worth watching."""

    number: int
    words: str


def worth_watching(results: Results) -> list[WorthWatching]:
    """Return the replication whose mean wait is nearest the mean of all, the one with the longest, and the least."""
    waits = results.contributions(MEAN_WAIT)
    known = np.flatnonzero(~np.isnan(waits))
    if not len(known):
        return [WorthWatching(number=results.replications[0].number, words="the first")]
    waits = waits[known]
    places = {
        "the one nearest the mean": np.argmin(np.abs(waits - waits.mean())),
        "the one that waits longest": np.argmax(waits),
        "the one that waits least": np.argmin(waits),
    }
    found: dict[int, str] = {}
    for words, place in places.items():
        found.setdefault(results.replications[known[place]].number, words)
    return [WorthWatching(number=number, words=words) for number, words in found.items()]
