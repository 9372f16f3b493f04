"""The 18-opening spread by plain means, each as a process of its own that imports nothing of ours: ``python bench/plain.py WAY
BOXES.json OUT.jpg``.

``BOXES.json`` holds the page's size in pixels, its ppi, and for each photo its path and box (x0, y0, x1, y1). ``floor``: the
photos decoded shrunk in two threads, and one encode of a page of that size. ``opencv``: the script that one would write with
OpenCV, in two threads. ``pillow``: the same with Pillow, one after the other.
"""

import json
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

Box = tuple[str, tuple[int, int, int, int]]


def floor(page: dict, out: Path) -> None:
    from PIL import Image

    def decode(entry: Box) -> Image.Image:
        path, (x0, y0, x1, y1) = entry
        image = Image.open(path)
        image.draft(None, (x1 - x0, y1 - y0))
        image.load()
        return image

    # The page's pixels come from the photos, so that the encoder has as much to do as with a page.
    sheet = Image.new("RGB", tuple(page["size"]), page["paper"])
    with ThreadPoolExecutor(2) as threads:
        for (_, (x0, y0, x1, y1)), image in zip(page["boxes"], threads.map(decode, page["boxes"]), strict=True):
            sheet.paste(image.crop((0, 0, x1 - x0, y1 - y0)), (x0, y0))
    sheet.save(out, quality=page["quality"], subsampling=0)


def opencv(page: dict, out: Path) -> None:
    import cv2
    import numpy as np

    cv2.setNumThreads(1)
    width, height = page["size"]
    sheet = np.full((height, width, 3), tuple(bytes.fromhex(page["paper"][1:]))[::-1], np.uint8)

    def lay(entry: Box) -> None:
        path, (x0, y0, x1, y1) = entry
        photo = cv2.imread(path)  # turned upright by its EXIF
        scale = max((x1 - x0) / photo.shape[1], (y1 - y0) / photo.shape[0])
        size = max(x1 - x0, round(photo.shape[1] * scale)), max(y1 - y0, round(photo.shape[0] * scale))
        photo = cv2.resize(photo, size, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)
        left, top = (size[0] - (x1 - x0)) // 2, (size[1] - (y1 - y0)) // 2
        sheet[y0:y1, x0:x1] = photo[top : top + y1 - y0, left : left + x1 - x0]

    with ThreadPoolExecutor(2) as threads:
        list(threads.map(lay, page["boxes"]))
    ways = [cv2.IMWRITE_JPEG_QUALITY, page["quality"], cv2.IMWRITE_JPEG_SAMPLING_FACTOR, 0x111111]
    cv2.imwrite(str(out), sheet, ways)


def pillow(page: dict, out: Path) -> None:
    from PIL import Image, ImageOps

    sheet = Image.new("RGB", tuple(page["size"]), page["paper"])
    for path, (x0, y0, x1, y1) in page["boxes"]:
        with Image.open(path) as image:
            upright = ImageOps.exif_transpose(image)
            sheet.paste(ImageOps.fit(upright, (x1 - x0, y1 - y0), Image.Resampling.LANCZOS), (x0, y0))
    sheet.save(out, quality=page["quality"], subsampling=0, dpi=(page["ppi"], page["ppi"]))


if __name__ == "__main__":
    way, boxes, target = sys.argv[1:]
    {"floor": floor, "opencv": opencv, "pillow": pillow}[way](json.loads(Path(boxes).read_text()), Path(target))
