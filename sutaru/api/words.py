"""What words can be set in: the families that ship, each in its own look, and locales that dates are written in."""

from typing import Annotated, Literal

from babel import Locale
from fastapi import APIRouter, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from ..core.document import CalendarSaid
from ..core.errors import NotFound
from ..core.formats.assets import read_asset
from ..core.formats.dates_file import MOST_BYTES, read_dates
from ..core.words import FOLDER, families, outline_line
from ..core.words.calendars import country_name, list_fallen_away, window_of
from ..core.words.faces import nearest
from ..core.words.fields import LOCALES, find_locale
from .description import upload
from .models.new_jobs import Country, DatesRead, LocaleName, Region
from .models.templates import FontFamily
from .stores import InParts
from .studio import InStudio
from .uploads import receive

router = APIRouter(prefix="/api/words", tags=["words"])
FOR_LONG = {"Cache-Control": "max-age=86400"}
Name = Annotated[str, Query(max_length=80)]
SIZE, HIGH = 20.0, 30.0  # of a specimen, px


@router.get("/families")
def list_families() -> list[FontFamily]:
    """The families that ship."""
    return [
        FontFamily(
            name=f.name, kind=f.kind, weights=sorted({face.weight for face in f.faces}),
            slants=any(face.slant for face in f.faces),
        )
        for f in families().values()
        if f.kind != "fallback"
    ]  # fmt: skip


@router.get("/specimen.svg", response_class=Response)
def specimen(font: Name) -> Response:
    """A family's name in its own look."""
    _check_known_font(font)
    path, wide = outline_line(font, font, False, False, SIZE)
    drawing = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide + 2:.0f}" height="{HIGH:.0f}" '
        f'viewBox="-1 {-0.72 * HIGH:g} {wide + 2:.1f} {HIGH:g}"><path d="{path}"/></svg>'
    )
    return Response(drawing, media_type="image/svg+xml", headers=FOR_LONG)


@router.get("/font", response_class=Response)
def font_file(font: Name, weight: Annotated[int, Query(ge=0, le=900)] = 0, slant: bool = False) -> Response:
    """The font file that words of a family are set in, for words that are being typed."""
    _check_known_font(font)
    return Response(
        (FOLDER / nearest(font, weight or None, slant).file).read_bytes(), media_type="font/ttf", headers=FOR_LONG
    )


@router.get("/font/{asset}", response_class=Response)
def get_brought_font(parts: InParts, asset: str) -> Response:
    """A font that was brought in."""
    data = read_asset(parts.asset(asset))
    if data.kind != "font":
        raise NotFound("This is no font.", "Choose a TTF or OTF.")
    return Response(data.data, media_type="font/ttf", headers=FOR_LONG)


@router.get("/locales")
def locales() -> list[LocaleName]:
    """Locales that dates can be written in, in their own words. Any other that CLDR knows may be said too."""
    known = [Locale.parse(name) for name in LOCALES if find_locale(name)]
    return [LocaleName(id=str(locale), name=locale.get_display_name() or str(locale)) for locale in known]


@router.get("/countries")
def list_countries(locale: Annotated[str, Query(max_length=20)] = "en_GB") -> list[Country]:
    """Countries whose holidays are known."""
    from ..core.words.public_holidays import countries, has_more_holidays  # slow to load, and few jobs are calendars

    country_list = [
        Country(
            id=code,
            name=country_name(code, locale),
            regions=[Region(id=r, name=name) for r, name in regions.items()],
            has_more_holidays=has_more_holidays(code),
        )
        for code, regions in countries().items()
    ]
    return sorted(country_list, key=lambda country: country.name)


@router.post(
    "/jobs/{job}/dates",
    openapi_extra=upload(
        "Dates of a family or a school: iCalendar (RFC 5545), CSV or XLSX.",
        "text/calendar",
        "text/csv",
        "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    ),
)
async def dates_file(
    studio: InStudio, request: Request, job: str, name: Annotated[str, Query(max_length=120)] = "",
    order: Literal["day", "month"] | None = None,
) -> DatesRead:  # fmt: skip
    """Reads dates of the customer's own from a file (CSV or iCalendar, the request's body). An edit keeps them. ``order``: which
    of day and month comes first in 06/07/1999; else as the file tells, or as the job's locale writes dates."""
    document = studio.jobs.head(job).job
    months = [(int(m[:4]), int(m[5:7])) for sheet in document.sheets if (m := sheet.fields.get("month", ""))]
    path = await receive(studio, request.stream(), MOST_BYTES, name or "This list")
    try:
        called = name or "This list"
        more = document.locale, order, window_of(months)
        read = await run_in_threadpool(lambda: studio.door.asset(called, read_dates, path.read_bytes(), called, *more))
    finally:
        path.unlink(missing_ok=True)
    away = list_fallen_away(CalendarSaid(dates=read.dates), months) if months else []
    return DatesRead(
        dates=list(read.dates), untold=list(read.untold), away=len(away), order=read.order, is_sure=read.is_sure
    )


def _check_known_font(font: str) -> None:
    if font not in families():
        raise NotFound("This font was not found here.", "Choose one of the list.")
