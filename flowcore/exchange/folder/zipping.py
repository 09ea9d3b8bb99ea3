"""Files as a zip that is written while it is sent: nothing of it is kept but what has not been taken yet."""

import io
import time
from collections.abc import Iterable, Iterator
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

PIECE = 256 * 1024


def zipped(files: Iterable[tuple[str, Iterable[bytes]]]) -> Iterator[bytes]:
    """Yield the pieces of a zip with these files, each given by its name and its own pieces."""
    out = _Untaken()
    with ZipFile(out, "w") as archive:
        for name, pieces in files:
            with archive.open(_entry(name), "w") as file:
                for piece in pieces:
                    file.write(piece)
                    if len(out.pieces) > PIECE:
                        yield out.taken()
    yield out.taken()


def _entry(name: str) -> ZipInfo:
    entry = ZipInfo(name, time.localtime()[:6])
    entry.compress_type = ZIP_DEFLATED
    return entry


class _Untaken(io.RawIOBase):
    """Keeps what is written until it is taken."""

    def __init__(self) -> None:
        self.pieces = bytearray()

    def write(self, piece: bytes) -> int:  # type: ignore[override]
        self.pieces += piece
        return len(piece)

    def taken(self) -> bytes:
        """Return what has been written since, and forget it."""
        taken = bytes(self.pieces)
        self.pieces.clear()
        return taken
