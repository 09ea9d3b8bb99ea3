"""Histograms with bins that are as wide again from octave to octave."""

import math

import numpy as np

from flowcore.kernel.compiling.compiled import entry, part
from flowcore.kernel.summary.statistics import bits_of

FINEST = -6
PER_OCTAVE = 64
_OF_EXPONENT, _BIAS, _MANTISSA = 0x7FF, 1022, (1 << 52) - 1
_PER_MINUTE = 2.0 ** (-FINEST - np.arange(_OF_EXPONENT, dtype=np.float64))
"""How many bins a minute has in each octave."""


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
def bin_of_value(value: float, bits: int) -> int:
    """Return the bin of a value with these bits: PER_OCTAVE of them between a number and its double.

    The first are 2**FINEST wide; what is on the edge of two is in the lower.
    """
    exponent = ((bits >> 52) & _OF_EXPONENT) - _BIAS
    octave = max(0, exponent - 1 - int(bits & _MANTISSA == 0))
    return max(0, int(math.ceil(value * _PER_MINUTE[octave])) - 1) + PER_OCTAVE * octave
