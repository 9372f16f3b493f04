"""Functions that run over every pixel, compiled by numba for the processor that they run on and loaded without it.

numba takes most of a second and 120 MB to import, so it is asked once a machine: what it made, an object file, is kept beside
the source or in the user's cache, and LLVM alone loads it (40 ms, and memory that processes share). Where neither folder can be
written to, each process compiles for itself.
"""

import ctypes
import hashlib
import inspect
import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from threading import Lock
from types import FunctionType
from typing import Any, Generic, ParamSpec

import numpy as np

P = ParamSpec("P")
_LOCK = Lock()
_HELPERS: set[Callable[..., Any]] = set()
_CACHE = os.environ.get("XDG_CACHE_HOME") or os.path.expanduser("~/.cache")
_USER_CACHE = Path(_CACHE) / "sutaru"  # begins with ~ where a user has no home: then it is passed over
_KINDS = {"int64": ctypes.c_int64}  # of what is no array


def helper(work: Callable[P, Any]) -> Callable[P, Any]:
    """Mark a function that compiled functions of the same module call: it is compiled into them."""
    _HELPERS.add(work)
    return work


def compile_for(*signatures: str) -> Callable[[Callable[P, None]], "Compiled[P]"]:
    """Compile a function for each of these signatures when it is first called with it, or by ``load``.

    A signature names a parameter each, as ``"uint8 3, float32 1, int64"``: arrays by kind and number of dimensions (contiguous,
    in C's order), else a number. The function gives nothing back, allocates nothing and raises nothing: room to work in is
    handed to it. Other threads go on meanwhile.
    """
    return lambda work: Compiled(work, [tuple(part.strip() for part in text.split(",")) for text in signatures])


class Compiled(Generic[P]):
    """A compiled function."""

    def __init__(self, work: Callable[P, None], signatures: list[tuple[str, ...]]) -> None:
        self._work, self._signatures = work, signatures
        self._loaded: dict[tuple[str, ...], Callable[..., None]] = {}
        self.__doc__ = work.__doc__

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> None:
        """Run it. Raises TypeError when the arguments have no signature of it."""
        signature = tuple(_describe(value) for value in args)
        run = self._loaded.get(signature) or self._load(signature)
        flat: list[Any] = []
        for value in args:
            flat += [value.ctypes.data, *value.shape] if isinstance(value, np.ndarray) else [value]
        run(*flat)

    def load(self) -> None:
        """Load it for all its signatures, compiling what was not compiled on this machine before."""
        for signature in self._signatures:
            if signature not in self._loaded:
                self._load(signature)

    def _load(self, signature: tuple[str, ...]) -> Callable[..., None]:
        if signature not in self._signatures:
            raise TypeError(f"{self._work.__name__} takes {self._signatures}, not {signature}.")
        with _LOCK:
            if signature not in self._loaded:
                self._loaded[signature] = _function(_object_file(self._work, signature), signature)
        return self._loaded[signature]


def _describe(value: object) -> str:
    """The part of a signature that a value has."""
    if not isinstance(value, np.ndarray):
        return "int64"
    return f"{value.dtype.name} {value.ndim}" if value.flags.c_contiguous else "not contiguous"


def _object_file(work: Callable[..., None], signature: tuple[str, ...]) -> bytes:
    """What ``_compile`` makes of a function: kept, else made now and kept where that is possible."""
    import llvmlite.binding as llvm
    from llvmlite import __version__ as version

    source = Path(inspect.getfile(work))
    parts = (source.read_text("utf-8"), Path(__file__).read_text("utf-8"), version, llvm.get_host_cpu_name(),
            llvm.get_host_cpu_features().flatten(), str(signature))  # fmt: skip
    key = hashlib.sha256("\0".join(parts).encode()).hexdigest()[:24]
    folders = [folder for folder in (source.parent / "__pycache__", _USER_CACHE) if folder.is_absolute()]
    name = f"{source.stem}.{work.__name__}"
    for folder in folders:
        try:
            return (folder / f"{name}.{key}.object").read_bytes()
        except OSError:
            continue
    code = _compile(work, signature)
    for folder in folders:
        try:
            _keep(folder / f"{name}.{key}.object", code)
            break
        except OSError:
            continue
    return code


def _keep(target: Path, code: bytes) -> None:
    """Write an object file, whole or not at all, for others to load. Raises OSError."""
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, unfinished = tempfile.mkstemp(dir=target.parent, prefix=f"{target.stem}.", suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(code)
        os.replace(unfinished, target)
    except OSError:
        os.unlink(unfinished)
        raise


def _compile(work: Callable[..., None], signature: tuple[str, ...]) -> bytes:
    """A line with the name that a function has in its object file and the names that this asks for; then the object file."""
    import numba

    numba.config.SLP_VECTORIZE = 1  # numbers side by side, as of a pixel, are worked out at once
    names = {**work.__globals__}
    for name, value in list(names.items()):
        if inspect.isfunction(value) and value in _HELPERS:
            plain = FunctionType(value.__code__, names, name, value.__defaults__)
            names[name] = numba.njit(error_model="numpy")(plain)
    plain = FunctionType(work.__code__, names, work.__name__)
    parameters, values, kinds = [], [], []
    for n, part in enumerate(signature):
        kind, _, dimensions = part.partition(" ")
        number = getattr(numba.types, kind)
        if dimensions:
            sides = [f"s{n}_{d}" for d in range(int(dimensions))]
            parameters += [f"p{n}", *sides]
            values.append(f"carray(p{n}, ({', '.join(sides)},))")
            kinds += [numba.types.CPointer(number), *[numba.types.int64] * len(sides)]
        else:
            parameters.append(f"p{n}")
            values.append(f"p{n}")
            kinds.append(number)
    inner: dict[str, Any] = {"carray": numba.carray, "work": numba.njit(error_model="numpy")(plain)}
    exec(f"def {work.__name__}({', '.join(parameters)}):\n    work({', '.join(values)})", inner)
    compiled = numba.cfunc(numba.types.void(*kinds), error_model="numpy")(inner[work.__name__])
    module = compiled._library._final_module
    outer = [part.name for part in (*module.functions, *module.global_variables) if part.is_declaration]
    head = " ".join([compiled.native_name, *(name for name in outer if not name.startswith("llvm."))])
    return head.encode() + b"\n" + compiled._library._get_compiled_object()


def _function(code: bytes, signature: tuple[str, ...]) -> Callable[..., None]:
    """What an object file holds, as something to call: an address and the sides for each array, numbers as they are."""
    import llvmlite.binding as llvm

    head, _, data = code.partition(b"\n")
    name, *outer = head.decode().split()
    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()
    for argument in outer:
        # What numba would do with arrays of its own and with exceptions, of which there are none.
        if llvm.address_of_symbol(argument) is None:
            llvm.add_symbol(argument, ctypes.cast(ctypes.CDLL(None).abort, ctypes.c_void_p).value)
    machine = llvm.Target.from_default_triple().create_target_machine(jit=True)
    engine = llvm.create_mcjit_compiler(llvm.parse_assembly(""), machine)
    engine.add_object_file(llvm.ObjectFileRef.from_data(data))
    engine.finalize_object()
    kinds: list[Any] = []
    for part in signature:
        kind, _, dimensions = part.partition(" ")
        kinds += [ctypes.c_void_p, *[ctypes.c_int64] * int(dimensions)] if dimensions else [_KINDS[kind]]
    run = ctypes.CFUNCTYPE(None, *kinds)(engine.get_function_address(name))
    run.engine = engine  # type: ignore[attr-defined]  # lives as long
    return run
