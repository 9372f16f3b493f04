"""Applying edits. Every function takes a job and gives a new one, or raises EditRefused and changes nothing."""

from collections.abc import Callable
from typing import Any

from ..document import Job
from ..fitting import in_register
from . import asked, kinds, pages, pile, putting
from .kinds import Edit

_APPLY: dict[type[Any], Callable[[Job, Any], Job]] = {
    kinds.BringIn: pile.bring_in, kinds.TakeOut: pile.take_out, kinds.Mark: pile.mark, kinds.Worked: pile.worked,
    kinds.Mend: pile.mend, kinds.EnhanceAll: pile.enhance_all,
    kinds.Put: putting.put, kinds.Place: putting.place, kinds.Swap: putting.swap, kinds.Clear: putting.clear,
    kinds.Fill: putting.fill, kinds.Pin: putting.pin, kinds.KeepInView: putting.keep_in_view,
    kinds.SpanOver: putting.span, kinds.Unspan: putting.unspan, kinds.Nudge: putting.nudge,
    kinds.Alter: pages.alter, kinds.EchoTo: pages.echo, kinds.RemoveEcho: pages.remove_echo,
    kinds.Write: pages.write, kinds.ChooseLab: pages.choose_lab, kinds.Rename: pages.rename,
}  # fmt: skip


def apply(job: Job, edit: Edit) -> Job:
    """The job after an edit. Raises EditRefused with a plain sentence, and then nothing has changed."""
    return in_register(_APPLY[type(edit)](job, edit))


def label(job: Job, edit: Edit) -> str:
    """What the edit does, in a few words, for undo and redo."""
    order = list(job.openings_by_id)

    def number(identity: str) -> str:
        return str(order.index(identity) + 1)

    def numbers(identities: tuple[str, ...]) -> str:
        return ", ".join(number(o) for o in identities)

    def photos(count: int) -> str:
        return f"{count} photo{'s' if count > 1 else ''}"

    match edit:
        case kinds.BringIn():
            return f"bring in {photos(len(edit.photos))}"
        case kinds.TakeOut():
            return f"take out {photos(len(edit.photos))}"
        case kinds.Mark():
            return f"mark what to keep of {asked.photo(job, edit.photo).name}"
        case kinds.Worked():
            return f"say that {photos(len(edit.photos))} {'was' if edit.worked else 'was not'} worked on"
        case kinds.Mend():
            return f"mend {number(edit.opening) if edit.opening else asked.photo(job, edit.photo or '').name}"
        case kinds.EnhanceAll():
            return f"switch enhancing {'on' if edit.on else 'off'}"
        case kinds.Put():
            return f"put a photo into {number(edit.opening)}"
        case kinds.Place():
            return f"fit {number(edit.opening)}"
        case kinds.Swap():
            return f"swap {number(edit.first)} and {number(edit.second)}"
        case kinds.Clear():
            return f"clear {numbers(edit.openings)}"
        case kinds.Fill():
            what = "the empty openings" if edit.only_empty else f"{numbers(edit.openings or ())}" or "all openings"
            return f"fill {what}{' in order' if edit.how == 'order' else ''}"
        case kinds.Pin():
            return f"{'pin' if edit.pinned else 'unpin'} {numbers(edit.openings)}"
        case kinds.KeepInView():
            return f"bring into view in {numbers(edit.openings)}"
        case kinds.SpanOver():
            return f"run a photo through {numbers(edit.openings)}"
        case kinds.Unspan():
            return f"end the span of {number(edit.opening)}"
        case kinds.Nudge():
            return f"nudge {number(edit.opening)}"
        case kinds.Alter():
            what = "lay" if edit.layer.surface != job.openings_by_id[edit.layer.id].surface else "dress"
            return f"{what} {number(edit.layer.id)}"
        case kinds.EchoTo():
            return f"echo {number(edit.layer.of)}"
        case kinds.RemoveEcho():
            return "remove an echo"
        case kinds.Write():
            return f"write {asked.text(job, edit.layer).name or edit.layer}"
        case kinds.ChooseLab():
            return f"choose {edit.lab.name}"
        case _:
            return f"rename to {edit.name}"
