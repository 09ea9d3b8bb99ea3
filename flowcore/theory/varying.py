"""Offered load where the arrival rate changes over time."""

import numpy as np
from numpy.typing import NDArray


def load_over_time(rates: NDArray[np.float64], interval: float, mean_work: float) -> NDArray[np.float64]:
    """Return the mean number in service at the end of each interval with endless servers and exponential work.

    `rates` are arrivals a minute in each interval of `interval` minutes, shape (intervals,), repeated
    for ever; `mean_work` is in minutes. m(t) = E[∫ λ(t − u) du over the work], here solved exactly
    piece by piece. Source: Eick, Massey and Whitt, The physics of the Mt/G/∞ queue, Operations
    Research 41 (1993).
    """
    keeps = float(np.exp(-interval / mean_work))
    inflow = rates * mean_work * (1 - keeps)
    loads = np.empty(len(rates))
    whole = keeps ** len(rates)
    at_start = float(np.sum(inflow * keeps ** np.arange(len(rates) - 1, -1, -1))) / (1 - whole)
    for number, extra in enumerate(inflow):
        at_start = at_start * keeps + float(extra)
        loads[number] = at_start
    return loads
