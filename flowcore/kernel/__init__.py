"""One replication, event by event, compiled. Imports nothing but NumPy, Numba and itself."""

from flowcore.kernel.compiling import compiled  # noqa: F401  (sets the cache's folder before Numba is imported)
