"""How the kernel is compiled, and where the compiled code is kept.

Numba's cache does not notice an edit in another module than the entry's, so the cache lies in
a folder named by a hash of all of the kernel's sources. `FLOWCORE_PLAIN_NUMBA=1` compiles every function as Numba
does by itself: slow to compile, and slower, but with nothing of ours in Numba's insides.
"""

import hashlib
import os
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

_Function = TypeVar("_Function", bound=Callable[..., Any])
CHECKED = os.environ.get("FLOWCORE_CHECKED", "") == "1"
"""Whether compiled code looks at every index, and ends the process where one is out of bounds."""
PLAIN = os.environ.get("FLOWCORE_PLAIN_NUMBA", "") == "1"
TRIED = ("0.68",)
"""The versions of Numba with whose insides `parts.py` has been tried."""


def _cache_folder() -> Path:
    root = Path(os.environ.get("FLOWCORE_CACHE", Path.home() / ".cache" / "flowcore"))
    digest = hashlib.sha256()
    for source in sorted(Path(__file__).parent.parent.rglob("*.py")):
        digest.update(source.read_bytes())
    return root / f"kernel-{digest.hexdigest()[:16]}{'-plain' * PLAIN}{'-checked' * CHECKED}"


os.environ.setdefault("NUMBA_CACHE_DIR", str(_cache_folder()))

import numba  # noqa: E402
from numba.core import types  # noqa: E402

if not PLAIN and not numba.__version__.startswith(tuple(f"{version}." for version in TRIED)):
    warnings.warn(
        f"Numba {numba.__version__} has not been tried with the engine, Numba {' and '.join(TRIED)} has. If the engine "
        "does not compile, set FLOWCORE_PLAIN_NUMBA=1: it is slower then.",
        stacklevel=2,
    )

if not PLAIN:
    from flowcore.kernel.compiling.parts import EntryCompiler, PartCompiler, RareCompiler

_WITHIN: dict[str, Any] = {"error_model": "numpy", "no_cpython_wrapper": True, "no_cfunc_wrapper": True}
_ENTRY: dict[str, Any] = {"error_model": "numpy", "nogil": True, "cache": True}


def _plain(kind: types.Type) -> types.Type:
    """Return the type that stands for all whole numbers, and constants, of its kind."""
    kind = types.unliteral(kind)
    return types.int64 if isinstance(kind, types.Integer) and kind.signed else kind


def _once(function: Any) -> Any:
    """Let a function be compiled once for all whole numbers, not anew for every constant handed to it."""
    if not hasattr(function, "get_call_template"):
        return function
    general = function.get_call_template

    def get_call_template(args: Any, kws: Any) -> Any:
        return general(tuple(_plain(kind) for kind in args), kws)

    function.get_call_template = get_call_template
    return function


def part(function: _Function) -> _Function:
    """Compile a function that only compiled functions call."""
    if PLAIN:
        return cast(_Function, numba.njit(**_WITHIN)(function))
    return cast(_Function, _once(numba.njit(pipeline_class=PartCompiler, **_WITHIN)(function)))


def rare(function: _Function) -> _Function:
    """Compile a part that most cases skip, or the short way does: it stays out of the way of what they do."""
    if PLAIN:
        return part(function)
    return cast(_Function, _once(numba.njit(pipeline_class=RareCompiler, **_WITHIN)(function)))


def entry(function: _Function) -> _Function:
    """Compile a function that Python calls: kept on disk, and free of Python's lock while it runs."""
    if PLAIN:
        return cast(_Function, numba.njit(**_ENTRY)(function))
    return cast(_Function, numba.njit(pipeline_class=EntryCompiler, **_ENTRY)(function))
