"""Measurements of speed, as ratios against a plain-Python yardstick."""

from flowcore.kernel.compiling import compiled  # noqa: F401  (sets the cache's folder before Numba is imported)
