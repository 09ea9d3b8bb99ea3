"""Which engine this is: the same engine gives the same figures to the last bit."""

import hashlib
from pathlib import Path

from flowcore import __version__


def _of_the_sources() -> str:
    digest = hashlib.sha256()
    for source in sorted(Path(__file__).parent.rglob("*.py")):
        digest.update(source.read_bytes())
    return digest.hexdigest()[:8]


ENGINE = f"{__version__}-{_of_the_sources()}"
"""The version, and a mark of what the computation was made of: what one engine found another does not go on with."""
