"""Layout edits: Layout -> Layout. They know nothing of photos, so that they serve a template and a job's sheet alike."""

from collections.abc import Callable, Mapping
from collections.abc import Set as AbstractSet
from typing import Any

from pydantic import ConfigDict, TypeAdapter, ValidationError

from ..arranging.aligning import align_layers, distribute_layers, layers_box, same_size
from ..arranging.moving import Motion, carry_layer
from ..arranging.new_layers import make_group, merge_openings, repeat_layers, split
from ..arranging.sheet_rotation import rotate_sheet
from ..arranging.sizing import resize_layout
from ..document import Echo, FillBox, Group, Layer, Layout, Opening, Text
from ..document.layout import walk_layers
from ..errors import EditRefused, GeometryError, describe_complaint
from ..fitting.reading_order import reading_order
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
from .layer_tree import (
    find_layer,
    insert_above,
    insert_layers,
    locks_of,
    movable_layers,
    open_group,
    remove_layers,
    replace_in_tree,
    replace_layers,
    replace_layers_by_id,
    siblings_of,
    uppermost,
)
from .naming import Namer, count
from .table import EditRule, Table

_LAYER: TypeAdapter[Layer] = TypeAdapter(Layer, config=ConfigDict(defer_build=True))
_PLACE = {"outline", "surface", "centre", "width_mm", "height_mm", "turn_deg"}  # what a locked place keeps
MOST_ALONG = 20_000  # letters of the path that words run along
_FREE = {"name", "visible", "place_locked", "content_locked"}  # what no lock keeps


def edit_layout(layout: Layout, edit: LayoutEdit, waiting: AbstractSet[str] = frozenset()) -> Layout:
    """The layout after an edit. Raises EditRefused with a plain sentence.

    ``waiting``: ids, beside those on the sheet, that no layer made by the edit takes.
    """
    try:
        rule = EDITS[type(edit)]
        changed = rule.apply(layout, edit, *([layout.ids() | waiting] if rule.takes_ids else []))
        known = {id(layer) for layer, _ in walk_layers(layout.layers)}
        layers = tuple(_check_layer(layer, known) for layer in changed.layers)
        fields = {name: getattr(changed, name) for name in type(changed).model_fields} | {"layers": layers}
        return Layout(**{**fields, "order": _keep_order(layout, changed)})
    except ValidationError as error:
        raise refusal_of(error) from None
    except GeometryError as error:
        raise EditRefused(error.sentence, error.remedy) from None


def _keep_order(before: Layout, now: Layout) -> tuple[str, ...]:
    """The order that leaves openings their numbers, whatever lies where in the stack now; new ones come after them."""
    stacked = tuple(leaf.id for leaf in now.leaves if isinstance(leaf, Opening))
    first = now.openings_by_id if now.order != before.order else before.openings_by_id  # unless the edit says one
    order = tuple(dict.fromkeys((*(name for name in first if name in now.openings_by_id), *stacked)))
    return () if order == stacked else order


def _check_layer(layer: Layer, known: set[int]) -> Layer:
    """A layer with what is new in it read again, so that it holds no figure that it could not have been given."""
    if id(layer) in known:
        return layer
    if isinstance(layer, Group):
        return layer.copy_with(layers=tuple(_check_layer(inner, known) for inner in layer.layers))
    return _LAYER.validate_python(layer.model_dump())


def refusal_of(error: ValidationError) -> EditRefused:
    """A failed validation as a refusal: its first complaint."""
    return EditRefused(describe_complaint(error.errors()[0]))


def _set_fields(layout: Layout, edit: SetFields) -> Layout:
    changes: dict[str, Layer | None] = {}
    for identity in dict.fromkeys(edit.layers):
        layer = find_layer(layout, identity)
        before = layer.model_dump(mode="json")
        for path, value in edit.expect.items():
            if _read_path(before, path) != value:
                raise EditRefused(
                    f"{layer.name or identity} has been changed meanwhile.", "Look at it as it is now, and try again."
                )
        names = {path.split(".")[0] for path in edit.fields}
        place, content = locks_of(layout, layer)
        if names & _PLACE and place and "place_locked" not in names:
            raise EditRefused(f"{layer.name or identity} is locked in its place.", "Unlock it, or its group, first.")
        if names - _PLACE - _FREE and content and "content_locked" not in names:
            raise EditRefused(f"{layer.name or identity} is locked.", "Unlock it, or its group, first.")
        unknown = names - type(layer).model_fields.keys() | names & {"id", "kind", "layers"}
        if unknown:
            raise EditRefused(f"{layer.name or identity} has nothing called {', '.join(sorted(unknown))} to set.")
        try:
            changes[identity] = _LAYER.validate_python(_set_paths(before, edit.fields))
        except ValidationError as error:
            raise refusal_of(error) from None
    return replace_layers_by_id(layout, changes)


def _add(layout: Layout, edit: AddLayers) -> Layout:
    return layout.copy_with(layers=insert_layers(layout, layout.layers, edit.layers, edit.group, edit.below))


def _read_path(data: Any, path: str) -> Any:
    for name in path.split("."):
        data = data.get(name) if isinstance(data, dict) else None
    return data


def _set_paths(data: dict[str, Any], fields: dict[str, Any]) -> dict[str, Any]:
    """Plain data with fields set, each on its own; what a dotted path leads into is begun when it is not there."""
    values = dict(data)
    for path, value in fields.items():
        name, _, inner = path.partition(".")
        values[name] = {**(values.get(name) or {}), inner: value} if inner else value
    return values


def _remove(layout: Layout, edit: RemoveLayers) -> Layout:
    return remove_layers(layout, edit.layers)


def _restack(layout: Layout, edit: Restack) -> Layout:
    moved = find_layer(layout, edit.layer)
    inside = {layer.id for layer, _ in walk_layers(moved.layers)} if isinstance(moved, Group) else set()
    if {edit.group, edit.below} & (inside | {edit.layer}):
        raise EditRefused("A group cannot be moved into itself.", "Choose a place outside it.")
    rest = replace_in_tree(layout.layers, {edit.layer: None})
    return layout.copy_with(layers=insert_layers(layout, rest, (moved,), edit.group, edit.below))


def _carry(layout: Layout, edit: Carry) -> Layout:
    layers = movable_layers(layout, edit.layers)
    about = edit.about
    if about is None:
        placed = [layer for layer in layers if not isinstance(layer, Echo)]
        box = layers_box(placed) if placed else None
        about = ((box.left + box.right) / 2, (box.top + box.bottom) / 2) if box else (0.0, 0.0)
    motion = Motion(about, edit.by, edit.turn_deg, edit.mirror, edit.scale, edit.skew_deg)
    return replace_layers(layout, [carry_layer(layer, motion) for layer in layers])


def _align(layout: Layout, edit: Align) -> Layout:
    return replace_layers(
        layout, align_layers(layout, movable_layers(layout, edit.layers), edit.edge, edit.to, edit.line_mm)
    )


def _distribute(layout: Layout, edit: Distribute) -> Layout:
    return replace_layers(
        layout, distribute_layers(movable_layers(layout, edit.layers), edit.axis, edit.by, edit.gap_mm)
    )


def _same_size(layout: Layout, edit: SameSize) -> Layout:
    return replace_layers(layout, same_size(movable_layers(layout, edit.layers), edit.side))


def _repeat(layout: Layout, edit: Repeat, taken: set[str]) -> Layout:
    layers = movable_layers(layout, edit.layers)
    stacked = [layer for layer, _ in walk_layers(layout.layers) if any(layer is other for other in layers)]
    fresh = repeat_layers(stacked, edit.columns, edit.rows, edit.step_mm, taken, edit.names)
    upper = uppermost(layout, edit.layers)
    return insert_above(layout, siblings_of(layout.layers, upper)[-1].id if edit.on_top else upper, fresh)


def _opening(layout: Layout, identity: str) -> Opening:
    opening = find_layer(layout, identity)
    if not isinstance(opening, Opening):
        raise EditRefused(f"{opening.name or identity} is not an opening.", "Choose openings.")
    return opening


def _split(layout: Layout, edit: SplitOpening, taken: set[str]) -> Layout:
    movable_layers(layout, (edit.opening,))
    first, *others = split(_opening(layout, edit.opening), edit.columns, edit.rows, edit.gap_mm, taken)
    return insert_above(replace_layers(layout, [first]), first.id, others)


def _make_one(layout: Layout, edit: MakeOne, taken: set[str]) -> Layout:
    movable_layers(layout, edit.openings)
    chosen = list(dict.fromkeys(edit.openings))
    opening = merge_openings([_opening(layout, identity) for identity in chosen], taken)
    order = tuple(opening.id if identity == chosen[0] else identity for identity in layout.openings_by_id)
    return remove_layers(insert_above(layout, uppermost(layout, chosen), [opening]), chosen).copy_with(order=order)


def _become(layout: Layout, edit: Become) -> Layout:
    changes: dict[str, Layer | None] = {}
    for identity in dict.fromkeys(edit.layers):
        layer = find_layer(layout, identity)
        if not isinstance(layer, Opening | FillBox):
            raise EditRefused(f"{layer.name or identity} is neither an opening nor a shape.", "Choose shapes.")
        if any(locks_of(layout, layer)):
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
    return replace_layers_by_id(layout, changes)


def _run_along(layout: Layout, edit: RunAlong) -> Layout:
    text, shape = find_layer(layout, edit.text), find_layer(layout, edit.of)
    if not isinstance(text, Text) or not isinstance(shape, Opening | FillBox):
        raise EditRefused("Words run along an opening or a shape.", "Choose words, and one of these.")
    if locks_of(layout, text)[1]:
        raise EditRefused(f"{text.name or text.id} is locked.", "Unlock it, or its group, first.")
    edge = outlines.line_along(shape.outline.path_data())
    onto = shape.surface.page_from_opening(shape.outline)
    on_page = onto.apply(edge if onto.matrix is not None else outlines.split_long_sides(edge, 1.0))
    line = apply_matrix(inverse(text.page_from_box), on_page).round(3).tolist()
    along = "M" + "L".join(f"{x:g} {y:g}" for x, y in line)
    if len(along) > MOST_ALONG:
        raise EditRefused("This edge has too many curves to write along.", "Draw a simpler one.")
    return replace_layers_by_id(layout, {text.id: text.copy_with(along=along, bend_deg=0.0)})


def _gather(layout: Layout, edit: Gather, taken: set[str]) -> Layout:
    meant = set(edit.layers)
    layers = [layer for layer, _ in walk_layers(layout.layers) if layer.id in meant]
    if len(layers) < len(meant):
        raise EditRefused("One of these layers is not on this sheet.", "It may have been taken away meanwhile.")
    movable_layers(layout, edit.layers)
    top = next(
        layer.id for layer in reversed(layout.layers) if meant & {inner.id for inner, _ in walk_layers((layer,))}
    )
    group, members = make_group(layers, edit.name, taken), list[Layer]()
    for layer in layout.layers:
        remaining = replace_in_tree((layer,), dict.fromkeys(meant, None))
        members += [*remaining, group] if layer.id == top else remaining
    return layout.copy_with(layers=tuple(members))


def _dissolve(layout: Layout, edit: Dissolve) -> Layout:
    for identity in dict.fromkeys(edit.groups):
        group = find_layer(layout, identity)
        if not isinstance(group, Group):
            raise EditRefused(f"{group.name or identity} is not a group.", "Choose groups.")
        layout = open_group(layout, group)
    return layout


def _turn_sheet(layout: Layout, edit: TurnSheet) -> Layout:
    return rotate_sheet(layout, edit.how)


def _resize_sheet(layout: Layout, edit: ResizeSheet) -> Layout:
    return resize_layout(layout, edit.width_mm, edit.height_mm, edit.how)


def _set_sheet(layout: Layout, edit: SetSheet) -> Layout:
    names = {path.split(".")[0] for path in edit.fields}
    unknown = names - Layout.model_fields.keys() | names & {"layers", "order"}
    if unknown:
        raise EditRefused(f"A sheet has nothing called {', '.join(sorted(unknown))} to set.")
    plain = {name: value for name, value in layout.model_dump(mode="json").items() if name in names}
    layout_after = Layout.model_validate({**_fields(layout), **_set_paths(plain, edit.fields)})
    return layout.copy_with(**{name: getattr(layout_after, name) for name in names})


def _fields(layout: Layout) -> dict[str, Any]:
    return {name: getattr(layout, name) for name in type(layout).model_fields}


def _renumber(layout: Layout, edit: Renumber) -> Layout:
    order = edit.order if edit.order is not None else tuple(opening.id for opening in reading_order(layout))
    unknown = [identity for identity in order if identity not in layout.openings_by_id]
    if unknown:
        raise EditRefused(f"There is no opening {unknown[0]} on this sheet.", "It may have been taken away meanwhile.")
    return layout.copy_with(order=tuple(dict.fromkeys((*order, *layout.openings_by_id))))


_FIELDS = {
    "bleed_mm": "bleed",
    "safe_mm": "safe area",
    "columns": "grid",
    "outline": "shape",
    "surface": "place",
    "centre": "place",
    "turn_deg": "turn",
    "width_mm": "width",
    "height_mm": "height",
}


def _describe_fields(fields: Mapping[str, Any]) -> str:
    names = (path.split(".")[0] for path in fields)
    return " and ".join(dict.fromkeys(_FIELDS.get(name, name) for name in names))


def _label_set(name: Namer, edit: SetFields) -> str:
    more = f" and {len(edit.layers) - 1} more" if len(edit.layers) > 1 else ""
    return f"change {_describe_fields(edit.fields)} of {name.layer(edit.sheet, edit.layers[0])}{more}"


def _label_add(_: Namer, edit: AddLayers) -> str:
    kinds = {layer.kind for layer in edit.layers}
    return f"add {count(len(edit.layers), kinds.pop() if len(kinds) == 1 else 'layer')}"


def _label_carry(name: Namer, edit: Carry) -> str:
    what = "turn" if edit.turn_deg else "mirror" if edit.mirror else "skew" if edit.skew_deg else ""
    what = what or ("resize" if edit.scale != (1.0, 1.0) else "move")
    return f"{what} {name.layers(edit.sheet, edit.layers)}"


def _label_become(name: Namer, edit: Become) -> str:
    what = "an opening" if edit.kind == "opening" else "a shape"
    return f"convert {name.layers(edit.sheet, edit.layers)} to {what}"


def _label_layers(what: str) -> Callable[[Namer, Any], str]:
    return lambda name, edit: f"{what} {name.layers(edit.sheet, edit.layers)}"


def _label_turn(_: Namer, edit: TurnSheet) -> str:
    return f"{'mirror' if edit.how in ('left_right', 'top_bottom') else 'turn'} the sheet"


EDITS: Table = {
    AddLayers: EditRule(_add, _label_add),
    RemoveLayers: EditRule(_remove, _label_layers("delete")),
    Restack: EditRule(_restack, lambda name, edit: f"move {name.layer(edit.sheet, edit.layer)} in the stack"),
    SetFields: EditRule(_set_fields, _label_set),
    Carry: EditRule(_carry, _label_carry),
    Align: EditRule(_align, _label_layers("align")),
    Distribute: EditRule(_distribute, _label_layers("distribute")),
    SameSize: EditRule(_same_size, lambda name, edit: f"make {name.layers(edit.sheet, edit.layers)} the same size"),
    Repeat: EditRule(_repeat, _label_layers("repeat"), takes_ids=True),
    SplitOpening: EditRule(_split, lambda name, edit: f"split {name.layer(edit.sheet, edit.opening)}", takes_ids=True),
    MakeOne: EditRule(
        _make_one, lambda name, edit: f"merge {name.openings(edit.sheet, *edit.openings)}", takes_ids=True
    ),
    Become: EditRule(_become, _label_become),
    RunAlong: EditRule(
        _run_along,
        lambda name, edit: f"run {name.layer(edit.sheet, edit.text)} along {name.layer(edit.sheet, edit.of)}",
    ),
    Gather: EditRule(_gather, _label_layers("group"), takes_ids=True),
    Dissolve: EditRule(_dissolve, lambda _, edit: f"ungroup {count(len(edit.groups), 'group')}"),
    TurnSheet: EditRule(_turn_sheet, _label_turn),
    ResizeSheet: EditRule(_resize_sheet, lambda *_: "resize the sheet"),
    SetSheet: EditRule(_set_sheet, lambda _, edit: f"change {_describe_fields(edit.fields)} of the sheet"),
    Renumber: EditRule(_renumber, lambda *_: "renumber the openings"),
}
