"""To which of many candidates further replications go: where they tell most about which is the cheapest that holds."""

import numpy as np

from flowcore.results.week_grid import Floats, Whole

TINY = 1e-12


def allocation(costs: Floats, cost_errors: Floats, margins: Floats, margin_errors: Floats, total: int) -> Whole:
    """Share out replications among candidates by optimal computing budget allocation.

    One that is not the best is known not to be by its cost, or by its margin below zero, whichever tells sooner: it
    gets as many as that takes. The best gets as many as its cost takes against all, or its margin. Sources: Chen, Lin,
    Yücesan and Chick, Simulation budget allocation for further enhancing the efficiency of ordinal optimization,
    Discrete Event Dynamic Systems 10 (2000); with constraints Lee, Pujowidianto, Li, Chen and Yap, Approximate
    simulation budget allocation for selecting the best design in the presence of stochastic constraints, IEEE
    Transactions on Automatic Control 57 (2012).

    Parameters
    ----------
    costs, cost_errors
        Means and standard deviations of the replications' costs, shape (candidates,).
    margins, margin_errors
        The same of the margin by which each candidate's worst target is kept.
    total
        How many there are to be in all, those that were run already too.

    Returns
    -------
    Whole
        How many each should have, shape (candidates,); they add up to about the total.
    """
    best = best_of(costs, margins)
    by_cost = np.where(costs > costs[best], (costs - costs[best]) / np.maximum(cost_errors, TINY), 0.0)
    by_margin = np.where(margins < 0, -margins / np.maximum(margin_errors, TINY), 0.0)
    told = np.maximum(np.maximum(by_cost, by_margin), TINY**0.5)
    wanted = 1 / told**2
    others = np.arange(len(costs)) != best
    against_all = cost_errors[best] * np.sqrt(np.sum((wanted[others] / np.maximum(cost_errors[others], TINY)) ** 2))
    of_margin = (margin_errors[best] / max(abs(float(margins[best])), TINY)) ** 2
    wanted[best] = max(float(against_all), float(of_margin))
    found: Whole = np.ceil(total * wanted / wanted.sum()).astype(np.int64)
    return found


def best_of(costs: Floats, margins: Floats) -> int:
    """Return the cheapest that holds, or, where none does, the one that misses least."""
    holding = np.flatnonzero(margins >= 0)
    return int(holding[np.argmin(costs[holding])]) if len(holding) else int(np.argmax(margins))
