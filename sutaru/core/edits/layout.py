"""Layout edits: Layout -> Layout. They know nothing of photos, so that they serve a template and a job's sheet alike."""

from collections.abc import Callable, Mapping, Sequence
from collections.abc import Set as AbstractSet
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..arranging import (
    Motion,
    aligned,
    carried,
    dissolved,
    distributed,
    gathered,
    layers_box,
    made_one,
    repeated,
    resized,
    same_size,
    split,
    turned,
)
from ..document import Echo, FillBox, Group, Layer, Layout, Opening, Text
from ..document.layout import walked
from ..errors import EditRefused, GeometryError, in_words
from ..fitting.reading import reading_order
from ..geometry import outlines
from ..geometry.matrices import apply as apply_matrix
from ..geometry.matrices import inverse
from .kinds import (
    AddLayers,
    Align,
    Become,
    Carry,
    Dissolve,
    Distribute,
    Gather,
    LayoutEdit,
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

_LAYER: TypeAdapter[Layer] = TypeAdapter(Layer)
_PLACE = {"outline", "surface", "centre", "width_mm", "height_mm", "turn_deg"}  # what a locked place keeps
MOST_ALONG = 20_000  # letters of the path that words run along
_FREE = {"name", "visible", "place_locked", "content_locked"}  # what no lock keeps


def altered(layout: Layout, edit: LayoutEdit, waiting: AbstractSet[str] = frozenset()) -> Layout:
    """The layout after an edit. Raises EditRefused with a plain sentence.

    ``waiting``: ids, beside those on the sheet, that no layer made by the edit takes.
    """
    try:
        making = _MAKING.get(type(edit))
        taken = layout.ids() | waiting
        changed = making(layout, edit, taken) if making else _ALTERED[type(edit)](layout, edit)
        known = {id(layer) for layer, _ in walked(layout.layers)}
        layers = tuple(_checked(layer, known) for layer in changed.layers)
        fields = {name: getattr(changed, name) for name in type(changed).model_fields} | {"layers": layers}
        return Layout(**{**fields, "order": _keep_order(layout, changed)})
    except ValidationError as error:
        raise refused(error) from None
    except GeometryError as error:
        raise EditRefused(error.sentence, error.remedy) from None


def _keep_order(before: Layout, now: Layout) -> tuple[str, ...]:
    """The order that leaves openings their numbers, whatever lies where in the stack now; new ones come after them."""
    stacked = tuple(leaf.id for leaf in now.leaves if isinstance(leaf, Opening))
    first = now.openings_by_id if now.order != before.order else before.openings_by_id  # unless the edit says one
    kept = tuple(dict.fromkeys((*(name for name in first if name in now.openings_by_id), *stacked)))
    return () if kept == stacked else kept


def _checked(layer: Layer, known: set[int]) -> Layer:
    """A layer with what is new in it read again, so that it holds no figure that it could not have been given."""
    if id(layer) in known:
        return layer
    if isinstance(layer, Group):
        return layer.having(layers=tuple(_checked(inner, known) for inner in layer.layers))
    return _LAYER.validate_python(layer.model_dump())


def refused(error: ValidationError) -> EditRefused:
    """A failed validation as a refusal: its first complaint."""
    return EditRefused(in_words(error.errors()[0]))


def _found(layout: Layout, identity: str) -> Layer:
    found = layout.find(identity)
    if found is None:
        raise EditRefused(f"There is no layer {identity} on this sheet.", "It may have been taken away meanwhile.")
    return found


def _mapped(layers: tuple[Layer, ...], changes: Mapping[str, Layer | None]) -> tuple[Layer, ...]:
    """A tree of layers with some replaced; None takes one away."""
    found: list[Layer] = []
    for layer in layers:
        fresh = changes.get(layer.id, layer)
        if fresh is layer and isinstance(layer, Group):
            inner = _mapped(layer.layers, changes)
            fresh = layer if inner == layer.layers else layer.having(layers=inner)
        if fresh is not None:
            found.append(fresh)
    return tuple(found)


def _set(layout: Layout, edit: SetFields) -> Layout:
    changes: dict[str, Layer | None] = {}
    for identity in dict.fromkeys(edit.layers):
        layer = _found(layout, identity)
        before = layer.model_dump(mode="json")
        for path, value in edit.expect.items():
            if _looked_up(before, path) != value:
                raise EditRefused(
                    f"{layer.name or identity} has been changed meanwhile.", "Look at it as it is now, and try again."
                )
        names = {path.split(".")[0] for path in edit.fields}
        place, content = _locks(layout, layer)
        if names & _PLACE and place and "place_locked" not in names:
            raise EditRefused(f"{layer.name or identity} is locked in its place.", "Unlock it, or its group, first.")
        if names - _PLACE - _FREE and content and "content_locked" not in names:
            raise EditRefused(f"{layer.name or identity} is locked.", "Unlock it, or its group, first.")
        unknown = names - type(layer).model_fields.keys() | names & {"id", "kind", "layers"}
        if unknown:
            raise EditRefused(f"{layer.name or identity} has nothing called {', '.join(sorted(unknown))} to set.")
        try:
            changes[identity] = _LAYER.validate_python(_with(before, edit.fields))
        except ValidationError as error:
            raise refused(error) from None
    return _with_layers(layout, changes)


def _with_layers(layout: Layout, changes: Mapping[str, Layer | None]) -> Layout:
    return layout.having(layers=_mapped(layout.layers, changes))


def _add(layout: Layout, edit: AddLayers) -> Layout:
    return layout.having(layers=_laid(layout, layout.layers, edit.layers, edit.group, edit.below))


def _locks(layout: Layout, layer: Layer) -> tuple[bool, bool]:
    """Whether place and content of a layer are locked, by itself or by a group it is in."""
    leaf = next((leaf for leaf in layout.leaves if leaf.id == layer.id), layer)
    return leaf.place_locked, leaf.content_locked


def _looked_up(data: Any, path: str) -> Any:
    for name in path.split("."):
        data = data.get(name) if isinstance(data, dict) else None
    return data


def _with(data: dict[str, Any], fields: dict[str, Any]) -> dict[str, Any]:
    """Plain data with fields set, each on its own; what a dotted path leads into is begun when it is not there."""
    found = dict(data)
    for path, value in fields.items():
        name, _, inner = path.partition(".")
        found[name] = {**(found.get(name) or {}), inner: value} if inner else value
    return found


def _laid(
    layout: Layout, layers: tuple[Layer, ...], fresh: tuple[Layer, ...], group: str | None, below: str | None
) -> tuple[Layer, ...]:
    """A tree of layers with more of them laid in: into a group or not, just below one of its layers, or on top."""
    if group is not None:
        into = next((layer for layer in _groups(layers) if layer.id == group), None)
        if into is None:
            raise EditRefused(f"There is no group {group} on this sheet.")
        return _mapped(layers, {group: into.having(layers=_laid(layout, into.layers, fresh, None, below))})
    if below is None:
        return (*layers, *fresh)
    at = next((n for n, layer in enumerate(layers) if layer.id == below), None)
    if at is None:
        holder = next((g for g in _groups(layers) if any(layer.id == below for layer in g.layers)), None)
        if holder is None:
            raise EditRefused(f"There is no layer {below} to lie below.", "It may have been taken away meanwhile.")
        return _mapped(layers, {holder.id: holder.having(layers=_laid(layout, holder.layers, fresh, None, below))})
    return (*layers[:at], *fresh, *layers[at:])


def _groups(layers: tuple[Layer, ...]) -> list[Group]:
    found: list[Group] = []
    for layer in layers:
        if isinstance(layer, Group):
            found += [layer, *_groups(layer.layers)]
    return found


def _remove(layout: Layout, edit: RemoveLayers) -> Layout:
    return _without(layout, edit.layers)


def _without(layout: Layout, identities: Sequence[str]) -> Layout:
    gone = set(identities)
    for identity in identities:
        found = _found(layout, identity)
        if isinstance(found, Group):
            gone |= {layer.id for layer, _ in walked(found.layers)}
    gone |= {leaf.id for leaf in layout.leaves if isinstance(leaf, Echo) and leaf.of in gone}
    return _with_layers(layout, dict.fromkeys(gone, None))


def _restack(layout: Layout, edit: Restack) -> Layout:
    moved = _found(layout, edit.layer)
    inside = {layer.id for layer, _ in walked(moved.layers)} if isinstance(moved, Group) else set()
    if {edit.group, edit.below} & (inside | {edit.layer}):
        raise EditRefused("A group cannot be moved into itself.", "Choose a place outside it.")
    rest = _mapped(layout.layers, {edit.layer: None})
    return layout.having(layers=_laid(layout, rest, (moved,), edit.group, edit.below))


def _movable(layout: Layout, identities: Sequence[str]) -> list[Layer]:
    """Layers by id, none of them locked in its place, none within another. Raises EditRefused."""
    found = [_found(layout, identity) for identity in dict.fromkeys(identities)]
    for layer in found:
        inside = [layer, *(inner for inner, _ in walked(layer.layers))] if isinstance(layer, Group) else [layer]
        if any(_locks(layout, inner)[0] for inner in inside):
            raise EditRefused(f"{layer.name or layer.id} is locked in its place.", "Unlock it, or its group, first.")
        if isinstance(layer, Group) and {inner.id for inner in inside[1:]} & set(identities):
            raise EditRefused("A group was selected together with what lies in it.", "Select the group alone.")
    return found


def _replaced(layout: Layout, layers: Sequence[Layer]) -> Layout:
    return _with_layers(layout, {layer.id: layer for layer in layers})


def _carry(layout: Layout, edit: Carry) -> Layout:
    layers = _movable(layout, edit.layers)
    about = edit.about
    if about is None:
        placed = [layer for layer in layers if not isinstance(layer, Echo)]
        box = layers_box(placed) if placed else None
        about = ((box.left + box.right) / 2, (box.top + box.bottom) / 2) if box else (0.0, 0.0)
    motion = Motion(about, edit.by, edit.turn_deg, edit.mirror, edit.scale, edit.skew_deg)
    return _replaced(layout, [carried(layer, motion) for layer in layers])


def _align(layout: Layout, edit: Align) -> Layout:
    return _replaced(layout, aligned(layout, _movable(layout, edit.layers), edit.edge, edit.to, edit.line_mm))


def _distribute(layout: Layout, edit: Distribute) -> Layout:
    return _replaced(layout, distributed(_movable(layout, edit.layers), edit.axis, edit.by, edit.gap_mm))


def _same_size(layout: Layout, edit: SameSize) -> Layout:
    return _replaced(layout, same_size(_movable(layout, edit.layers), edit.side))


def _above(layout: Layout, layer: str, fresh: Sequence[Layer]) -> Layout:
    """Layers laid just above another one, in whatever group that lies."""

    def laid(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        found: list[Layer] = []
        for entry in layers:
            if isinstance(entry, Group):
                inner = laid(entry.layers)
                entry = entry if inner == entry.layers else entry.having(layers=inner)
            found += [entry, *fresh] if entry.id == layer else [entry]
        return tuple(found)

    return layout.having(layers=laid(layout.layers))


def _uppermost(layout: Layout, identities: Sequence[str]) -> str:
    return [layer.id for layer, _ in walked(layout.layers) if layer.id in set(identities)][-1]


def _repeat(layout: Layout, edit: Repeat, taken: set[str]) -> Layout:
    layers = _movable(layout, edit.layers)
    stacked = [layer for layer, _ in walked(layout.layers) if any(layer is one for one in layers)]
    fresh = repeated(stacked, edit.columns, edit.rows, edit.step_mm, taken, edit.names)
    upper = _uppermost(layout, edit.layers)
    return _above(layout, _siblings(layout.layers, upper)[-1].id if edit.on_top else upper, fresh)


def _siblings(layers: tuple[Layer, ...], identity: str) -> tuple[Layer, ...]:
    """The layers among which one lies, itself too: those of its group, or of the sheet."""
    within = [group.layers for group in _groups(layers) if any(layer.id == identity for layer in group.layers)]
    return within[0] if within else layers


def _opening(layout: Layout, identity: str) -> Opening:
    found = _found(layout, identity)
    if not isinstance(found, Opening):
        raise EditRefused(f"{found.name or identity} is not an opening.", "Choose openings.")
    return found


def _split(layout: Layout, edit: SplitOpening, taken: set[str]) -> Layout:
    _movable(layout, (edit.opening,))
    first, *others = split(_opening(layout, edit.opening), edit.columns, edit.rows, edit.gap_mm, taken)
    return _above(_replaced(layout, [first]), first.id, others)


def _make_one(layout: Layout, edit: MakeOne, taken: set[str]) -> Layout:
    _movable(layout, edit.openings)
    chosen = list(dict.fromkeys(edit.openings))
    one = made_one([_opening(layout, identity) for identity in chosen], taken)
    order = tuple(one.id if identity == chosen[0] else identity for identity in layout.openings_by_id)
    return _without(_above(layout, _uppermost(layout, chosen), [one]), chosen).having(order=order)


def _become(layout: Layout, edit: Become) -> Layout:
    changes: dict[str, Layer | None] = {}
    for identity in dict.fromkeys(edit.layers):
        layer = _found(layout, identity)
        if not isinstance(layer, Opening | FillBox):
            raise EditRefused(f"{layer.name or identity} is neither an opening nor a shape.", "Choose shapes.")
        if any(_locks(layout, layer)):
            raise EditRefused(f"{layer.name or identity} is locked.", "Unlock it, or its group, first.")
        if any(isinstance(leaf, Echo) and leaf.of == identity for leaf in layout.leaves):
            raise EditRefused("An echo shows this opening again.", "Take the echo away first.")
        fields: dict[str, Any] = {
            "id": layer.id, "name": layer.name, "visible": layer.visible, "opacity": layer.opacity, "blend": layer.blend,
            "outline": layer.outline, "surface": layer.surface,
        }  # fmt: skip
        changes[identity] = Opening(**fields) if edit.kind == "opening" else FillBox(**fields, colour="#d8d8d8")
        if layer.kind == edit.kind:
            changes[identity] = layer
    return _with_layers(layout, changes)


def _run_along(layout: Layout, edit: RunAlong) -> Layout:
    text, shape = _found(layout, edit.text), _found(layout, edit.of)
    if not isinstance(text, Text) or not isinstance(shape, Opening | FillBox):
        raise EditRefused("Words run along an opening or a shape.", "Choose words, and one of these.")
    if _locks(layout, text)[1]:
        raise EditRefused(f"{text.name or text.id} is locked.", "Unlock it, or its group, first.")
    edge = outlines.line_along(shape.outline.path_data())
    onto = shape.surface.page_from_opening(shape.outline)
    on_page = onto.apply(edge if onto.matrix is not None else outlines.cut_short(edge, 1.0))
    line = apply_matrix(inverse(text.page_from_box), on_page).round(3).tolist()
    along = "M" + "L".join(f"{x:g} {y:g}" for x, y in line)
    if len(along) > MOST_ALONG:
        raise EditRefused("This edge has too many curves to write along.", "Draw a simpler one.")
    return _with_layers(layout, {text.id: text.having(along=along, bend_deg=0.0)})


def _gather(layout: Layout, edit: Gather, taken: set[str]) -> Layout:
    meant = set(edit.layers)
    layers = [layer for layer, _ in walked(layout.layers) if layer.id in meant]
    if len(layers) < len(meant):
        raise EditRefused("One of these layers is not on this sheet.", "It may have been taken away meanwhile.")
    _movable(layout, edit.layers)
    top = next(layer.id for layer in reversed(layout.layers) if meant & {inner.id for inner, _ in walked((layer,))})
    group, found = gathered(layers, edit.name, taken), list[Layer]()
    for layer in layout.layers:
        kept = _mapped((layer,), dict.fromkeys(meant, None))
        found += [*kept, group] if layer.id == top else kept
    return layout.having(layers=tuple(found))


def _dissolve(layout: Layout, edit: Dissolve) -> Layout:
    for identity in dict.fromkeys(edit.groups):
        group = _found(layout, identity)
        if not isinstance(group, Group):
            raise EditRefused(f"{group.name or identity} is not a group.", "Choose groups.")
        layout = _without_group(layout, group)
    return layout


def _without_group(layout: Layout, group: Group) -> Layout:
    def opened(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        found: list[Layer] = []
        for layer in layers:
            if layer.id == group.id:
                found += dissolved(group)
            elif isinstance(layer, Group):
                found.append(layer.having(layers=opened(layer.layers)))
            else:
                found.append(layer)
        return tuple(found)

    return layout.having(layers=opened(layout.layers))


def _turn_sheet(layout: Layout, edit: TurnSheet) -> Layout:
    return turned(layout, edit.how)


def _resize_sheet(layout: Layout, edit: ResizeSheet) -> Layout:
    return resized(layout, edit.width_mm, edit.height_mm, edit.how)


def _set_sheet(layout: Layout, edit: SetSheet) -> Layout:
    names = {path.split(".")[0] for path in edit.fields}
    unknown = names - Layout.model_fields.keys() | names & {"layers", "order"}
    if unknown:
        raise EditRefused(f"A sheet has nothing called {', '.join(sorted(unknown))} to set.")
    plain = {name: value for name, value in layout.model_dump(mode="json").items() if name in names}
    said = Layout.model_validate({**_fields(layout), **_with(plain, edit.fields)})
    return layout.having(**{name: getattr(said, name) for name in names})


def _fields(layout: Layout) -> dict[str, Any]:
    return {name: getattr(layout, name) for name in type(layout).model_fields}


def _renumber(layout: Layout, edit: Renumber) -> Layout:
    order = edit.order if edit.order is not None else tuple(opening.id for opening in reading_order(layout))
    unknown = [identity for identity in order if identity not in layout.openings_by_id]
    if unknown:
        raise EditRefused(f"There is no opening {unknown[0]} on this sheet.", "It may have been taken away meanwhile.")
    return layout.having(order=tuple(dict.fromkeys((*order, *layout.openings_by_id))))


_ALTERED: dict[type[Any], Callable[[Layout, Any], Layout]] = {
    AddLayers: _add, RemoveLayers: _remove, Restack: _restack, SetFields: _set, Carry: _carry, Align: _align,
    Distribute: _distribute, SameSize: _same_size, Become: _become, RunAlong: _run_along, Dissolve: _dissolve,
    TurnSheet: _turn_sheet, ResizeSheet: _resize_sheet, SetSheet: _set_sheet, Renumber: _renumber,
}  # fmt: skip
_MAKING: dict[type[Any], Callable[[Layout, Any, set[str]], Layout]] = {
    Repeat: _repeat, SplitOpening: _split, MakeOne: _make_one, Gather: _gather,
}  # fmt: skip
