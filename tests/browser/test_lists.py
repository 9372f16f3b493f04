"""A list of customers in the real browser: brought in, its columns seen and changed, its rows made editions, all exported."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.acting import bring, choose, let_pass, settled, violations
from tests.browser.given import Pile

CSV = """Family,Picture,greeting,who,Copies
Brandvik,festival-01,Fair winds,Ola,25
Holm,festival-99,Moin,Jette,1
Moor,festival-02.jpg,Thank you,Thessaly,3
"""


def test_a_list_of_customers(page: Page, start: Callable, pile: Pile, tmp_path: Path) -> None:
    start("Folded card, portrait", "Families")
    bring(page, [path for path, _ in pile[:3]])
    expect(page.get_by_text("3 photos brought in")).to_be_visible()
    settled(page)
    (tmp_path / "families.csv").write_text(CSV)
    page.get_by_title("Editions of these pages").click()
    page.get_by_role("menuitem", name="From a list of customers…").click()
    page.locator("input[type=file][accept='.csv,.txt,.tsv,.xlsx']").set_input_files(tmp_path / "families.csv")
    table = page.get_by_role("table", name="The list")
    rows = table.locator("tbody tr")
    expect(rows.nth(0)).to_contain_text("a new edition")
    expect(rows.nth(1)).to_contain_text("There is no photo festival-99 in the pile.")
    expect(page.get_by_text("2 new editions, 1 row left out")).to_be_visible()
    # What it could not tell is said by hand.
    expect(page.get_by_role("combobox", name="Meaning of who")).to_have_value("not used")
    choose(page, "Meaning of who", "words: names on Inside")
    expect(page.get_by_text("2 new editions, 1 row left out")).to_be_visible()
    expect(page.get_by_role("listbox")).to_have_count(0)
    assert violations(page) == []
    page.get_by_role("button", name="Make 2 editions").click()
    settled(page)
    page.get_by_title("Editions of these pages").click()
    page.get_by_role("menuitem", name="Moor").click()
    expect(page.get_by_title("Editions of these pages")).to_have_text("Moor")
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival-02"))).to_be_visible()
    settled(page)
    # The first one, empty, is taken away, and all others leave at once.
    page.get_by_title("Editions of these pages").click()
    page.get_by_role("menuitem", name="First").click()
    expect(page.get_by_title("Editions of these pages")).to_have_text("First")
    page.get_by_title("Editions of these pages").click()
    page.get_by_role("menuitem", name="Delete edition").click()
    settled(page)
    page.get_by_role("link", name="Dispatch").click()
    page.get_by_label("All 2 editions").check()
    let_pass(page)
    page.get_by_role("button", name="Export 4 pages").click()
    expect(page.get_by_role("link", name="Moor_Families_02.jpg")).to_be_visible(timeout=120_000)
    expect(page.get_by_role("link", name="Brandvik_Families_01.jpg")).to_be_visible()
    # The same on print sheets, fronts and backs.
    page.get_by_role("button", name="On print sheets…").click()
    choose(page, "Print sheet", "640 × 450 mm")
    choose(page, "Sides", "double-sided, flip on long edge")
    expect(page.get_by_role("listbox")).to_have_count(0)
    assert violations(page) == []
    page.get_by_role("button", name="Make print sheets").click()
    expect(page.get_by_role("link", name="Families-sheets.pdf")).to_be_visible(timeout=120_000)
    expect(page.get_by_text(re.compile(r"6 print sheets of 640 × 450 mm, 5 on a side"))).to_be_visible()
