"""A sheet's tree of layers, as edits change it: layers found, replaced, inserted and removed, in whatever group they lie."""

from collections.abc import Mapping, Sequence

from ..arranging.new_layers import dissolve_group
from ..document import Echo, Group, Layer, Layout
from ..document.layout import walk_layers
from ..errors import EditRefused


def find_layer(layout: Layout, identity: str) -> Layer:
    layer = layout.find(identity)
    if layer is None:
        raise EditRefused(f"There is no layer {identity} on this sheet.", "It may have been taken away meanwhile.")
    return layer


def replace_in_tree(layers: tuple[Layer, ...], changes: Mapping[str, Layer | None]) -> tuple[Layer, ...]:
    """A tree of layers with some replaced; None takes one away."""
    layers_after: list[Layer] = []
    for layer in layers:
        layer_after = changes.get(layer.id, layer)
        if layer_after is layer and isinstance(layer, Group):
            inner = replace_in_tree(layer.layers, changes)
            layer_after = layer if inner == layer.layers else layer.copy_with(layers=inner)
        if layer_after is not None:
            layers_after.append(layer_after)
    return tuple(layers_after)


def replace_layers_by_id(layout: Layout, changes: Mapping[str, Layer | None]) -> Layout:
    return layout.copy_with(layers=replace_in_tree(layout.layers, changes))


def replace_layers(layout: Layout, layers: Sequence[Layer]) -> Layout:
    return replace_layers_by_id(layout, {layer.id: layer for layer in layers})


def locks_of(layout: Layout, layer: Layer) -> tuple[bool, bool]:
    """Whether place and content of a layer are locked, by itself or by a group it is in."""
    leaf = next((leaf for leaf in layout.leaves if leaf.id == layer.id), layer)
    return leaf.place_locked, leaf.content_locked


def insert_layers(
    layout: Layout, layers: tuple[Layer, ...], fresh: tuple[Layer, ...], group: str | None, below: str | None
) -> tuple[Layer, ...]:
    """A tree of layers with more of them laid in: into a group or not, just below one of its layers, or on top."""
    if group is not None:
        into = next((layer for layer in walk_groups(layers) if layer.id == group), None)
        if into is None:
            raise EditRefused(f"There is no group {group} on this sheet.")
        return replace_in_tree(
            layers, {group: into.copy_with(layers=insert_layers(layout, into.layers, fresh, None, below))}
        )
    if below is None:
        return (*layers, *fresh)
    index = next((n for n, layer in enumerate(layers) if layer.id == below), None)
    if index is None:
        holder = next((g for g in walk_groups(layers) if any(layer.id == below for layer in g.layers)), None)
        if holder is None:
            raise EditRefused(f"There is no layer {below} to lie below.", "It may have been taken away meanwhile.")
        return replace_in_tree(
            layers, {holder.id: holder.copy_with(layers=insert_layers(layout, holder.layers, fresh, None, below))}
        )
    return (*layers[:index], *fresh, *layers[index:])


def walk_groups(layers: tuple[Layer, ...]) -> list[Group]:
    groups: list[Group] = []
    for layer in layers:
        if isinstance(layer, Group):
            groups += [layer, *walk_groups(layer.layers)]
    return groups


def remove_layers(layout: Layout, identities: Sequence[str]) -> Layout:
    gone = set(identities)
    for identity in identities:
        layer_found = find_layer(layout, identity)
        if isinstance(layer_found, Group):
            gone |= {layer.id for layer, _ in walk_layers(layer_found.layers)}
    gone |= {leaf.id for leaf in layout.leaves if isinstance(leaf, Echo) and leaf.of in gone}
    return replace_layers_by_id(layout, dict.fromkeys(gone, None))


def movable_layers(layout: Layout, identities: Sequence[str]) -> list[Layer]:
    """Layers by id, none of them locked in its place, none within another. Raises EditRefused."""
    layers = [find_layer(layout, identity) for identity in dict.fromkeys(identities)]
    for layer in layers:
        inside = [layer, *(inner for inner, _ in walk_layers(layer.layers))] if isinstance(layer, Group) else [layer]
        if any(locks_of(layout, inner)[0] for inner in inside):
            raise EditRefused(f"{layer.name or layer.id} is locked in its place.", "Unlock it, or its group, first.")
        if isinstance(layer, Group) and {inner.id for inner in inside[1:]} & set(identities):
            raise EditRefused("A group was selected together with what lies in it.", "Select the group alone.")
    return layers


def insert_above(layout: Layout, layer: str, fresh: Sequence[Layer]) -> Layout:
    """Layers laid just above another one, in whatever group that lies."""

    def insert_into(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        layers_after: list[Layer] = []
        for entry in layers:
            if isinstance(entry, Group):
                inner = insert_into(entry.layers)
                entry = entry if inner == entry.layers else entry.copy_with(layers=inner)
            layers_after += [entry, *fresh] if entry.id == layer else [entry]
        return tuple(layers_after)

    return layout.copy_with(layers=insert_into(layout.layers))


def uppermost(layout: Layout, identities: Sequence[str]) -> str:
    return [layer.id for layer, _ in walk_layers(layout.layers) if layer.id in set(identities)][-1]


def siblings_of(layers: tuple[Layer, ...], identity: str) -> tuple[Layer, ...]:
    """The layers among which one lies, itself too: those of its group, or of the sheet."""
    within = [group.layers for group in walk_groups(layers) if any(layer.id == identity for layer in group.layers)]
    return within[0] if within else layers


def open_group(layout: Layout, group: Group) -> Layout:
    def open_in(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        layers_after: list[Layer] = []
        for layer in layers:
            if layer.id == group.id:
                layers_after += dissolve_group(group)
            elif isinstance(layer, Group):
                layers_after.append(layer.copy_with(layers=open_in(layer.layers)))
            else:
                layers_after.append(layer)
        return tuple(layers_after)

    return layout.copy_with(layers=open_in(layout.layers))
