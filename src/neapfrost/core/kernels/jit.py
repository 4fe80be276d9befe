"""The one way in which kernels are compiled."""

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import njit, types

F = TypeVar("F", bound=Callable[..., Any])


def kernel(function: F) -> F:
    """Compile a function to machine code: cached on disk, run without the interpreter's lock.

    Such a function allocates no arrays, so that none of the arrays handed from one to the next is
    counted on the way; at some hundred thousand calls a lap the counting was half of the time.
    """
    return _compiled(function)


def leaf_kernel(function: F) -> F:
    """Compile a function as `kernel` does, and into each kernel that calls it.

    For what is asked at every step and has few callers: a call hands on some thirty words.
    """
    return _compiled(function, forceinline=True)


def _compiled(function: F, **options: bool) -> F:
    # Its type stubs do not know the option that turns the counting off.
    wanted: dict[str, Any] = {"_nrt": False, **options}
    compiler = njit(cache=True, nogil=True, error_model="numpy", **wanted)
    # To the type checker a compiled function is the function it was made from.
    return cast(F, _once_for_each_type(compiler(function)))


def _once_for_each_type(dispatcher: Any) -> Any:
    """Keep numba from compiling a function anew for each number written out where it is called.

    It would compile all that the function calls as well, so that most of the solver was compiled
    three to five times. The optimiser puts constants in where that pays.
    """
    if not hasattr(dispatcher, "compile"):
        return dispatcher  # numba has been told to leave functions as they are
    compile_for = dispatcher.compile
    unliteral: Callable[[Any], Any] = types.unliteral

    def compile_once(signature: Any) -> Any:
        if isinstance(signature, tuple):
            signature = tuple(unliteral(argument) for argument in signature)
        return compile_for(signature)

    dispatcher.compile = compile_once
    return dispatcher


def allocating_kernel(function: F) -> F:
    """Compile a function as `kernel` does, but one that makes arrays of its own."""
    compiler = njit(cache=True, nogil=True, error_model="numpy")
    return cast(F, _once_for_each_type(compiler(function)))


def plain(function: Callable[..., Any]) -> Callable[..., Any]:
    """The function that a kernel was made from, for whole arrays and for expressions."""
    made_from: Callable[..., Any] = getattr(function, "py_func", function)
    return made_from


def inlined(function: F) -> F:
    """Compile a small function into each kernel that calls it, which spares the call."""
    compiler = njit(cache=True, nogil=True, error_model="numpy", inline="always")
    return cast(F, compiler(function))
