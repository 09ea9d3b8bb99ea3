"""What comes in pieces as a file on disk, for as long as it is needed."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from tempfile import NamedTemporaryFile
from typing import IO

from flowcore.problems import StudyError, error_at

PIECE = 1_000_000
MB = 1_000_000


@contextmanager
def filed(pieces: Iterable[bytes], most: int | None = None) -> Iterator[IO[bytes]]:
    """Put pieces together to a file with a name; raises StudyError where it has more than so many bytes."""
    size = 0
    with NamedTemporaryFile() as file:
        for piece in pieces:
            size += len(piece)
            if most is not None and size > most:
                what = f"The file has more than {most // MB:,} MB."
                raise StudyError([error_at("file", what, "Pack it, or part it.")])
            file.write(piece)
        file.flush()
        yield file
