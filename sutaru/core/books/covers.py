"""A book's cover laid out: photo and title on its front as its theme has them, the title on its spine, the studio on its back."""

from ..arranging.moving import round_exactly
from ..document import BookSize, FillBox, Flat, Job, Layer, Layout, Opening, Text, Theme
from ..document.shapes import Rectangle
from .binding import cover_layout, spine_of, spine_turn_deg
from .dressing import dress_layout

COVER_TITLE, SPINE, IMPRINT = "Cover title", "Spine", "Imprint"  # styles that all themes have


def _front(layout: Layout, theme: Theme | None, middle: float, spine_mm: float, size: BookSize) -> list[Layer]:
    """A cover's front about ``middle``, right of ``spine_mm``: a photo and the title, as the theme has it."""
    design = theme.cover_design if theme else "window"
    short, foot = min(size.width_mm, size.height_mm), size.height_mm
    air = max(size.safe_mm + 4.0, 0.12 * short)
    band: list[Layer] = []
    photo = middle, air + 0.28 * foot, size.width_mm - 2 * air, 0.56 * foot
    title_mm = (size.height_mm - 2 * air - photo[3]) * 0.6
    title_y = air + photo[3] + (size.height_mm - 2 * air - photo[3]) / 2 + 3.0
    edge = spine_mm, layout.width_mm + layout.bleed_mm
    if design == "small":
        photo = middle, 0.40 * foot, 0.46 * short, 0.46 * short
        title_mm, title_y = 0.14 * foot, 0.40 * foot + 0.23 * short + 0.12 * foot
    elif design in ("half", "whole"):
        bottom = 0.62 * foot if design == "half" else foot + layout.bleed_mm
        top = -layout.bleed_mm
        photo = (edge[0] + edge[1]) / 2, (top + bottom) / 2, edge[1] - edge[0], bottom - top
        title_mm, title_y = 0.16 * foot, 0.80 * foot if design == "half" else 0.76 * foot
    if design == "whole":
        band = [
            FillBox(
                id="band", name="Band", colour=theme.cover.colour if theme else "#ffffff",
                outline=Rectangle(width_mm=round_exactly(edge[1] - edge[0]), height_mm=round_exactly(0.22 * foot)),
                surface=Flat(centre=(round_exactly((edge[0] + edge[1]) / 2), round_exactly(0.76 * foot))),
            )
        ]  # fmt: skip
    x, y, wide, high = (round_exactly(v) for v in photo)
    return [
        Opening(id="opening-1", name="Front", outline=Rectangle(width_mm=wide, height_mm=high), surface=Flat(centre=(x, y))),
        *band,
        Text(
            id="title", name="Title", text="{title}", sample=False, style=COVER_TITLE, size_pt=36.0, fit_pt=(12.0, 42.0),
            centre=(round_exactly(middle), round_exactly(title_y)),
            width_mm=round_exactly(size.width_mm - 2 * air), height_mm=round_exactly(title_mm),
        ),
    ]  # fmt: skip


def lay_out_cover(job: Job, pages: int, theme: Theme | None) -> Layout:
    """A cover: a photo and the title on its front, the title on its spine where there is room, the studio on its back."""
    book = job.book
    assert book is not None, "only a book has a cover"
    layout = cover_layout(book, pages)
    size = book.size
    spine_at = spine_of(layout)
    assert spine_at is not None, "a cover has a spine"
    left, right = spine_at
    spine, front = right - left, right + book.binding.hinge_mm + size.width_mm / 2
    layers: list[Layer] = [
        *_front(layout, theme, front, right, size),
        Text(
            id="imprint", name="Studio", text="{studio.name}\n{studio.web}", sample=False, style=IMPRINT, size_pt=9.0,
            centre=(round_exactly((left - book.binding.hinge_mm) / 2), round_exactly(size.height_mm - size.safe_mm - 12.0)),
            width_mm=round_exactly(0.7 * size.width_mm), height_mm=14.0,
        ),
    ]  # fmt: skip
    if spine >= book.binding.words_from_mm:
        layers.append(
            Text(
                id="spine",
                name="Spine",
                text="{title}",
                sample=False,
                style=SPINE,
                size_pt=12.0,
                fit_pt=(6.0, 24.0),
                centre=(round_exactly((left + right) / 2), round_exactly(size.height_mm / 2)),
                width_mm=round_exactly(0.8 * size.height_mm),
                height_mm=round_exactly(spine - 2.0),
                turn_deg=spine_turn_deg(job.locale),
            )
        )
    layout = layout.copy_with(layers=tuple(layers))
    return dress_layout(layout, theme, 0, "cover") if theme else layout
