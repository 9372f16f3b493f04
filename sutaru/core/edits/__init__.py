"""Typed edits, the program's whole command list: ``apply(job, edit) -> job``, pure, refusing with a plain sentence."""

from .apply import apply, apply_to_template, label
from .kinds import (
    Accept,
    AddEdition,
    AddLayers,
    BringIn,
    ChooseLab,
    Clear,
    Edit,
    EnhanceAll,
    Fill,
    FindingName,
    KeepInView,
    Laid,
    Lay,
    LayoutEdit,
    Mark,
    MendOpening,
    MendPhoto,
    Nudge,
    Pin,
    Place,
    Put,
    PutAside,
    RemoveEdition,
    RemoveLayers,
    Rename,
    RenameEdition,
    Reopen,
    Restack,
    SetFields,
    SpanOver,
    Spot,
    Star,
    Swap,
    TakeCard,
    TakeOut,
    Unspan,
    Worked,
    Write,
)
from .layout import altered
from .whole import what_to_fill

__all__ = [
    "Accept", "AddEdition", "AddLayers", "BringIn", "ChooseLab", "Clear", "Edit", "EnhanceAll", "Fill", "FindingName",
    "KeepInView", "Laid", "Lay", "LayoutEdit", "Mark", "MendOpening", "MendPhoto", "Nudge", "Pin", "Place", "Put", "PutAside",
    "RemoveEdition", "RemoveLayers", "Rename", "RenameEdition", "Reopen", "Restack", "SetFields", "SpanOver", "Spot", "Star",
    "Swap", "TakeCard", "TakeOut", "Unspan", "Worked", "Write", "altered", "apply", "apply_to_template", "label", "what_to_fill",
]  # fmt: skip
