"""Makes the pictures of templates and themes that ship, in sutaru/shelf/pictures: when one changes, or how sheets are painted.

``python tools/make_shelf_pictures.py``; a minute.
"""

import io
import json
import math
import sys
import time
from pathlib import Path
from tempfile import TemporaryDirectory

from PIL import Image

sys.path.insert(0, str(Path(__file__).parent.parent))
from sutaru.api.sample_books import sample_book
from sutaru.api.samples import sample_photos
from sutaru.api.shelf import fill_with_samples
from sutaru.api.studio import Studio
from sutaru.shelf import sample_ids
from sutaru.shelf.pictures import FOLDER, INDEX, THEME_PICTURES, digest_of, digest_of_theme, picture_path, theme_name

# As the shelf shows them (web/src/shelf/Templates.tsx), for screens of two pixels a point.
PX_PER_MM = {"card": 2 * 0.85, "mockup": 2 * 0.6}
OTHERWISE = 2 * 0.42
QUALITY = 84
THEME_WIDTH = 400  # px; as web/src/book/Themes.tsx asks for them


def make() -> None:
    """Paints every sheet of every template, and deletes pictures of those that are no more."""
    index = {}
    with TemporaryDirectory() as name:
        studio = Studio(Path(name))
        try:
            while not all(photo.is_looked_at for photo in sample_photos(studio)):  # faces are kept in view
                time.sleep(0.2)
            for template in studio.catalogue.shelf.templates.values():
                job = fill_with_samples(studio, template)
                keys = studio.sheets.keys(f"template {template.id}", job)
                for sheet, key in zip(template.sheets, keys, strict=True):
                    width = math.ceil(
                        (sheet.layout.width_mm + 2 * sheet.layout.bleed_mm) * PX_PER_MM.get(template.product, OTHERWISE)
                    )
                    jpeg = studio.sheets.picture(key, width).jpeg
                    picture = Image.open(io.BytesIO(jpeg))
                    picture.save(picture_path(template.id, sheet.id), "WEBP", quality=QUALITY, method=6)
                    made_of = digest_of(template, sheet.id, sample_ids())
                    index[f"{template.id}/{sheet.id}"] = {"width": width, "made_of": made_of}
            for theme in studio.catalogue.shelf.themes.values():
                job = sample_book(studio, theme.id)
                keys = studio.sheets.keys(f"theme {theme.id}", job)
                for n in range(THEME_PICTURES):
                    jpeg = studio.sheets.picture(keys[n], THEME_WIDTH).jpeg
                    picture = Image.open(io.BytesIO(jpeg))
                    picture.save(picture_path(theme_name(theme.id), str(n)), "WEBP", quality=QUALITY, method=6)
                    made_of = digest_of_theme(theme, sample_ids())
                    index[f"{theme_name(theme.id)}/{n}"] = {"width": THEME_WIDTH, "made_of": made_of}
        finally:
            studio.close()
    INDEX.write_text(json.dumps(index, indent=1, sort_keys=True) + "\n", "utf-8")
    for path in FOLDER.glob("*.webp"):
        if path.stem.replace(".", "/", 1) not in index:
            path.unlink()


if __name__ == "__main__":
    make()
