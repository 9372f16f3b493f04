"""The edits there are, each a Pydantic model told apart by ``op``: the program's whole command list.

Layout edits change a layout, on a job's sheet as in a template. Filling edits change what lies on one sheet in one
edition. Job edits change sheets, pile, editions, lab sheet and names. An edit may say what it expects to find (a photo, a
value); when that is there no more it is refused.
"""

from typing import Annotated

from pydantic import Field

from .book import AddPages, ChangeLayout, ComposeSheet, Dress, LayBook, LayGround, MovePhoto, SetBook
from .filling import (
    Accept,
    Clear,
    FindingName,
    KeepInView,
    MendOpening,
    Nudge,
    Pin,
    Place,
    Put,
    Reopen,
    RetouchOpening,
    SpanOver,
    Unspan,
    Write,
)
from .job import (
    AddEdition,
    AddSheet,
    BringFont,
    BringIn,
    ChooseLab,
    ChooseVariant,
    CopySheet,
    Describe,
    EnhanceAll,
    Fill,
    Laid,
    Lay,
    MakeSet,
    Mark,
    MendPhoto,
    MoveSheets,
    PutAside,
    RemoveEdition,
    RemoveSheet,
    Rename,
    RenameEdition,
    RenameSheet,
    ReplacePhotos,
    RetouchPhoto,
    Say,
    SetCalendar,
    SetCopies,
    SetStyle,
    SetSwatch,
    SettleRemark,
    Spot,
    Star,
    Swap,
    SwapSheets,
    TakeCard,
    TakeList,
    TakeOut,
    TakeOver,
    TakeRemarks,
    TurnCard,
    Variant,
    Worked,
)
from .layout import (
    AddLayers,
    Align,
    Become,
    Carry,
    Dissolve,
    Distribute,
    Gather,
    MakeOne,
    RemoveLayers,
    Renumber,
    Repeat,
    ResizeSheet,
    Restack,
    RunAlong,
    SameSize,
    SetFields,
    SetSheet,
    SplitOpening,
    TurnSheet,
)

LAYOUT_EDITS = (AddLayers, RemoveLayers, Restack, SetFields, Carry, Align, Distribute, SameSize, Repeat, SplitOpening,
                MakeOne, Become, RunAlong, Gather, Dissolve, TurnSheet, ResizeSheet, SetSheet, Renumber)  # fmt: skip
FILLING_EDITS = (
    Put,
    Place,
    Clear,
    Pin,
    KeepInView,
    SpanOver,
    Unspan,
    Nudge,
    Write,
    MendOpening,
    RetouchOpening,
    Accept,
    Reopen,
)
LayoutEdit = Annotated[
    AddLayers | RemoveLayers | Restack | SetFields | Carry | Align | Distribute | SameSize | Repeat | SplitOpening
    | MakeOne | Become | RunAlong | Gather | Dissolve | TurnSheet | ResizeSheet | SetSheet | Renumber,
    Field(discriminator="op"),
]  # fmt: skip
FillingEdit = Annotated[
    Put
    | Place
    | Clear
    | Pin
    | KeepInView
    | SpanOver
    | Unspan
    | Nudge
    | Write
    | MendOpening
    | RetouchOpening
    | Accept
    | Reopen,
    Field(discriminator="op"),
]
JobEdit = Annotated[
    ReplacePhotos
    | Swap | Fill | Lay | MendPhoto | RetouchPhoto
    | BringIn | TakeOut | Mark | Worked | Star | PutAside | EnhanceAll | ChooseLab | Rename
    | AddEdition | RenameEdition | RemoveEdition | AddSheet | RemoveSheet | RenameSheet | MoveSheets | SwapSheets
    | CopySheet | SetSwatch
    | SetStyle | BringFont | Say | SetCalendar | TakeCard | TakeList | TurnCard | Describe
    | SetBook | AddPages | LayBook | Dress | LayGround | ChangeLayout | ComposeSheet | MovePhoto
    | TakeRemarks | SettleRemark | SetCopies | MakeSet | TakeOver | ChooseVariant,
    Field(discriminator="op"),
]  # fmt: skip
Edit = Annotated[LayoutEdit | FillingEdit | JobEdit, Field(discriminator="op")]

__all__ = [
    "FILLING_EDITS",
    "LAYOUT_EDITS",
    "Accept",
    "AddEdition",
    "AddLayers",
    "AddPages",
    "AddSheet",
    "Align",
    "Become",
    "BringFont",
    "BringIn",
    "Carry",
    "ChangeLayout",
    "ChooseLab",
    "ChooseVariant",
    "Clear",
    "ComposeSheet",
    "CopySheet",
    "Describe",
    "Dissolve",
    "Distribute",
    "Dress",
    "Edit",
    "EnhanceAll",
    "Fill",
    "FillingEdit",
    "FindingName",
    "Gather",
    "JobEdit",
    "KeepInView",
    "Laid",
    "Lay",
    "LayBook",
    "LayGround",
    "LayoutEdit",
    "MakeOne",
    "MakeSet",
    "Mark",
    "MendOpening",
    "MendPhoto",
    "MovePhoto",
    "MoveSheets",
    "Nudge",
    "Pin",
    "Place",
    "Put",
    "PutAside",
    "RemoveEdition",
    "RemoveLayers",
    "RemoveSheet",
    "Rename",
    "RenameEdition",
    "RenameSheet",
    "Renumber",
    "Reopen",
    "Repeat",
    "ReplacePhotos",
    "ResizeSheet",
    "Restack",
    "RetouchOpening",
    "RetouchPhoto",
    "RunAlong",
    "SameSize",
    "Say",
    "SetBook",
    "SetCalendar",
    "SetCopies",
    "SetFields",
    "SetSheet",
    "SetStyle",
    "SetSwatch",
    "SettleRemark",
    "SpanOver",
    "SplitOpening",
    "Spot",
    "Star",
    "Swap",
    "SwapSheets",
    "TakeCard",
    "TakeList",
    "TakeOut",
    "TakeOver",
    "TakeRemarks",
    "TurnCard",
    "TurnSheet",
    "Unspan",
    "Variant",
    "Worked",
    "Write",
]  # fmt: skip
