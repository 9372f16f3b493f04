"""The command line's door: a command is read and run; errors go to stderr in one sentence, exit code 2.

What a command needs is imported when it runs, so that asking costs nothing.
"""

import io
import os
import sys
from collections.abc import Sequence
from importlib import import_module

from .grammar import parser

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # it would look for them among all packages


def main(argv: Sequence[str] | None = None) -> int:
    """Runs a command; its exit code."""
    for stream in (sys.stdout, sys.stderr):  # a file's name may be no text
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    args = parser().parse_args(argv)
    from ..core.errors import SutaruError

    module, _, name = args.run.partition(".")
    try:
        return int(getattr(import_module(f".{module}", __package__), name)(args))
    except SutaruError as error:
        print(f"sutaru: {error}", file=sys.stderr)
    except BrokenPipeError:  # whoever was told does not listen any more
        sys.stdout = open(os.devnull, "w")  # noqa: SIM115
    except OSError as error:
        print(f"sutaru: {error.strerror or error}: {error.filename or ''}", file=sys.stderr)
    except KeyboardInterrupt:
        print("sutaru: stopped.", file=sys.stderr)
    except MemoryError:
        print(
            "sutaru: This needs more memory than there is now. Close other programs and run it again.", file=sys.stderr
        )
    except Exception as error:
        if os.environ.get("SUTARU_TRACE"):
            raise
        sentence = _validation(error) or "This failed in a way that nobody foresaw."
        print(f"sutaru: {sentence} Run it with SUTARU_TRACE=1 to see where.", file=sys.stderr)
    return 2


def _validation(error: Exception) -> str:
    """What is wrong with what was asked, when that is what an error says; "" else."""
    from pydantic import ValidationError

    from ..core.errors import describe_complaint

    return describe_complaint(error.errors()[0]) if isinstance(error, ValidationError) else ""
