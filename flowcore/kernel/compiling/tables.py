"""Arrays and records as compiled functions see them: indices from zero up, and what cannot meet is known not to.

`FLOWCORE_CHECKED=1` has compiled code end the process at an index out of bounds; plain Python says which it is.

Numba's own arrays take an index below zero as counted from the end, copy records byte by byte, and let
every store make all loads be done again. Here an index is at least zero, a record is copied field by field, and
every load and store says of which field of which kind of record it is: one field is never reached as another.
What lies in a constant table does not change while compiled code runs, so it is loaded once.
"""

import operator
from typing import Any

import numpy as np
from llvmlite import ir
from numba.core import cgutils, types
from numba.core.imputils import lower_builtin
from numba.core.typing.templates import AbstractTemplate, AttributeTemplate, infer_global, signature
from numba.extending import infer_getattr, lower_getattr, lower_getattr_generic, lower_setattr_generic, models
from numba.extending import register_model as register
from numba.np.numpy_support import from_dtype

from flowcore.kernel.compiling.compiled import CHECKED

_INDEX = ir.IntType(64)
_BYTE = ir.IntType(8)
_CACHE_LINE = 64


class Entry(types.Type):
    """The compiled type of one record: its fields' places in bytes and their types."""

    def __init__(self, dtype: np.dtype[Any], constant: bool) -> None:
        self.fields = {name: (int(place), from_dtype(kind)) for name, (kind, place, *_) in (dtype.fields or {}).items()}
        self.size = dtype.itemsize
        self.constant = constant
        self.kind = ",".join(f"{name}:{place}:{kind}" for name, (place, kind) in self.fields.items())
        super().__init__(f"{'constant ' * constant}entry({self.kind})")


class Table(types.Type):
    """The compiled type of an array of records or numbers; `owner` tells tables of numbers apart."""

    def __init__(self, dtype: np.dtype[Any], dimensions: int, owner: str, constant: bool, columns: int | None) -> None:
        self.entry = Entry(dtype, constant) if dtype.names else from_dtype(dtype)
        self.size = dtype.itemsize
        self.dimensions = dimensions
        self.owner = owner
        self.constant = constant
        self.columns = columns
        name = self.entry if dtype.names else f"{'constant ' * constant}{self.entry} {owner}"
        super().__init__(f"table({name}, {dimensions}, {columns})")


register(Entry)(models.OpaqueModel)


@register(Table)
class _TableModel(models.StructModel):  # type: ignore[misc]  # numba has no types
    def __init__(self, manager: Any, kind: Table) -> None:
        super().__init__(
            manager, kind, [("data", types.voidptr), ("shape", types.UniTuple(types.intp, kind.dimensions))]
        )


@infer_getattr
class _EntryFields(AttributeTemplate):  # type: ignore[misc]
    key = Entry

    def generic_resolve(self, kind: Entry, attribute: str) -> types.Type | None:
        return kind.fields[attribute][1] if attribute in kind.fields else None


@infer_getattr
class _TableShape(AttributeTemplate):  # type: ignore[misc]
    key = Table

    def resolve_shape(self, kind: Table) -> types.Type:
        return types.UniTuple(types.intp, kind.dimensions)


def _is_index(kind: Table, index: types.Type) -> bool:
    if kind.dimensions == 1:
        return isinstance(index, types.Integer)
    return isinstance(index, types.BaseTuple) and len(index) == kind.dimensions


@infer_global(operator.getitem)
class _GetItem(AbstractTemplate):  # type: ignore[misc]
    def generic(self, args: Any, _kws: Any) -> Any:
        table, index = args
        if isinstance(table, Table) and _is_index(table, index):
            return signature(table.entry, table, _as_index(table))
        return None


@infer_global(operator.setitem)
class _SetItem(AbstractTemplate):  # type: ignore[misc]
    def generic(self, args: Any, _kws: Any) -> Any:
        table, index, _value = args
        if isinstance(table, Table) and not table.constant and _is_index(table, index):
            return signature(types.none, table, _as_index(table), table.entry)
        return None


@infer_global(len)
class _Len(AbstractTemplate):  # type: ignore[misc]
    def generic(self, args: Any, _kws: Any) -> Any:
        return signature(types.intp, args[0]) if isinstance(args[0], Table) else None


def _as_index(table: Table) -> types.Type:
    return types.intp if table.dimensions == 1 else types.UniTuple(types.intp, table.dimensions)


@lower_builtin(len, Table)
def _length(context: Any, builder: Any, sig: Any, args: Any) -> Any:
    table = cgutils.create_struct_proxy(sig.args[0])(context, builder, args[0])
    return builder.extract_value(table.shape, 0)


@lower_getattr(Table, "shape")
def _shape(context: Any, builder: Any, kind: Table, value: Any) -> Any:
    return cgutils.create_struct_proxy(kind)(context, builder, value).shape


@lower_builtin(operator.getitem, Table, types.Any)
def _get_item(context: Any, builder: Any, sig: Any, args: Any) -> Any:
    kind = sig.args[0]
    at = _address(context, builder, kind, *args)
    if isinstance(kind.entry, Entry):
        return at
    return _load(context, builder, at, kind.entry, kind.owner, kind.constant)


@lower_builtin(operator.setitem, Table, types.Any, types.Any)
def _set_item(context: Any, builder: Any, sig: Any, args: Any) -> Any:
    kind = sig.args[0]
    table, index, value = args
    at = _address(context, builder, kind, table, index)
    if not isinstance(kind.entry, Entry):
        _store(context, builder, at, value, kind.entry, kind.owner)
        return context.get_dummy_value()
    for name in kind.entry.fields:
        _set_field(context, builder, kind.entry, at, name, _get_field(context, builder, kind.entry, value, name))
    return context.get_dummy_value()


@lower_getattr_generic(Entry)
def _get_field(context: Any, builder: Any, kind: Entry, value: Any, attribute: str) -> Any:
    place, field = kind.fields[attribute]
    at = builder.gep(value, [ir.Constant(_INDEX, place)], inbounds=True)
    return _load(context, builder, at, field, _owner(kind, attribute), kind.constant)


@lower_setattr_generic(Entry)
def _set_attribute(context: Any, builder: Any, sig: Any, args: Any, attribute: str) -> None:
    _set_field(context, builder, sig.args[0], args[0], attribute, args[1])


def _set_field(context: Any, builder: Any, kind: Entry, entry: Any, attribute: str, value: Any) -> None:
    place, field = kind.fields[attribute]
    at = builder.gep(entry, [ir.Constant(_INDEX, place)], inbounds=True)
    _store(context, builder, at, value, field, _owner(kind, attribute))


def _owner(kind: Entry, attribute: str) -> str:
    return f"{kind.kind}.{attribute}"


def _address(context: Any, builder: Any, kind: Table, value: Any, index: Any) -> Any:
    """Return where an item lies: the last index counts fastest."""
    table = cgutils.create_struct_proxy(kind)(context, builder, value)
    axes = range(kind.dimensions)
    parts = [index] if kind.dimensions == 1 else [builder.extract_value(index, axis) for axis in axes]
    if CHECKED:
        for axis in axes:
            _look_at_index(builder, parts[axis], builder.extract_value(table.shape, axis))
    place = parts[0]
    for axis in axes[1:]:
        many = builder.extract_value(table.shape, axis) if kind.columns is None else ir.Constant(_INDEX, kind.columns)
        before = builder.mul(place, many, flags=["nsw"])
        place = builder.add(before, parts[axis], flags=["nsw"])
    rows = builder.bitcast(table.data, ir.ArrayType(_BYTE, kind.size).as_pointer())
    return builder.bitcast(builder.gep(rows, [place], inbounds=True), cgutils.voidptr_t)


def fetch(table: Any, row: int) -> None:
    """Have a row of a table brought near before it is needed; how long one of numbers is must be known of its table."""


@infer_global(fetch)
class _Fetch(AbstractTemplate):  # type: ignore[misc]
    def generic(self, args: Any, _kws: Any) -> Any:
        return signature(types.none, args[0], types.intp) if isinstance(args[0], Table) else None


@lower_builtin(fetch, Table, types.Any)
def _fetch(context: Any, builder: Any, sig: Any, args: Any) -> Any:
    kind = sig.args[0]
    index = args[1] if kind.dimensions == 1 else context.make_tuple(builder, _as_index(kind), [args[1], _INDEX(0)])
    at = _address(context, builder, kind, args[0], index)
    number = ir.IntType(32)
    form = ir.FunctionType(ir.VoidType(), [cgutils.voidptr_t, number, number, number])
    ask = cgutils.get_or_insert_function(builder.module, form, "llvm.prefetch.p0")
    for place in range(0, kind.size * (kind.columns or 1), _CACHE_LINE):
        to_write, to_keep, data = number(0 if kind.constant else 1), number(3), number(1)
        builder.call(ask, [builder.gep(at, [_INDEX(place)]), to_write, to_keep, data])
    return context.get_dummy_value()


def _look_at_index(builder: Any, index: Any, size: Any) -> None:
    """Stop the process where an index is below zero or too large: an exception would take minutes to compile."""
    with builder.if_then(builder.icmp_unsigned(">=", index, size), likely=False):
        trap = cgutils.get_or_insert_function(builder.module, ir.FunctionType(ir.VoidType(), []), "llvm.trap")
        builder.call(trap, [])


def _load(context: Any, builder: Any, at: Any, kind: types.Type, owner: str, constant: bool) -> Any:
    model = context.data_model_manager[kind]
    typed = builder.bitcast(at, model.get_data_type().as_pointer())
    loaded = builder.load(typed, align=kind.bitwidth // 8)
    if constant:
        loaded.set_metadata("invariant.load", builder.module.add_metadata([]))
    loaded.set_metadata("tbaa", _access(builder.module, owner))
    return model.from_data(builder, loaded)


def _store(context: Any, builder: Any, at: Any, value: Any, kind: types.Type, owner: str) -> None:
    model = context.data_model_manager[kind]
    typed = builder.bitcast(at, model.get_data_type().as_pointer())
    stored = builder.store(model.as_data(builder, value), typed, align=kind.bitwidth // 8)
    stored.set_metadata("tbaa", _access(builder.module, owner))


def _access(module: ir.Module, owner: str) -> Any:
    """Return the mark of an access to an owner's numbers: two with different owners never meet."""
    root = module.add_metadata([ir.MetaDataString(module, "flowcore")])
    zero = ir.Constant(_INDEX, 0)
    node = module.add_metadata([ir.MetaDataString(module, owner), root, zero])
    return module.add_metadata([node, node, zero])
