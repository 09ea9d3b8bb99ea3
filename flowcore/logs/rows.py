"""The rows of a log file, whatever it is: text with separators, a workbook, or XES, also gzipped; never all at once."""

import csv
import gzip
import io
import zipfile
import zlib
from collections.abc import Callable, Iterator, Sequence
from itertools import islice
from pathlib import Path
from typing import IO, Any, Literal, NamedTuple, get_args

from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import ParseError, iterparse
from openpyxl import load_workbook

from flowcore.logs.roles import MOST_COLUMNS, Separator
from flowcore.problems import StudyError, error_at

MOST_ROWS = 5_000_000
MOST_BYTES = 4_000_000_000
"""A file has no more bytes than this when it is unpacked."""
MOST_BYTES_OF_A_BOOK = 600_000_000
"""A workbook has no more: its words are all in memory at once."""
MOST_OF_A_LINE = 1_000_000
"""A line has no more letters than this, and XML no more bytes from one tag to the next."""
MOST_LETTERS = 2_000
"""A cell has no more letters than this."""
ENCODINGS = ("utf-8", "utf-16", "cp1252", "iso-8859-15", "cp1250", "cp850")
SEPARATORS: tuple[Separator, ...] = get_args(Separator)
SAMPLE = 65_536
CASE = "case:"
"""Before the names of what XES says of a case, not of an event."""


class Row(NamedTuple):
    """A row by its line in the file, from 1, and its cells."""

    line: int
    cells: Sequence[str]


def trouble_with(what: str, mend: str) -> StudyError:
    """Make the error that is raised where a file cannot be read."""
    return StudyError([error_at("file", what, mend)])


def kind_of(path: Path) -> Literal["csv", "xlsx", "xes"]:
    """Return what a file is: csv, xlsx or xes; raises StudyError where it is none of these."""
    begin = _unpacked(path).read(SAMPLE)
    if begin.startswith(b"PK\x03\x04"):
        return "xlsx"
    if begin.lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"<"):
        return "xes"
    if begin.startswith((b"\xd0\xcf\x11\xe0", b"%PDF", b"\x89PNG")):
        raise trouble_with("This is neither text nor a workbook that can be read.", "Save it as CSV, XLSX or XES.")
    if not begin.strip():
        raise trouble_with("The file is empty.", "Choose a file that has rows.")
    return "csv"


def encoding_of(path: Path) -> str:
    """Return the encoding in which a text most likely is."""
    begin = _unpacked(path).read(SAMPLE)
    if begin.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    try:
        begin[: max(1, len(begin) - 4)].decode("utf-8") if len(begin) == SAMPLE else begin.decode("utf-8")
    except UnicodeDecodeError as error:
        return "utf-8" if error.start >= len(begin) - 8 else "cp1252"
    return "utf-8"


def separator_of(path: Path, encoding: str) -> Separator:
    """Return the separator that parts the first lines into most columns, equally many on each."""
    with _text(path, encoding, "replace") as file:
        lines = [line for line in islice((file.readline(SAMPLE) for _ in range(50)), 50) if line.strip()]

    def parts(separator: str) -> tuple[float, int]:
        try:
            counts = [len(cells) for cells in csv.reader(lines, delimiter=separator)] or [1]
        except csv.Error:
            return 0.0, 0
        usual = max(set(counts), key=counts.count)
        return (counts.count(usual) / len(counts) if usual > 1 else 0.0), usual

    return max(SEPARATORS, key=parts)


def sheets_of(path: Path) -> list[str]:
    """Return the names of a workbook's sheets."""
    return list(_workbook(path).sheetnames)


def rows_of_text(path: Path, encoding: str, separator: str) -> Iterator[Row]:
    """Yield the rows of a text with separators; raises StudyError where the text cannot be read at all."""
    with _text(path, encoding) as file:
        reader = csv.reader(_lines(file), delimiter=separator)
        while True:
            line = reader.line_num + 1
            try:
                cells = next(reader, None)
            except UnicodeError:
                what = f"Line {line:,} is not written in {encoding}."
                raise trouble_with(what, f"Choose another encoding: {', '.join(ENCODINGS)}.") from None
            except csv.Error as error:
                what = f"Line {line:,} cannot be read: {error}."
                raise trouble_with(what, "Choose another separator, or mend the line.") from None
            if cells is None:
                return
            if any(cells):
                yield Row(line, cells)


def _lines(file: io.TextIOWrapper) -> Iterator[str]:
    while line := file.readline(MOST_OF_A_LINE):
        if len(line) == MOST_OF_A_LINE:
            raise trouble_with(f"A line has {MOST_OF_A_LINE:,} letters or more.", "Write a row on each line.")
        yield line


def rows_of_workbook(path: Path, sheet: str) -> Iterator[Row]:
    """Yield the rows of a sheet, times as ISO 8601."""
    book = _workbook(path)
    if sheet not in book.sheetnames:
        raise trouble_with(f'There is no sheet "{sheet}".', f"Choose one of {', '.join(book.sheetnames[:20])}.")
    for line, values in enumerate(book[sheet].iter_rows(values_only=True, max_col=MOST_COLUMNS + 1), start=1):
        cells = [_plain(value) for value in values]
        while cells and not cells[-1]:
            cells.pop()
        if cells:
            yield Row(line, cells)


def rows_of_xes(path: Path, names: Sequence[str]) -> Iterator[Row]:
    """Yield the events of XES as rows: of each event and its case what has one of the names; see `names_of_xes`."""
    places = {name: place for place, name in enumerate(names)}
    for number, found in enumerate(_events(path), start=1):
        cells = [""] * len(names)
        for name, value in found:
            place = places.get(name)
            if place is not None:
                cells[place] = value
        yield Row(number, cells)


def names_of_xes(path: Path, first: int) -> list[str]:
    """Return the names of what is said of some first events, and, after `case:`, of their cases."""
    names: dict[str, None] = {}
    for found in islice(_events(path), first):
        names.update((name, None) for name, _ in found)
        if len(names) > MOST_COLUMNS:
            raise too_many_columns(len(names))
    return list(names)


def too_many_columns(many: int) -> StudyError:
    """Make the error of a file that has more columns than a log can have."""
    return trouble_with(f"There are {many:,} columns or more.", f"Leave {MOST_COLUMNS} columns or fewer in the file.")


def _events(path: Path) -> Iterator[list[tuple[str, str]]]:
    """Yield what is said of each event and of its case, without keeping what has been read."""
    of_case: list[tuple[str, str]] = []
    of_event: list[tuple[str, str]] | None = None
    inside: list[Any] = []
    file = _Bounded.opened(path)
    try:
        for moment, element in iterparse(file, events=("start", "end"), forbid_dtd=True):
            file.since_tag = 0
            tag = element.tag.rpartition("}")[2]
            if moment == "start":
                inside.append(element)
                if tag == "trace":
                    of_case = []
                elif tag == "event":
                    of_event = []
                continue
            inside.pop()
            parent = inside[-1].tag.rpartition("}")[2] if inside else ""
            if "key" in element.attrib and parent == "event" and of_event is not None:
                of_event.append((element.attrib["key"], element.attrib.get("value", "")[:MOST_LETTERS]))
            elif "key" in element.attrib and parent == "trace":
                of_case.append((CASE + element.attrib["key"], element.attrib.get("value", "")[:MOST_LETTERS]))
            elif tag == "event" and of_event is not None:
                yield of_case + of_event
                of_event = None
            if inside:
                inside[-1].remove(element)
    except ParseError as error:
        line, _ = error.position
        raise trouble_with(f"Line {line:,} is not sound XML.", "Write the file anew, or mend that line.") from None
    except DefusedXmlException:
        raise trouble_with("The XML has definitions of its own.", "Write it without a DOCTYPE.") from None


def _plain(value: Any) -> str:
    """Return a cell of a workbook as text."""
    if value is None:
        return ""
    if hasattr(value, "isoformat"):
        return str(value.isoformat())
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)[:MOST_LETTERS]


def _workbook(path: Path) -> Any:
    try:
        with zipfile.ZipFile(path) as packed:
            if sum(each.file_size for each in packed.infolist()) > MOST_BYTES_OF_A_BOOK:
                raise too_large(MOST_BYTES_OF_A_BOOK)
        return load_workbook(path, read_only=True, data_only=True)
    except (zipfile.BadZipFile, KeyError, ValueError, OSError, ParseError):
        raise trouble_with("The workbook cannot be opened.", "Save it again as XLSX, or as CSV.") from None


def too_large(most: int) -> StudyError:
    """Make the error of a file that is larger than a log can be."""
    what = f"The file has more than {most // 1_000_000:,} MB when it is unpacked."
    return trouble_with(what, "Part it into several files, or save it as CSV.")


class _Bounded(io.RawIOBase):
    """A file that raises once more bytes are read of it than a log can have.

    Whoever finds tags in it sets back how many bytes have been read `since_tag`.
    """

    def __init__(self, file: IO[bytes]) -> None:
        self._file, self._left, self.since_tag = file, MOST_BYTES, -MOST_BYTES

    @classmethod
    def opened(cls, path: Path) -> "_Bounded":
        """Open a file, unpacked where it is gzipped."""
        with path.open("rb") as file:
            is_packed = file.read(2) == b"\x1f\x8b"
        opened: Callable[..., Any] = gzip.open if is_packed else open
        return cls(opened(path, "rb"))

    def readable(self) -> bool:
        return True

    def close(self) -> None:
        self._file.close()
        super().close()

    def readinto(self, buffer: Any) -> int:
        try:
            found = self._file.read(len(buffer))
        except (EOFError, OSError, zlib.error):
            raise trouble_with("The packed file breaks off or is damaged.", "Pack it again.") from None
        self._left -= len(found)
        self.since_tag += len(found)
        if self._left < 0:
            raise too_large(MOST_BYTES)
        if self.since_tag > MOST_OF_A_LINE:
            raise trouble_with(f"There is no tag in {MOST_OF_A_LINE:,} bytes of XML.", "Write the file anew.")
        buffer[: len(found)] = found
        return len(found)


def _unpacked(path: Path) -> io.BufferedReader:
    return io.BufferedReader(_Bounded.opened(path), 1 << 20)


def _text(path: Path, encoding: str, errors: str = "strict") -> io.TextIOWrapper:
    known = "utf-8-sig" if encoding == "utf-8" else encoding
    if encoding not in ENCODINGS:
        raise trouble_with(f'The encoding "{encoding}" is not known.', f"Choose one of {', '.join(ENCODINGS)}.")
    return io.TextIOWrapper(_unpacked(path), known, errors, newline="")
