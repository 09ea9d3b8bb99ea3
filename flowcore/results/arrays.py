"""Columns of records as plain arrays, and ratios that may have no whole."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.record import Table

Values = NDArray[np.float64]


def plain(records: Table[Any]) -> NDArray[Any]:
    """Return records as an array whose columns are found quickly."""
    found: NDArray[Any] = records.view(np.ndarray)
    return found


def ratios(parts: Values, wholes: NDArray[Any] | float) -> Values:
    """Return parts of their wholes, or of one; not-a-number where there is no whole."""
    found: Values = np.divide(parts, wholes, out=np.full(np.shape(parts), np.nan), where=np.greater(wholes, 0))
    return found
