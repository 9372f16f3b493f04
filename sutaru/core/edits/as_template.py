"""A job's sheets as a template: what goes with them and what stays behind. Nothing of a customer's goes."""

from ..document import Edition, Group, Job, Layer, Layout, Opening, Sheet


def template_sheets(job: Job, edition: Edition) -> tuple[Sheet, ...]:
    """The sheets of an edition as a template has them: tone of one opening only is the opening's own, since a darkened slot is
    part of a mockup."""
    sheets = []
    for sheet in job.sheets_of(edition):
        tones = edition.filling(sheet.id).tones
        steps = {opening: recipe.steps for opening, recipe in tones.items() if recipe.steps}
        layout = sheet.layout
        if steps:
            layout = layout.copy_with(layers=tuple(_tone_layer(layer, steps, layout) for layer in layout.layers))
        sheets.append(sheet if layout is sheet.layout else sheet.copy_with(layout=layout))
    return tuple(sheets)


def _tone_layer(layer: Layer, steps: dict[str, tuple], layout: Layout) -> Layer:  # type: ignore[type-arg]
    if isinstance(layer, Group):
        return layer.copy_with(layers=tuple(_tone_layer(child, steps, layout) for child in layer.layers))
    if isinstance(layer, Opening) and layer.id in steps:
        return layer.copy_with(tone=(*steps[layer.id], *layer.tone))
    return layer


def describe_left_behind(job: Job, edition: Edition) -> list[str]:
    """What a template made of a job's sheets will not have, in words: what is the customer's, and what belongs to one photo."""
    sentences: list[str] = []
    sheets = job.sheets_of(edition)
    fillings = [(sheet, edition.filling(sheet.id)) for sheet in sheets]
    photos = {photo for _, filling in fillings for photo in filling.photos()}
    photos_left = [photo for photo in photos if photo in job.pile.by_id and not job.pile.by_id[photo].sample]
    if photos_left:
        sentences.append(
            f"{_count(len(photos_left), 'photo')} and how {'it is' if len(photos_left) == 1 else 'they are'} fitted"
        )
    spans = sum(len(filling.spans) for _, filling in fillings)
    if spans:
        sentences.append(f"{_count(spans, 'photo')} spread across several openings")
    words = sum(text in sheet.layout.texts_by_id for sheet, filling in fillings for text in filling.texts)
    if words:
        sentences.append(
            f"words typed in {_count(words, 'text box', 'text boxes')}: the template's own words are saved"
        )
    retouched = sum(
        bool(recipe.retouching or recipe.upright) for _, filling in fillings for recipe in filling.tones.values()
    )
    if retouched:
        sentences.append(f"retouching and straightened perspective of {_count(retouched, 'opening')}")
    if any(photo in edition.photo_tones for photo in photos_left):
        sentences.append("adjustments of photos everywhere; those of one opening only are saved with the opening")
    if len(job.editions) > 1:
        others = len(job.editions) - 1
        sentences.append(f"the other {'version' if others == 1 else f'{others} versions'} of these pages")
    if job.calendar and job.calendar.dates:
        sentences.append(f"{_count(len(job.calendar.dates), 'date')} of the customer's own")
    if edition.fields or job.fields:
        sentences.append("field values such as names and titles")
    return sentences


def _count(count: int, word: str, words: str = "") -> str:
    return f"{count} {word if count == 1 else words or word + 's'}"
