"""What a template is dressed with, in the real browser: textures, named colours, ornaments, the studio card; files brought in."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from sutaru.core.document import Photo
from sutaru.demo.demo_data import FILES
from tests.api import asking
from tests.browser.acting import bring, figure, violations
from tests.browser.given import Asked
from tests.browser.test_workshop import Draft

MARK = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><path d="M0 0H20L10 10Z"/></svg>'


@pytest.fixture
def draft(page: Page, base_url: str) -> Callable[..., Draft]:
    return lambda **asked: Draft(page, base_url, **asked)


def choose(page: Page, name: str, option: str) -> None:
    page.get_by_role("combobox", name=name, exact=True).click()
    page.get_by_role("option", name=option).first.click()


def kinds(here: Draft) -> list[str]:
    return [layer["kind"] for layer in here.layout()["layers"]]


def test_a_ground_of_linen_in_a_colour_that_has_a_name(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=200, height_mm=150)
    page.get_by_role("button", name="Add background").click()
    choose(page, "Texture", "linen")
    figure(page, "Strength", "60")
    page.get_by_role("button", name="Save as swatch").last.click()
    page.get_by_label("Name of the colour").fill("Dune")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Dune", exact=True).first).to_be_visible()
    (ground,) = here.layout()["layers"]
    assert ground["texture"] == {
        "kind": "linen",
        "colour": "swatch Dune",
        "scale_mm": 0.9,
        "strength": 0.6,
        "turn_deg": 0,
        "seed": 0,
    }
    assert here.layout()["swatches"] == {"Dune": "#8a7c63"}
    # Words take the same colour; changed once, both change.
    words = here.draw("t", (40, 40), (120, 60))
    expect(page.get_by_label("on the sheet")).to_be_focused()  # an Escape before would end the typing only
    page.get_by_role("group", name="Colour of the words: named colours").get_by_role("button", name="Dune").click()
    expect(page.get_by_role("tooltip", name="Dune")).to_be_visible()  # the pointer is there still; it holds up no key
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name="Sheet", exact=True)).to_be_visible()
    page.get_by_label("Dune", exact=True).fill("#335566")
    page.get_by_label("Dune", exact=True).blur()
    assert here.layout()["swatches"] == {"Dune": "#335566"}
    assert here.layer(words)["colour"] == "swatch Dune"
    page.get_by_role("button", name="Delete swatch Dune").click()
    expect(page.get_by_role("button", name="Delete swatch Dune")).to_have_count(0)
    assert here.layer(words)["colour"] == "#335566"
    assert violations(page) == []


def test_ornaments_are_found_laid_and_pulled_onto_the_sheet(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=200, height_mm=150)
    page.keyboard.press("b")
    shelf = page.get_by_role("region", name="Ornaments")
    shelf.get_by_label("Find an ornament").fill("lighthouse")
    shelf.get_by_role("button", name="lighthouse, sea").click()
    one = here.chosen()
    assert here.layer(one)["centre"] == [100, 75]
    assert here.layer(one)["traced"].startswith("M")
    shelf.get_by_label("Find an ornament").fill("")
    shelf.get_by_role("button", name="dividers", exact=True).click()
    piece = shelf.get_by_role("button", name="swash, dividers")
    x, y = here.at(150, 120)
    box = page.locator("svg[data-tool]:has([data-layer])").bounding_box()
    assert box
    piece.drag_to(
        page.locator("svg[data-tool]:has([data-layer])"), target_position={"x": x - box["x"], "y": y - box["y"]}
    )
    expect(page.get_by_role("region", name=re.compile("Selected: swash"))).to_be_visible()
    laid = here.layout()["layers"][-1]
    assert laid["centre"] == pytest.approx([150, 120], abs=1.5)
    assert (laid["width_mm"], laid["height_mm"]) == pytest.approx((112.5, 13.5))  # three times a quarter of the sheet
    page.get_by_test_id("ornament-file").set_input_files(
        {"name": "mark.svg", "mimeType": "image/svg+xml", "buffer": MARK}
    )
    expect(page.get_by_role("region", name="Selected: mark")).to_be_visible()
    assert kinds(here) == ["ornament"] * 3
    page.get_by_role("button", name="Close ornaments").click()
    expect(shelf).to_have_count(0)


def test_every_imprint_says_what_the_studio_card_says(page: Page, base_url: str, draft: Callable[..., Draft]) -> None:
    here = draft(template="card-portrait")
    page.goto(base_url)
    page.get_by_role("button", name="Studio card").click()
    page.get_by_label("Name of the studio").fill("Marram Studio")
    page.get_by_label("Web address").fill("marram-studio.example")
    page.get_by_test_id("logo-file").set_input_files({"name": "logo.svg", "mimeType": "image/svg+xml", "buffer": MARK})
    expect(page.get_by_alt_text("The logo")).to_be_visible()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Marram Studio's bench for photos and templates")).to_be_visible()
    job = asking.head(Asked(page), here.id)["job"]
    assert (job["studio"]["name"], bool(job["studio"]["logo"])) == ("Marram Studio", True)
    page.request.put(f"{base_url}/api/studio-card", data={})  # as it was, for other tests


def test_an_order_takes_the_card_as_it_is_now(page: Page, base_url: str) -> None:
    order = asking.start(Asked(page), "card-portrait")
    page.request.put(f"{base_url}/api/studio-card", data={"name": "Marram Studio", "web": "marram-studio.example"})
    page.goto(f"{base_url}/jobs/{order}?sheet=outside&selected=imprint")
    page.get_by_role("button", name="Update studio card").click()
    expect(page.get_by_role("button", name="Update studio card")).to_have_count(0)
    assert asking.head(Asked(page), order)["job"]["studio"]["name"] == "Marram Studio"
    page.request.put(f"{base_url}/api/studio-card", data={})


def bring_in(page: Page, base_url: str, path: Path, how: str = "") -> None:
    page.goto(base_url)
    page.get_by_role("button", name="New template").click()
    if how:
        choose(page, "Openings are", how)
    page.get_by_test_id("template-file").set_input_files(path)
    expect(page.get_by_test_id("sheet")).to_be_visible(timeout=60_000)


def test_a_labs_blank_is_drawn_upon(page: Page, base_url: str) -> None:
    bring_in(page, base_url, FILES / "gullwing-card-blank.pdf", "drawn by hand; the picture is only a guide")
    expect(page.get_by_text("It is in the workshop as a guide")).to_be_visible()
    expect(page.get_by_text("14 × 5 in")).to_be_visible()
    page.keyboard.press("r")
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Selected: Opening 1")).to_be_visible()


def test_an_area_that_was_not_read_is_pointed_at(page: Page, base_url: str, tmp_path: Path) -> None:
    rgb = np.full((600, 800, 3), (230, 220, 200), np.uint8)
    rgb[100:300, 80:360], rgb[100:300, 440:720] = (180, 180, 180), (90, 120, 150)
    Image.fromarray(rgb).save(tmp_path / "two.png", dpi=(127, 127))
    bring_in(page, base_url, tmp_path / "two.png")
    expect(page.get_by_text("1 opening found")).to_be_visible()
    expect(page.locator("[data-layer^=opening]")).to_have_count(1)
    here = Draft.__new__(Draft)
    here.page, here.id = page, page.url.split("/jobs/")[1].split("/")[0]
    page.keyboard.press("k")
    page.mouse.click(*here.at(116, 40))
    expect(page.locator("[data-layer^=opening]")).to_have_count(2)
    second = next(layer for layer in here.layout()["layers"] if layer["id"] == here.chosen())
    assert (second["outline"]["width_mm"], second["outline"]["height_mm"]) == pytest.approx((56, 40), abs=0.6)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-layer^=opening]")).to_have_count(1)
    page.keyboard.press("k")
    page.mouse.click(*here.at(10, 10))
    expect(page.get_by_text("This is the ground of the whole picture")).to_be_visible()


def test_a_sheet_is_laid_on_another_and_shapes_become_openings(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(template="album-pages-8")
    choose(page, "Place another sheet", "One")
    view = here.layout()["layers"][-1]
    assert (view["kind"], view["of"], view["outline"]["width_mm"]) == ("page", "one", pytest.approx(101.6, abs=0.1))
    page.keyboard.press("Escape")
    shape = here.draw("c", (20, 20), (70, 60))
    page.get_by_role("button", name="Convert to opening").click()
    expect(page.get_by_role("region", name=re.compile("Selected: Opening"))).to_be_visible()
    assert here.layer(shape)["kind"] == "opening"
    with page.expect_download() as saved:
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Save as SVG").click()
    assert b"<svg" in saved.value.path().read_bytes()[:200]


def test_the_first_photo_chooses_the_variant_even_when_the_second_is_in_sooner(
    page: Page, base_url: str, pile: list[tuple[Path, Photo]], tmp_path: Path
) -> None:
    page.goto(base_url)
    page.get_by_label("Find a template").or_(page.get_by_placeholder("Name, occasion, size")).first.fill(
        "folded card, portrait"
    )
    page.get_by_role("button", name="New job").first.click()
    expect(page.get_by_label("Chosen by the first photo: landscape or portrait")).to_be_checked()
    page.get_by_role("button", name="Create job").click()
    page.wait_for_url(re.compile("/jobs/"))
    order = page.url.split("/jobs/")[1].split("?")[0]
    wide = tmp_path / "wide.jpg"
    Image.effect_noise((6000, 4000), 60).save(wide)
    bring(page, [wide, next(path for path, photo in pile if photo.width < photo.height)])
    expect(page.get_by_text("2 photos brought in")).to_be_visible()
    # The other one lies across too: a test of the workshop keeps it on the shelf.
    assert asking.head(Asked(page), order)["job"]["template"] in ("card-landscape", "card-turned")
    expect(page.get_by_text("7 × 10 in")).to_be_visible()


def test_a_sheet_is_exported_with_its_layers(page: Page, base_url: str) -> None:
    order = asking.start(Asked(page), "postcard-two")
    asking.accept_all(Asked(page), order)
    page.goto(f"{base_url}/jobs/{order}/dispatch")
    page.get_by_text("Layers", exact=True).click()
    expect(page.get_by_text("each photo, frame and word on a layer of its own")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Export 2 pages")).click()
    link = page.get_by_role("link", name=re.compile("\\.ora$")).first
    expect(link).to_be_visible(timeout=60_000)
    assert page.request.get(f"{base_url}{link.get_attribute('href')}").body()[30:54] == b"mimetypeimage/openraster"
