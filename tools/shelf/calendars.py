"""Calendars: wall, desk, planner, birthdays, a poster of the year."""

from sutaru.core.measure import inch

from .parts import (
    INK,
    MONTHS,
    PAPER,
    RUST,
    SAND,
    SEA,
    SIGNS,
    Layer,
    at,
    days,
    ground,
    imprint,
    months,
    piece,
    r,
    sheet,
    template,
    texture,
    words,
)


def calendars() -> list[Layer]:
    """A wall calendar that folds, a desk calendar, a planner, one for birthdays without a year, a poster of the year."""
    rule = {"width_mm": 0.12, "colour": "#b9b2a2"}
    w, h = inch(11), inch(17)  # two leaves of 11 x 8.5 in, bound where they meet
    leaf = [
        ground(PAPER, texture=texture("paper", 0.7, "#8a7c63", 0.1)),
        at("opening-1", -3, -3, w + 6, h / 2 + 3),
        days("dates", w / 2, h * 0.75, w - 28, h / 2 - 24, 17, font="Cabin", figure="corner", line=rule, dates_pt=7.5,
             holiday_names=True, weekdays="long", title={"colour": SEA}, sunday={"colour": RUST}, holiday={"colour": RUST}),
        imprint(w / 2, h - 9, colour=SEA),
    ]  # fmt: skip
    fold = {
        "lines": [{"kind": "fold", "axis": "y", "at_mm": round(h / 2, 3)}],
        "holes": [{"at": [r(w / 2), 8.0], "diameter_mm": 6.0}],
    }
    front = [
        ground(SEA, texture=texture("linen", 0.9, "#10242b", 0.3)),
        at("opening-1", 22, 26, w - 44, h / 2 + 40, radius=2, border={"width_mm": 2.5, "colour": PAPER}),
        words("title", "A year of wind", w / 2, h / 2 + 92, w - 40, 26, 44, font="Yrsa", colour=PAPER),
        words(
            "year", "{year}", w / 2, h / 2 + 120, w - 40, 16, 26, font="Cabin", colour=SAND, sample=False, tracking=200
        ),
        imprint(w / 2, h - 16, colour=SAND),
    ]
    cover = {**sheet("cover", "Cover", w, h, front, "cover"), "fields": {"month": "2027-01"}}
    dw, dh = inch(8), inch(6)
    desk = [
        ground(SAND),
        at("opening-1", -3, -3, dw * 0.56 + 3, dh + 6),
        days("dates", dw * 0.785, dh * 0.42, dw * 0.36, dh * 0.56, 10, font="Karla", title={"colour": SEA}, sunday={"colour": RUST},
             holiday={"colour": RUST}, weeks="six", neighbours="none"),
        days("next-month", dw * 0.785, dh * 0.84, dw * 0.2, dh * 0.2, 4.5, font="Karla", offset=1, weekdays="narrow", weeks="six",
             neighbours="none", dates=False, title={"colour": SEA}),
    ]  # fmt: skip
    aw, ah = inch(5.5), inch(8.5)
    planner = [
        ground(PAPER),
        at("opening-1", -3, -3, aw + 6, 52),
        days("dates", aw / 2, 132, aw - 22, 152, 9, shows="list", font="Cabin", line=rule, dates_pt=7, holiday_names=True,
             title={"colour": SEA}, sunday={"colour": RUST}, holiday={"colour": RUST}),
    ]  # fmt: skip
    bw, bh = inch(8.5), inch(11)
    leaves = []
    for n, month in enumerate(MONTHS):
        layers = [
            ground(PAPER, texture=texture("paper", 0.7, "#8a7c63", 0.12)),
            at("opening-1", -3, -3, bw + 6, 138),
            words("month", "{month}", bw / 2, 147, bw - 60, 18, 30, font="EB Garamond", colour=SEA, sample=False),
            piece("sign", SIGNS[n], 26, 147, 14, 14, colour=RUST),
            days("dates", bw / 2, 216, bw - 28, 112, 9, shows="list", columns=2, perpetual=True, heading="none", line=rule,
                 dates_pt=8, font="Lato", day={"colour": INK}),
        ]  # fmt: skip
        leaves.append(
            {**sheet(month.lower(), month, bw, bh, layers, "month"), "fields": {"month": f"2027-{n + 1:02d}"}}
        )
    pw, ph = inch(11), inch(17)
    wall = [
        ground(SEA, texture=texture("linen", 0.9, "#10242b", 0.3)),
        words("title", "A year at Skerry Sands", pw / 2, 20, pw - 30, 16, 32, font="EB Garamond", colour=PAPER),
    ]
    look = {"day": {"colour": PAPER}, "weekend": {"colour": SAND}, "sunday": {"colour": "#f0b48a"}, "holiday": {"colour": "#f0b48a"},
            "title": {"colour": SAND}}  # fmt: skip
    for n in range(12):
        x, y = 14 + (n % 3) * 85, 34 + n // 3 * 96
        wall += [
            at(f"opening-{n + 1}", x, y, 81, 50, radius=1.5),
            days(f"dates-{n + 1}", x + 40.5, y + 72, 79, 40, 6.2, offset=n, weekdays="narrow", weeks="six", neighbours="none",
                 heading="month", font="Cabin", dates=False, **look),
        ]  # fmt: skip
    wall.append(imprint(pw / 2, ph - 7, colour=SAND))
    poster = {**sheet("wall", "Wall", pw, ph, wall, "month"), "fields": {"month": "2027-01"}}
    return [
        template("calendar-birthdays", "Birthdays", "calendar", "birthday", "Twelve 8.5 x 11 in leaves without a year.", *leaves, tags=("perpetual",)),
        template("calendar-months", "Twelve months", "calendar", "year", "11 x 17 in, a photo and its days for each month.", poster, tags=("poster",)),
        template("calendar-wall", "Wall calendar", "calendar", "year", "11 x 17 in leaves that fold to 11 x 8.5 in: a photo above, its month below.", cover, *months(leaf, w, h, **fold), tags=("wall",)),
        template("calendar-desk", "Desk calendar", "calendar", "year", "8 x 6 in leaves, the month and the next.", *months(desk, dw, dh), tags=("desk",)),
        template("calendar-planner", "Planner", "calendar", "year", "5.5 x 8.5 in, a line for each day.", *months(planner, aw, ah), tags=("planner",)),
    ]  # fmt: skip
