"""What fields say on a sheet in an edition: of the order, the sheet, its page, its photos, the studio."""

from collections.abc import Mapping
from datetime import date

from ..document import Edition, Filling, Job, Photo, Sheet, StudioCard, Text
from ..words.calendars import write_digits
from ..words.fields import Value, month_name, parse_value

PHOTO = ("photo.date", "photo.name", "photo.caption")
# Fields that are there in every job, whether anything is said of them or not.
ALWAYS = ("customer", "title", "date", "page", "pages", "year", "month", "job", "order", "edition")


def values(job: Job, sheet: Sheet, edition: Edition) -> dict[str, Value]:
    """Fields by name: what the job, the edition and the sheet say, the later before the earlier; "" for what none says."""
    fields = {**job.fields, **edition.fields, **sheet.fields}
    by_name: dict[str, Value] = dict.fromkeys(ALWAYS, "")
    by_name |= {"customer": job.customer, "job": job.name, "order": job.order_number, "edition": edition.name}
    by_name |= {name: parse_value(value) for name, value in fields.items()}
    first, count = job.page_numbers[sheet.id]
    by_name |= {"page": str(first) if count else "", "pages": str(sum(n for _, n in job.page_numbers.values()))}
    day = by_name["month"] if isinstance(by_name["month"], date) else by_name["date"]
    if isinstance(day, date):
        by_name |= {
            "year": fields.get("year") or write_digits(day.year, job.locale),
            "month": month_name(day, job.locale),
        }
    return by_name | (job.studio or StudioCard()).values


def values_at(layer: Text, sheet: Sheet, common: Mapping[str, Value], shown: Mapping[str, Photo]) -> dict[str, Value]:
    """The same for one box of words. ``shown``: photos by opening, in order of the openings' numbers.

    Of a spread's two page numbers it is the one of the page that the box's middle lies on.
    """
    photo = shown.get(layer.photo_of) if layer.photo_of else next(iter(shown.values()), None)
    by_name: dict[str, Value] = {**common, **dict.fromkeys(PHOTO, "")}
    if photo:
        name = photo.name.rsplit(".", 1)[0] if "." in photo.name else photo.name
        by_name |= {
            "photo.date": photo.taken.date() if photo.taken else "",
            "photo.name": name,
            "photo.caption": photo.caption,
        }
    if sheet.role == "spread" and common["page"] and layer.centre[0] > sheet.layout.width_mm / 2:
        by_name["page"] = str(int(str(common["page"])) + 1)
    return by_name


def list_field_values(job: Job, sheet: Sheet, edition: Edition, filling: Filling) -> list[str]:
    """What fields that a sheet's words name say, as one list that names it all."""
    named = sheet.layout.field_names | {
        name for words in filling.texts.values() for name in sheet.layout.ids_in_words(words)
    }
    if not named:
        return []
    by_name = values(job, sheet, edition)
    return [job.locale, *(f"{name}={by_name[name]}" for name in sorted(named & by_name.keys()))]
