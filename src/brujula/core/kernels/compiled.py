"""How every kernel is compiled."""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

import numpy as np
from numba import from_dtype, njit, types
from numba.core.typing.templates import Signature

from brujula.core.kernels import ready

_T = TypeVar("_T", bound=np.generic)
Table = np.ndarray[tuple[int, int], np.dtype[_T]]
"""An array of rows."""
_at_once = False
if not ready.looked:  # the library was imported; a command has looked before, and said it its own way
    ready.compile_kernels(logging.getLogger("brujula").warning)
_Made = Callable[[Callable[..., Any]], Any]


def compiled(signature: str | Signature) -> _Made:
    """Compile a loop for one signature: kept on disk, run without the interpreter lock, a division by zero no error.

    A kernel allocates nothing, its caller gives it scratch: then arrays need no counting of references (`_nrt`). That counting is
    an atomic operation a call, on a place all threads share: it took half the time of comparing, and made the threads wait for each other.
    """

    def made(function: Callable[..., Any]) -> Any:
        kernel = _kernel(function, uncallable=False)
        kernel.compile(signature)
        kernel.disable_compile()
        return kernel

    return made


def inner(signature: str | Signature) -> _Made:
    """As `compiled`, for what only kernels call. Python cannot call it (the process dies): making that possible is a seventh of compiling.

    Kernels that lie in the cache hold the code of what they call, so it is loaded only when one that calls it is compiled (but `at_once`).
    """

    def made(function: Callable[..., Any]) -> Any:
        kernel = _kernel(function, uncallable=True)
        compile_for = kernel.compile

        def as_declared(_: Any) -> None:
            kernel.compile = compile_for
            compile_for(signature)
            kernel.disable_compile()

        kernel.compile = as_declared  # numba would compile it for the types of each call, which need not be the declared ones
        if _at_once:
            as_declared(None)
        return kernel

    return made


def _kernel(function: Callable[..., Any], uncallable: bool) -> Any:
    """A kernel that no signature is compiled of yet."""
    options: dict[str, Any] = {
        "cache": True,
        "nogil": True,
        "error_model": "numpy",
        "_nrt": False,
        "no_cfunc_wrapper": True,
        "no_cpython_wrapper": uncallable,
    }
    kernel: Any = njit(**options)(function)
    _drop_outdated(Path(function.__code__.co_filename).parent, Path(kernel.stats.cache_path))
    return kernel


@cache
def _drop_outdated(sources: Path, kept: Path) -> None:
    """Empties the cache of a directory's kernels where any of its files changed since they were compiled.

    numba asks whether the file changed that a kernel stands in, and not those of the kernels whose code it holds as well: after an
    update it would go on computing what the version before it did.
    """
    found, compiled_from = ready.of_sources(sources), kept / "compiled-from"
    if compiled_from.is_file() and compiled_from.read_text("ascii") == found:
        return
    for path in kept.glob("*.nbi"):
        path.unlink(missing_ok=True)
    compiled_from.write_text(found, "ascii")


def at_once() -> None:
    """From here on what only kernels call is compiled where it is defined: two processes that compile keep out of each other's way by that."""
    global _at_once
    _at_once = True


def record_type(record: type) -> types.NamedTuple:
    """What signatures call a named tuple of numbers and arrays: an `NDArray` has one dimension, a `Table` two."""
    return types.NamedTuple([_type_of(hint) for hint in get_type_hints(record).values()], record)


def _type_of(hint: Any) -> types.Type:
    if hasattr(alias := get_origin(hint), "__value__"):  # `NDArray` is a type statement from numpy 2.5 on
        hint = alias.__value__[get_args(hint)]
    if get_origin(hint) is not np.ndarray:
        return from_dtype(np.dtype(hint))
    shape, dtype = get_args(hint)
    dimensions = 2 if get_args(shape) == (int, int) else 1
    return types.Array(from_dtype(np.dtype(get_args(dtype)[0])), dimensions, "C")
