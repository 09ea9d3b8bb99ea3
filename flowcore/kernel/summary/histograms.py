"""Histograms with bins that are as wide again from octave to octave."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part

FINEST = -6
PER_OCTAVE = 64
_SHORT = PER_OCTAVE * 2.0**FINEST
LAST_BITS = 46
"""How many bits of a number are behind those that say in which bin of its octave it is."""
_BITS_OF_SHORT = int(np.array(_SHORT).view(np.int64))
_BINS_BELOW = (_BITS_OF_SHORT >> LAST_BITS) - PER_OCTAVE


@entry
def histogram(values: np.ndarray) -> np.ndarray:
    """Return how many of some non-negative values are in each bin, as far as there are any: see `bin_of_value`."""
    most = 0.0
    for row in range(len(values)):
        most = max(most, values[row])
    bits = values.view(np.int64)
    counts = np.zeros(bin_of_value(most, bits_of(most)) + 1, np.int64)
    for row in range(len(values)):
        counts[bin_of_value(values[row], bits[row])] += 1
    return counts if len(values) > 0 else counts[:0]


@part
def bits_of(value: float) -> int:
    """Return the bits of a real number, as a whole number: of those from zero on they are in the same order."""
    return np.array([value]).view(np.int64)[0]


@part
def number_of(bits: int) -> float:
    """Return the real number that has some bits."""
    return np.array([bits]).view(np.float64)[0]


@part
def bin_of_value(value: float, bits: int) -> int:
    """Return the bin of a value with these bits: PER_OCTAVE of them between a number and its double.

    The first are 2**FINEST wide; what is on the edge of two is in the lower, and what is not above zero in the first.
    """
    return finer_bin(value, bits, 0, 2.0**-FINEST)


@part
def finer_bin(value: float, bits: int, halvings: int, per_minute: float) -> int:
    """Return the bin of a value where each is halved so many times; so many of the first then have room in a minute."""
    if bits > _BITS_OF_SHORT:
        return ((bits - 1) >> (LAST_BITS - halvings)) - (_BINS_BELOW << halvings)
    return max(0, int(math.ceil(value * per_minute)) - 1)
