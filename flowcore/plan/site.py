"""The site plan as walking times."""

import numpy as np
from numpy.typing import NDArray

from flowcore.study.site import Site


def walking_minutes(site: Site) -> NDArray[np.float64]:
    """Return the minutes from each place to each other, shape (places, places)."""
    x = np.array([place.x for place in site.places], np.float64)
    y = np.array([place.y for place in site.places], np.float64)
    across, along = np.abs(x[:, None] - x), np.abs(y[:, None] - y)
    metres = across + along if site.distance == "rectangular" else np.hypot(across, along)
    index = {place.id: number for number, place in enumerate(site.places)}
    for pair in site.pairs:
        one, other = index[pair.from_], index[pair.to]
        metres[one, other] = metres[other, one] = pair.metres
    minutes: NDArray[np.float64] = metres / (site.walking_speed * 60)
    return minutes
