"""Typed edits, the program's whole command list: ``apply(job, edit) -> job``, pure, refusing with a plain sentence."""

from .apply import apply, label
from .kinds import (
    Alter,
    BringIn,
    ChooseLab,
    Clear,
    EchoTo,
    Edit,
    EnhanceAll,
    Fill,
    KeepInView,
    Mark,
    Mend,
    Nudge,
    Pin,
    Place,
    Put,
    RemoveEcho,
    Rename,
    SpanOver,
    Swap,
    TakeOut,
    Unspan,
    Worked,
    Write,
)

__all__ = [
    "Alter", "BringIn", "ChooseLab", "Clear", "EchoTo", "Edit", "EnhanceAll", "Fill", "KeepInView", "Mark", "Mend", "Nudge",
    "Pin", "Place", "Put", "RemoveEcho", "Rename", "SpanOver", "Swap", "TakeOut", "Unspan", "Worked", "Write", "apply",
    "label",
]  # fmt: skip
