"""Makes the interface's fonts of those that ship: WOFF2 of the letters that its words are of, and of all others for names.

``python tools/make_web_fonts.py`` once a font changes; it needs ``pip install fonttools brotli``, which nothing else does.
"""

from pathlib import Path

from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

ROOT = Path(__file__).parent.parent
FROM, TO = ROOT / "sutaru" / "core" / "words" / "fonts", ROOT / "web" / "src" / "fonts"
# Latin with its punctuation, arrows and signs as the interface writes them; the rest is fetched when a name needs it.
LATIN = [*range(0x20, 0x180), *range(0x2000, 0x2070), *range(0x20A0, 0x20C0), *range(0x2100, 0x2150), *range(0x2190, 0x2200),
         *range(0x2200, 0x2270)]  # fmt: skip


def main() -> None:
    TO.mkdir(exist_ok=True)
    for weight in ("Regular", "SemiBold"):
        known = set(TTFont(FROM / f"Manrope-{weight}.ttf").getBestCmap())
        for name, letters in (("latin", known & set(LATIN)), ("others", known - set(LATIN))):
            font = TTFont(FROM / f"Manrope-{weight}.ttf")
            options = Options(layout_features=["*"], flavor="woff2")
            subsetter = Subsetter(options)
            subsetter.populate(unicodes=letters)
            subsetter.subset(font)
            font.flavor = "woff2"
            font.save(TO / f"manrope-{weight.lower()}-{name}.woff2")


if __name__ == "__main__":
    main()
