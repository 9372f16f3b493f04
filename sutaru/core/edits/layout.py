"""Layout edits: Layout -> Layout. They know nothing of photos, so that they serve a template and a job's sheet alike."""

from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..document import Echo, Group, Layer, Layout
from ..document.layout import walked
from ..errors import EditRefused, in_words
from .kinds import AddLayers, RemoveLayers, Restack, SetFields

_LAYER: TypeAdapter[Layer] = TypeAdapter(Layer)
_PLACE = {"outline", "surface", "centre", "width_mm", "height_mm", "turn_deg"}  # what a locked place keeps
_FREE = {"name", "visible", "place_locked", "content_locked"}  # what no lock keeps


def altered(layout: Layout, edit: AddLayers | RemoveLayers | Restack | SetFields) -> Layout:
    """The layout after an edit. Raises EditRefused with a plain sentence."""
    if isinstance(edit, SetFields):
        layers = _set(layout, edit)
    elif isinstance(edit, AddLayers):
        layers = _laid(layout, layout.layers, edit.layers, edit.group, edit.below)
    elif isinstance(edit, RemoveLayers):
        layers = _removed(layout, edit.layers)
    else:
        layers = _restacked(layout, edit)
    try:
        return Layout(**{**{name: getattr(layout, name) for name in type(layout).model_fields}, "layers": layers})
    except ValidationError as error:
        raise refused(error) from None


def refused(error: ValidationError) -> EditRefused:
    """A failed validation as a refusal: its first complaint."""
    return EditRefused(in_words(error.errors()[0]))


def _found(layout: Layout, identity: str) -> Layer:
    found = layout.find(identity)
    if found is None:
        raise EditRefused(f"There is no layer {identity} on this sheet.", "It may have been taken away meanwhile.")
    return found


def _mapped(layers: tuple[Layer, ...], changes: dict[str, Layer | None]) -> tuple[Layer, ...]:
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


def _set(layout: Layout, edit: SetFields) -> tuple[Layer, ...]:
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
    return _mapped(layout.layers, changes)


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


def _removed(layout: Layout, identities: tuple[str, ...]) -> tuple[Layer, ...]:
    gone = set(identities)
    for identity in identities:
        found = _found(layout, identity)
        if isinstance(found, Group):
            gone |= {layer.id for layer, _ in walked(found.layers)}
    gone |= {leaf.id for leaf in layout.leaves if isinstance(leaf, Echo) and leaf.of in gone}
    return _mapped(layout.layers, dict.fromkeys(gone, None))


def _restacked(layout: Layout, edit: Restack) -> tuple[Layer, ...]:
    moved = _found(layout, edit.layer)
    inside = {layer.id for layer, _ in walked(moved.layers)} if isinstance(moved, Group) else set()
    if {edit.group, edit.below} & (inside | {edit.layer}):
        raise EditRefused("A group cannot be moved into itself.", "Choose a place outside it.")
    return _laid(layout, _mapped(layout.layers, {edit.layer: None}), (moved,), edit.group, edit.below)
