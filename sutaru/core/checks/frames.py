"""Where layers' own boxes lie on the page."""

from ..document import DateGrid, GuideNote, Ornament, Overlay, Shaped, Text
from ..geometry.maps import Map, Projective

Ring = tuple[tuple[float, float], ...]


def frame_of(leaf: Shaped | Text | DateGrid | Ornament | Overlay | GuideNote) -> Ring:
    """The corners of a layer's own box on the page, mm, from its top left clockwise as seen."""
    if isinstance(leaf, Shaped):
        onto: Map = leaf.surface.page_from_opening(leaf.outline)
        x0, y0, x1, y1 = leaf.outline.frame
    else:
        onto = Projective(leaf.page_from_box)
        x1, y1 = leaf.width_mm / 2, leaf.height_mm / 2
        x0, y0 = -x1, -y1
    corners = onto.apply([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
    return tuple((round(x, 9), round(y, 9)) for x, y in corners.tolist())
