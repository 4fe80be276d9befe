"""The one way in which kernels are compiled."""

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import njit

F = TypeVar("F", bound=Callable[..., Any])


def kernel(function: F) -> F:
    """Compile a function to machine code: cached on disk, run without the interpreter's lock."""
    # To the type checker a compiled function is the function it was made from.
    return cast(F, njit(cache=True, nogil=True, error_model="numpy")(function))


def inlined(function: F) -> F:
    """Compile a small function into each kernel that calls it, which spares the call."""
    compiler = njit(cache=True, nogil=True, error_model="numpy", inline="always")
    return cast(F, compiler(function))
