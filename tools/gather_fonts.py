"""Gathers the fonts that ship: from Debian's font packages, unpacked in a folder, with their licences, into the package.

    apt-get download <packages of the table below>; dpkg-deb -x each into FOLDER/<package>
    python tools/gather_fonts.py FOLDER

Writes sutaru/core/words/fonts/*.{otf,ttf}, LICENCE-*.txt and families.json. All are under the SIL Open Font License.
"""

import itertools
import json
import shutil
import sys
from contextlib import suppress
from pathlib import Path

from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTCollection

OUT = Path(__file__).parents[1] / "sutaru/core/words/fonts"

# ruff: noqa: E501 (a table)
# family: package, kind, faces by weight (an i after it: slanted), the first of them the family's own
FAMILIES: dict[str, tuple[str, str, dict[str, str]]] = {
    "EB Garamond": ("ebgaramond", "serif", {"400": "EBGaramond12-Regular.otf", "400i": "EBGaramond12-Italic.otf"}),
    "Vollkorn": ("vollkorn", "serif", {"400": "Vollkorn-Regular.ttf", "400i": "Vollkorn-Italic.ttf", "700": "Vollkorn-Bold.ttf",
                 "700i": "Vollkorn-BoldItalic.ttf"}),
    "Old Standard": ("oldstandard", "serif", {"400": "OldStandard-Regular.ttf", "400i": "OldStandard-Italic.ttf",
                     "700": "OldStandard-Bold.ttf"}),
    "GFS Didot": ("gfs-didot", "serif", {"400": "GFSDidot.otf", "400i": "GFSDidotItalic.otf", "700": "GFSDidotBold.otf",
                  "700i": "GFSDidotBoldItalic.otf"}),
    "Yrsa": ("yrsa-rasa", "serif", {"400": "Yrsa-Regular.ttf", "400i": "Yrsa-Italic.ttf", "300": "Yrsa-Light.ttf",
             "700": "Yrsa-Bold.ttf", "700i": "Yrsa-BoldItalic.ttf"}),
    "Averia Serif": ("averia-serif-gwf", "serif", {"400": "AveriaSerifGWF-Regular.ttf", "400i": "AveriaSerifGWF-Italic.ttf",
                     "300": "AveriaSerifGWF-Light.ttf", "700": "AveriaSerifGWF-Bold.ttf", "700i": "AveriaSerifGWF-BoldItalic.ttf"}),
    "Quattrocento": ("quattrocento", "serif", {"400": "Quattrocento-Regular.otf"}),
    "Lato": ("lato", "sans", {"400": "Lato-Regular.ttf", "400i": "Lato-Italic.ttf", "300": "Lato-Light.ttf", "700": "Lato-Bold.ttf",
             "700i": "Lato-BoldItalic.ttf"}),
    "Manrope": ("manrope", "sans", {"600": "Manrope-SemiBold.ttf", "300": "Manrope-Light.ttf", "400": "Manrope-Regular.ttf",
                "800": "Manrope-ExtraBold.ttf"}),
    "Cabin": ("cabin", "sans", {"400": "Cabin-Regular.otf", "400i": "Cabin-Italic.otf", "500": "Cabin-Medium.otf",
              "700": "Cabin-Bold.otf", "700i": "Cabin-BoldItalic.otf"}),
    "Karla": ("karla", "sans", {"400": "Karla-Regular.otf", "400i": "Karla-Italic.otf", "300": "Karla-Light.otf",
              "700": "Karla-Bold.otf", "700i": "Karla-BoldItalic.otf"}),
    "Cantarell": ("cantarell", "sans", {"400": "Cantarell-Regular.otf", "300": "Cantarell-Light.otf", "700": "Cantarell-Bold.otf"}),
    "Sora": ("sora", "sans", {"400": "Sora-Regular.otf", "100": "Sora-Thin.otf", "300": "Sora-Light.otf", "700": "Sora-Bold.otf"}),
    "Dosis": ("dosis", "sans", {"400": "Dosis-Book.otf", "200": "Dosis-ExtraLight.otf", "500": "Dosis-Medium.otf",
              "700": "Dosis-Bold.otf"}),
    "Yanone Kaffeesatz": ("yanone-kaffeesatz", "sans", {"400": "YanoneKaffeesatz-Regular.otf", "200": "YanoneKaffeesatz-ExtraLight.otf",
                          "700": "YanoneKaffeesatz-Bold.otf"}),
    "Quicksand": ("quicksand", "sans", {"400": "Quicksand-Regular.ttf", "300": "Quicksand-Light.ttf", "700": "Quicksand-Bold.ttf"}),
    "Comfortaa": ("comfortaa", "sans", {"400": "Comfortaa-Regular.ttf", "300": "Comfortaa-Light.ttf", "700": "Comfortaa-Bold.ttf"}),
    "Kaushan Script": ("kaushanscript", "script", {"400": "KaushanScript-Regular.otf"}),
    "Dancing Script": ("dancingscript", "script", {"400": "DancingScript-Regular.otf", "700": "DancingScript-Bold.otf"}),
    "Lobster": ("lobster", "script", {"400": "lobster.otf"}),
    "Lobster Two": ("lobstertwo", "script", {"400": "LobsterTwo-Regular.otf", "400i": "LobsterTwo-Italic.otf",
                    "700": "LobsterTwo-Bold.otf"}),
    "Leckerli One": ("leckerli-one", "script", {"400": "LeckerliOne-Regular.ttf"}),
    "Kristi": ("kristi", "script", {"400": "Kristi.ttf"}),
    "Comic Neue": ("comic-neue", "hand", {"400": "ComicNeue-Regular.otf", "400i": "ComicNeue-Italic.otf", "300": "ComicNeue-Light.otf",
                   "700": "ComicNeue-Bold.otf", "700i": "ComicNeue-BoldItalic.otf"}),
    "Ecolier": ("ecolier-court", "hand", {"400": "Ecolier-court.ttf"}),
    "Cabin Sketch": ("cabinsketch", "hand", {"400": "CabinSketch-Regular.ttf", "700": "CabinSketch-Bold.ttf"}),
    "Bebas Neue": ("bebas-neue", "display", {"700": "BebasNeue-Bold.otf", "300": "BebasNeue-Light.otf", "400": "BebasNeue-Regular.otf"}),
    "League Spartan": ("league-spartan", "display", {"700": "LeagueSpartan-Bold.otf", "300": "LeagueSpartan-Light.otf",
                       "900": "LeagueSpartan-Black.otf"}),
    "Cherry Bomb": ("cherrybomb", "display", {"400": "CherryBomb-Regular.otf"}),
    "Allerta Stencil": ("allerta", "display", {"400": "allerta_stencil.otf"}),
    # What letters fall back on that a family does not have, in this order.
    "Noto Sans": ("noto-core", "fallback", {"400": "NotoSans-Regular.ttf", "700": "NotoSans-Bold.ttf"}),
    "Noto Sans Hebrew": ("noto-core", "fallback", {"400": "NotoSansHebrew-Regular.ttf", "700": "NotoSansHebrew-Bold.ttf"}),
    "Noto Naskh Arabic": ("noto-core", "fallback", {"400": "NotoNaskhArabic-Regular.ttf", "700": "NotoNaskhArabic-Bold.ttf"}),
    "Noto Sans Devanagari": ("noto-core", "fallback", {"400": "NotoSansDevanagari-Regular.ttf"}),
    "Noto Sans Thai": ("noto-core", "fallback", {"400": "NotoSansThai-Regular.ttf"}),
    "Noto Sans Lao": ("noto-core", "fallback", {"400": "NotoSansLao-Regular.ttf"}),
    "Noto Sans Khmer": ("noto-core", "fallback", {"400": "NotoSansKhmer-Regular.ttf"}),
    "Noto Sans Myanmar": ("noto-core", "fallback", {"400": "NotoSansMyanmar-Regular.ttf"}),
    "Noto Sans Armenian": ("noto-core", "fallback", {"400": "NotoSansArmenian-Regular.ttf"}),
    "Noto Sans Georgian": ("noto-core", "fallback", {"400": "NotoSansGeorgian-Regular.ttf"}),
    "Noto Sans Symbols 2": ("noto-core", "fallback", {"400": "NotoSansSymbols2-Regular.ttf"}),
    "Noto Sans CJK": ("noto-cjk", "fallback", {"400": "NotoSansCJK-Regular.otf"}),
}  # fmt: skip


# What Japanese, Chinese and Korean calendars and names are written with: all of JIS X 0208, the more frequent half of GB 2312
# and of Big5, and the syllables of KS X 1001. Two bytes of an encoding that has them, from and to.
SETS = {"euc_jp": (0xA1, 0xFE), "gb2312": (0xA1, 0xD7), "big5": (0xA1, 0xC6), "euc_kr": (0xA1, 0xC8)}


def frequent() -> set[int]:
    """Letters of those sets."""
    found = {*range(0x20, 0x7F), *range(0x3000, 0x3100), *range(0xFF00, 0xFFF0)}
    for encoding, (low, high) in SETS.items():
        for pair in itertools.product(range(low, high + 1), range(0x40, 0xFF)):
            with suppress(UnicodeDecodeError):
                letters = bytes(pair).decode(encoding)
                found |= {ord(letters)} if len(letters) == 1 else set()
    return found


def cut_cjk(collection: Path, out: Path) -> None:
    """The frequent letters of the collection's Japanese font, with their Chinese and Korean forms."""
    whole = next(font for font in TTCollection(collection).fonts if font["name"].getDebugName(4) == "Noto Sans CJK JP")
    features = ["locl", "ccmp", "kern", "mark", "mkmk", "ljmo", "vjmo", "tjmo"]
    options = Options(layout_features=features, hinting=False, glyph_names=False, name_IDs=[1, 2, 4, 6, 13, 14])
    cutter = Subsetter(options)
    cutter.populate(unicodes=frequent())
    cutter.subset(whole)
    whole.save(out)


def main(folder: Path) -> None:
    for old in [*OUT.glob("*.otf"), *OUT.glob("*.ttf"), *OUT.glob("LICENCE-*")]:
        old.unlink()
    told = []
    for family, (package, kind, faces) in FAMILIES.items():
        root = folder / f"fonts-{package}"
        for file in faces.values():
            if package == "noto-cjk":
                cut_cjk(next(root.rglob(Path(file).with_suffix(".ttc").name)), OUT / file)
                continue
            found = next(path for path in sorted(root.rglob(file)) if not path.is_symlink())
            shutil.copyfile(found, OUT / file)
        licence = next(root.glob("usr/share/doc/*/copyright"))
        shutil.copyfile(licence, OUT / f"LICENCE-{package}.txt")
        rows = [
            {"file": file, "weight": int(key.rstrip("i")), "slant": key.endswith("i")} for key, file in faces.items()
        ]
        told.append({"name": family, "kind": kind, "licence": f"LICENCE-{package}.txt", "faces": rows})
    (OUT / "families.json").write_text(json.dumps(told, indent=1, ensure_ascii=False) + "\n", "utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
