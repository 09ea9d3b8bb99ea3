"""Records that are types: a class with a line per field, from which its layout in memory is made.

In memory a table of records is a NumPy record array; to the type checker it is a table of the class.
"""

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any, Generic, TypeVar, overload

import numpy as np
from numpy.typing import NDArray

R = TypeVar("R")
R_co = TypeVar("R_co", covariant=True)
_DTYPE = "__layout__"

if TYPE_CHECKING:
    F8 = float
    I8 = int
    I4 = int
    I2 = int
    U8 = np.uint64

    class Table(Generic[R_co]):
        """Records of one kind, one after another; a name picks a column of them."""

        dtype: np.dtype[np.void]
        shape: tuple[int, ...]
        size: int
        nbytes: int
        itemsize: int

        def __len__(self) -> int: ...
        def __iter__(self) -> Iterator[R_co]: ...
        @overload
        def __getitem__(self, index: int) -> R_co: ...
        @overload
        def __getitem__(self, index: str) -> NDArray[Any]: ...
        @overload
        def __getitem__(self, index: slice | NDArray[Any]) -> "Table[R_co]": ...
        def __getitem__(self, index: Any) -> Any: ...
        def __setitem__(self, index: int | str | slice | NDArray[Any], value: Any) -> None: ...
        def __getattr__(self, column: str) -> Any: ...

else:
    F8, I8, I4, I2, U8 = "f8", "i8", "i4", "i2", "u8"

    class Table:
        """Records of one kind, one after another: at run time a record array."""

        def __class_getitem__(cls, _kind: type) -> type[np.recarray]:
            return np.recarray


def record(kind: type[R]) -> type[R]:
    """Give a class of annotated fields its layout: the fields in their order, each of its width."""
    setattr(kind, _DTYPE, np.dtype((np.record, list(kind.__annotations__.items()))))
    return kind


def layout(kind: type) -> np.dtype[np.void]:
    """Return the layout in memory of a kind of record."""
    found: np.dtype[np.void] = getattr(kind, _DTYPE)
    return found


def blank(kind: type[R], count: int) -> "Table[R]":
    """Return so many records in which everything is zero."""
    return np.zeros(count, layout(kind)).view(np.recarray)  # type: ignore[return-value]  # a Table at run time


def row(kind: type, /, **fields: object) -> tuple[object, ...]:
    """Return a record's fields in their order.

    Raises TypeError where one is missing, or is none of the record's.
    """
    names = layout(kind).names or ()
    if fields.keys() != set(names):
        missing, unknown = sorted(set(names) - fields.keys()), sorted(fields.keys() - set(names))
        raise TypeError(f"{kind.__name__}: missing {missing}, unknown {unknown}")
    return tuple(fields[name] for name in names)


def table(kind: type[R], rows: Iterable[tuple[object, ...]]) -> "Table[R]":
    """Return rows of fields, each in the record's order, as a table."""
    return np.array(list(rows), layout(kind)).view(np.recarray)  # type: ignore[return-value]  # a Table at run time
