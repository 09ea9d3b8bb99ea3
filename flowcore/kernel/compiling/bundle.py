"""Many arrays handed to compiled functions as one pointer.

A NamedTuple of arrays reaches every compiled function as some seven arguments for each array, and
with dozens of arrays both compiling and calling become slow. A Bundle keeps the arrays' descriptions
in one block of memory, and compiled code gets the block's address; in plain Python it is a dataclass.
The block does not change while compiled code runs, so what is read from it is read once.
"""

import hashlib
from dataclasses import fields
from functools import cache
from typing import Any, ClassVar, cast

import numpy as np
from llvmlite import ir
from numba.core import cgutils, types
from numba.core.typing.templates import AttributeTemplate
from numba.extending import (
    NativeValue,
    infer_getattr,
    lower_getattr_generic,
    models,
    register_model,
    typeof_impl,
    unbox,
)

from flowcore.kernel.compiling.tables import Table

_WORD = 8


class Bundle:
    """The base of a dataclass whose fields are arrays or other bundles; nobody writes into a constant one."""

    constant: ClassVar[bool] = False
    columns: ClassVar[dict[str, int]] = {}
    """How many columns those tables have that have as many in every bundle."""
    kind: "BundleType | None"
    block: np.ndarray
    address: int

    def __post_init__(self) -> None:
        words: list[int] = []
        for field in fields(self):  # type: ignore[arg-type]  # subclasses are dataclasses
            value = getattr(self, field.name)
            columns = self.columns.get(field.name)
            words += value.block.tolist() if isinstance(value, Bundle) else _words_of(value, columns)
        block = np.array(words, np.int64)
        object.__setattr__(self, "kind", None)
        object.__setattr__(self, "block", block)
        object.__setattr__(self, "address", block.ctypes.data)


def _words_of(array: np.ndarray, columns: int | None) -> list[int]:
    """Describe an array as compiled code does: where its data lie, and its shape, of which the columns may be known."""
    if columns is not None and array.shape[1:] != (columns,):
        raise ValueError(f"A table of {columns} columns has the shape {array.shape}.")
    if not (array.flags.c_contiguous and array.ctypes.data % _WORD == 0):
        raise ValueError("A bundle takes arrays in C order only, at addresses of whole words.")
    return [array.ctypes.data, *array.shape]


class BundleType(types.Type):
    """The compiled type of a bundle: its fields' names and types."""

    def __init__(self, name: str, members: tuple[tuple[str, types.Type], ...]) -> None:
        self.members = members
        whole = ", ".join(f"{field}: {kind}" for field, kind in members)
        self.size = sum(_bytes_of(kind) for _, kind in members)
        super().__init__(f"{name}_{hashlib.sha256(whole.encode()).hexdigest()[:12]}")

    def place_of(self, attribute: str) -> tuple[int, types.Type]:
        """Return where in the block a field begins, in bytes, and its type."""
        place = 0
        for name, kind in self.members:
            if name == attribute:
                return place, kind
            place += _bytes_of(kind)
        raise AttributeError(attribute)


def _bytes_of(kind: types.Type) -> int:
    """Return how much of a block the description of a field takes; that of a bundle lies within its owner's."""
    return int(kind.size) if isinstance(kind, BundleType) else _WORD * (1 + kind.dimensions)


Form = tuple[Any, ...]


@typeof_impl.register(Bundle)
def _type_of_bundle(value: Bundle, _context: Any) -> BundleType:
    """Return a bundle's type, which is asked for at every call of compiled code, and found at the first."""
    if value.kind is None:
        object.__setattr__(value, "kind", _type_of_form(_form_of(value)))
    return cast(BundleType, value.kind)


def _form_of(value: Bundle) -> Form:
    """Return what a bundle's type depends on."""
    members = ((field.name, getattr(value, field.name)) for field in fields(value))  # type: ignore[arg-type]
    columns = tuple(value.columns.items())
    return (type(value).__name__, value.constant, columns, *((n, _form_of_member(member)) for n, member in members))


def _form_of_member(member: Any) -> Form:
    return _form_of(member) if isinstance(member, Bundle) else (member.dtype, member.ndim)


@cache
def _type_of_form(form: Form) -> BundleType:
    name, constant, columns, *members = form
    known = dict(columns)
    return BundleType(
        name,
        tuple(
            (field, _type_of_member(member, f"{name}.{field}", constant, known.get(field))) for field, member in members
        ),
    )


def _type_of_member(form: Form, owner: str, constant: bool, columns: int | None) -> types.Type:
    if isinstance(form[0], str):
        return _type_of_form(form)
    dtype, dimensions = form
    return Table(dtype, dimensions, owner, constant, columns)


@register_model(BundleType)
class _BundleModel(models.OpaqueModel):  # type: ignore[misc]  # numba has no types
    pass


@unbox(BundleType)
def _unbox_bundle(kind: BundleType, value: Any, c: Any) -> NativeValue:
    address = c.pyapi.object_getattr_string(value, "address")
    number = c.pyapi.long_as_longlong(address)
    c.pyapi.decref(address)
    return NativeValue(c.builder.inttoptr(number, cgutils.voidptr_t))


@infer_getattr
class _BundleAttributes(AttributeTemplate):  # type: ignore[misc]
    key = BundleType

    def generic_resolve(self, kind: BundleType, attribute: str) -> types.Type | None:
        return dict(kind.members).get(attribute)


@lower_getattr_generic(BundleType)
def _get_field(context: Any, builder: Any, kind: BundleType, value: Any, attribute: str) -> Any:
    place, field = kind.place_of(attribute)
    here = builder.gep(value, [ir.Constant(ir.IntType(64), place)])
    if isinstance(field, BundleType):
        return here
    table = cgutils.create_struct_proxy(field)(context, builder)
    table.data = _read_once(builder, here, cgutils.voidptr_t)
    at = builder.gep(here, [ir.Constant(ir.IntType(64), _WORD)])
    table.shape = _read_once(builder, at, table.shape.type)
    return table._getvalue()


def _read_once(builder: Any, pointer: Any, kind: Any) -> Any:
    """Load from the block, which does not change meanwhile."""
    loaded = builder.load(builder.bitcast(pointer, kind.as_pointer()))
    loaded.set_metadata("invariant.load", builder.module.add_metadata([]))
    return loaded
