"""The ledger's rows by subject: their columns, and their sums by place in time."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

Field = tuple[int, int, int]
"""Where a whole number from zero lies in a row: in which word, from which of its bits on, and how many of them."""
NOTHING = (0, 0, 0)
"""The field that is 0 in every row."""


@part
def number_in(words: np.ndarray, row: int, field: Field) -> int:
    """Return the whole number in a field of a row."""
    return (words[row, field[0]] >> field[1]) & ((1 << field[2]) - 1)


@entry
def grouped(words: np.ndarray, places: np.ndarray, key: Field, groups: int, columns: np.ndarray) -> np.ndarray:
    """Write columns of rows in the order of a key, and return where each key's stretch of them begins.

    `words` are the rows, shape (rows, words), `places` the words wanted; `key` has whole numbers below `groups`.
    `columns` has shape (at least places, rows); the edges are one more than groups. Rows of one key keep their order.
    """
    wholes = words.view(np.int64)
    edges = np.zeros(groups + 1, np.int64)
    for row in range(len(words)):
        edges[number_in(wholes, row, key) + 1] += 1
    for group in range(groups):
        edges[group + 1] += edges[group]
    following = edges[:-1].copy()
    for row in range(len(words)):
        group = number_in(wholes, row, key)
        to = following[group]
        following[group] = to + 1
        for column in range(len(places)):
            columns[column, to] = words[row, places[column]]
    return edges


@entry
def sums_by_place(
    words: np.ndarray,
    moment: tuple[int, int],
    value: int,
    key: Field,
    groups: int,
    grid: tuple[float, float],
    places: int,
) -> tuple[np.ndarray, np.ndarray]:
    """Return the sums and the numbers of a word of rows by key and by moment, both of shape (groups, places).

    The moment of a row is one word less another (or, below 0, less nothing). Of `grid`, the moment, and what is to be
    added to it, is in the place in which it falls after so many of a width, counted round and round.
    """
    wholes = words.view(np.int64)
    sums = np.zeros((groups, places))
    counts = np.zeros((groups, places), np.int64)
    shift, width = grid
    for row in range(len(words)):
        at = words[row, moment[0]]
        if moment[1] >= 0:
            at -= words[row, moment[1]]
        at = max(0.0, at + shift)
        whole = math.floor(at / width)
        if whole * width > at:
            whole -= 1
        elif (whole + 1) * width <= at:
            whole += 1
        group, place = number_in(wholes, row, key), int(whole) % places
        sums[group, place] += words[row, value]
        counts[group, place] += 1
    return sums, counts
