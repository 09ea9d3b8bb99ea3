"""The share of times that last up to one, where of some is only known that they are longer."""

import numpy as np
from scipy import stats

from flowcore.calibration.candidates import Numbers, Seen


class Lasting:
    """The share of times that last up to each one that ended, so that those that are longer count too.

    `times` (minutes) and `shares`, shape (times,) each, ascending. Source: Kaplan and Meier (1958).
    """

    def __init__(self, seen: Seen) -> None:
        found = stats.ecdf(stats.CensoredData(seen.ended, right=seen.longer)).cdf
        ends = np.isin(found.quantiles, seen.ended)
        self.times: Numbers = found.quantiles[ends]
        self.shares: Numbers = found.probabilities[ends]

    def at_share(self, shares: Numbers) -> Numbers:
        """Return up to which times shares last; NaN where so many have not ended."""
        places = np.searchsorted(self.shares, shares - 1e-12)
        return np.where(places < len(self.times), self.times[np.minimum(places, len(self.times) - 1)], np.nan)

    def mean(self) -> float:
        """Return the mean up to the longest time that has ended, in minutes."""
        widths = np.diff(np.append(0.0, self.times))
        return float((widths * (1 - np.append(0.0, self.shares)[:-1])).sum())
