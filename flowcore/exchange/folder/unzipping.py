"""A zip whose files are read one by one, by names that we know: none is unpacked to a disk, and none is too large."""

import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile, ZipInfo

from flowcore.exchange.folder.contents import LONGEST_TEXT
from flowcore.problems import StudyError, error_at
from flowcore.study import read_json

MOST_FILES = 200_000
LARGEST_FILE = 50_000_000
MOST_UNPACKED = 4_000_000_000
"""All files together may have so many bytes. No more of a file is read than the zip says that it has."""
PIECE = 1_000_000
_BROKEN = (BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError, ValueError)
"""What `zipfile` raises where a file is cut off, mixed up, encrypted or packed in a way that it does not know."""


class Unzipping:
    """Reads the files of a zip, each by its name."""

    def __init__(self, archive: ZipFile) -> None:
        self._archive = archive
        self._entries = {entry.filename: entry for entry in archive.infolist()}

    def __contains__(self, name: str) -> bool:
        return name in self._entries

    def json(self, name: str) -> Any:
        """Return what a JSON file says; raises StudyError where it is not there, too large, or no JSON."""
        if self._entry(name).file_size > LARGEST_FILE:
            raise _refused(name, f"It has more than {LARGEST_FILE // 1_000_000} MB.", "Choose another folder.")
        try:
            return read_json(b"".join(self.pieces(name)), LONGEST_TEXT)
        except StudyError as error:
            raise told_in(name, error) from error

    def pieces(self, name: str) -> Iterator[bytes]:
        """Yield a file in pieces; raises StudyError where it is not there or cannot be unpacked."""
        entry = self._entry(name)
        with _told_of(name), self._archive.open(entry) as file:
            while piece := file.read(PIECE):
                yield piece

    def _entry(self, name: str) -> ZipInfo:
        if name not in self:
            raise _refused(name, "It is not in the folder.", "Export the folder again, and change nothing in it.")
        return self._entries[name]


@contextmanager
def unzipping(path: Path) -> Iterator[Unzipping]:
    """Open a zip; raises StudyError where it is none, or has too many files, too large or packed in a rare way."""
    with _told_of("file"):
        archive = ZipFile(path)
    with archive:
        entries = archive.infolist()
        if len(entries) > MOST_FILES:
            raise _refused("file", f"The zip has more than {MOST_FILES:,} files.", "Choose the folder of one study.")
        if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
            what = f"The zip has more than {MOST_UNPACKED // 1_000_000_000} GB in it."
            raise _refused("file", what, "Delete logs from the study that are not needed, and export it again.")
        for entry in entries:
            if entry.compress_type not in (ZIP_STORED, ZIP_DEFLATED):
                what = "It is packed in a way that is not read here."
                raise _refused(entry.filename, what, "Pack the folder as a plain zip.")
        yield Unzipping(archive)


def told_in(name: str, error: StudyError) -> StudyError:
    """Return an error about what a file says, whose places name the file."""
    return StudyError([each.model_copy(update={"where": f"{name}/{each.where}"}) for each in error.problems])


@contextmanager
def _told_of(name: str) -> Iterator[None]:
    try:
        yield
    except _BROKEN as error:
        said = str(error).removesuffix(".") or type(error).__name__
        raise _refused(name, f"It cannot be unpacked: {said}.", "Export the folder again.") from error


def _refused(name: str, what: str, mend: str) -> StudyError:
    return StudyError([error_at(name, what, mend)])
