"""How the kernel's functions become one piece of machine code.

Left to itself Numba optimises every function together with all that it calls, and turns it into
machine code, before its callers are compiled: with some 300 functions the same work is done dozens
of times. Only the entries are ever called, so here all others are *parts*: they are typed and
lowered once, and an entry links them all, is optimised as a whole and becomes machine code.
"""

from collections.abc import Iterable
from typing import Any

import llvmlite.binding as llvm
from numba import _dynfunc
from numba.core.codegen import JITCodeLibrary
from numba.core.compiler import CompilerBase, DefaultPassBuilder
from numba.core.compiler_machinery import LoweringPass, register_pass
from numba.core.typed_passes import NativeLowering

# Calls of functions up to some dozens of lines are worth less than their bodies in place.
llvm.set_option("flowcore", "-inline-threshold=2500")


class _Part(JITCodeLibrary):
    """A function's code, only ever linked into an entry's."""

    def finalize(self) -> None:
        self._finalized = True


class _Whole(JITCodeLibrary):
    """An entry's code, with all the parts that it calls, directly or not."""

    def finalize(self) -> None:
        self._entrances = [function.name for function in self._final_module.functions if not function.is_declaration]
        self._linking_libraries = list(_with_their_own(self._linking_libraries))
        super().finalize()

    def _optimize_final_module(self) -> None:
        """Keep the parts to the entry alone, so that a part may be called in any way that is quick, then optimise."""
        for function in self._final_module.functions:
            if not function.is_declaration and function.name not in self._entrances:
                function.linkage = llvm.Linkage.internal
        super()._optimize_final_module()


def _with_their_own(libraries: Iterable[Any]) -> Iterable[Any]:
    """Yield libraries and what they link, each once."""
    seen = set()
    waiting = list(libraries)
    while waiting:
        library = waiting.pop()
        if library not in seen:
            seen.add(library)
            yield library
            waiting += library._linking_libraries if isinstance(library, _Part) else []


@register_pass(mutates_CFG=True, analysis_only=False)
class _Announce(LoweringPass):
    """Make a part known to its callers; it has no address of its own."""

    _name = "announce_part"

    def __init__(self) -> None:
        LoweringPass.__init__(self)

    def run_pass(self, state: Any) -> bool:
        lowered, context = state["cr"], state.targetctx
        sign = _dynfunc.make_function(
            lowered.fndesc.lookup_module(), lowered.fndesc.qualname, "", 0, lowered.env, (state.library,)
        )
        context.insert_user_function(sign, lowered.fndesc, [state.library])
        state["cr"] = lowered._replace(cfunc=sign)
        return True


class PartCompiler(CompilerBase):
    """Compiles a function that only compiled functions call."""

    def define_pipelines(self) -> list[Any]:
        """Return Numba's own passes, with no machine code at their end."""
        self.state.flags.no_compile = True
        self.state.library = _library(_Part, self.state)
        pipeline = DefaultPassBuilder.define_nopython_pipeline(self.state)
        pipeline.add_pass_after(_Announce, NativeLowering)
        pipeline.finalize()
        return [pipeline]


@register_pass(mutates_CFG=True, analysis_only=False)
class _KeepApart(LoweringPass):
    """Keep a part's body out of its callers, and far from what is hot."""

    _name = "keep_part_apart"

    def __init__(self) -> None:
        LoweringPass.__init__(self)

    def run_pass(self, state: Any) -> bool:
        function = state.library.get_function(state["cr"].fndesc.llvm_func_name)
        for attribute in ("noinline", "cold"):
            function.add_function_attribute(attribute)
        return True


class RareCompiler(PartCompiler):
    """Compiles a part that most cases skip."""

    def define_pipelines(self) -> list[Any]:
        """Return the passes of a part, and what keeps it apart."""
        (pipeline,) = super().define_pipelines()
        pipeline._finalized = False
        pipeline.add_pass_after(_KeepApart, NativeLowering)
        pipeline.finalize()
        return [pipeline]


class EntryCompiler(CompilerBase):
    """Compiles a function that Python calls."""

    def define_pipelines(self) -> list[Any]:
        """Return Numba's own passes, into a library that links all parts."""
        self.state.library = _library(_Whole, self.state)
        return [DefaultPassBuilder.define_nopython_pipeline(self.state)]


def _library(kind: type, state: Any) -> Any:
    library = kind(state.targetctx.codegen(), state.func_id.func_qualname)
    library.enable_object_caching()
    return library
