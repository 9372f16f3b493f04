"""Looks: recipes of tone that ship, with plain names. All are our own."""

from typing import Any

Step = dict[str, Any]


def contrast(amount: float) -> Step:
    return {"kind": "contrast", "amount": amount}


def exposure(stops: float) -> Step:
    return {"kind": "exposure", "stops": stops}


def warmth(warm: float, tint: float = 0.0) -> Step:
    return {"kind": "white_balance", "warmth": warm, "tint": tint}


def saturation(amount: float) -> Step:
    return {"kind": "colour", "saturation": amount}


def grey(red: float, green: float, blue: float) -> Step:
    return {"kind": "black_and_white", "red": red, "green": green, "blue": blue}


def curves(**points: list[list[float]]) -> Step:
    return {"kind": "curves", **points}


MATT = [[0, 20], [64, 72], [192, 197], [255, 244]]
FADED = [[0, 38], [64, 84], [192, 192], [255, 232]]
LOOKS: tuple[tuple[str, tuple[Step, ...]], ...] = (
    ("Clear", (contrast(14), saturation(6))),
    ("Bright", (exposure(0.3), contrast(8))),
    ("Deep", (contrast(28), saturation(8))),
    ("Soft", (contrast(-20),)),
    ("Airy", (exposure(0.45), contrast(-14), saturation(-10))),
    ("Matt", (curves(all=MATT), saturation(-8))),
    ("Strong colour", (contrast(8), saturation(26))),
    ("Portrait", (contrast(-6), warmth(7, 2), saturation(-4))),
    ("Warm light", (exposure(0.1), warmth(18))),
    ("Late sun", (warmth(34, 4), contrast(10), curves(blue=[[0, 0], [128, 118], [255, 226]]))),
    ("Sand", (warmth(12), saturation(-24), curves(all=MATT))),
    ("Old print", (warmth(24, 4), saturation(-38), curves(all=FADED))),
    ("Cool light", (warmth(-18),)),
    ("Sea air", (warmth(-14, -6), contrast(8), saturation(8))),
    ("Overcast", (warmth(-9), contrast(-6), saturation(-28))),
    ("Faded", (saturation(-30), curves(all=FADED))),
    ("Dusk", (curves(red=[[0, 0], [128, 134], [255, 255]], blue=[[0, 26], [128, 130], [255, 236]]), contrast(8))),
    ("Night", (exposure(-0.35), warmth(-16), curves(blue=[[0, 18], [255, 248]]))),
    ("Black and white", (grey(0.21, 0.72, 0.07), contrast(10))),
    ("Black and white, soft", (grey(0.4, 0.45, 0.15), contrast(-14))),
    ("Black and white, hard", (grey(0.3, 0.6, 0.1), contrast(46))),
    ("Black and white, dark sky", (grey(0.75, 0.22, 0.03), contrast(20))),
    ("Sepia", (grey(0.3, 0.6, 0.1), curves(red=[[0, 12], [128, 146], [255, 250]], blue=[[0, 4], [128, 104], [255, 218]]))),
    ("Cool grey", (grey(0.3, 0.6, 0.1), curves(red=[[0, 0], [128, 122], [255, 244]], blue=[[0, 12], [128, 136], [255, 252]]))),
)  # fmt: skip


def make_looks() -> list[dict[str, Any]]:
    """All of them, as a file of the shelf holds them."""
    return [{"name": name, "steps": list(steps)} for name, steps in LOOKS]
