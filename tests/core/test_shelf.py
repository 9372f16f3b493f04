"""The shelf that ships: enough to choose from, words that fit."""

from itertools import groupby

import pytest

from sutaru.core.checks import check_job
from sutaru.core.document import Job, Template
from sutaru.core.formats.shelf import Shelf, read_shelf
from sutaru.shelf import FOLDER

SHELF: Shelf = read_shelf(FOLDER)
# What a customer's photos and words decide, or a sheet's without any: empty openings, samples, the studio's own card.
OF_THE_JOB = {"empty_opening", "sample_words", "sample_photo", "studio_card", "empty_page", "empty_words"}


def test_there_is_enough_to_choose_from() -> None:
    assert len(SHELF.templates) >= 150
    assert len(SHELF.themes) >= 16
    products = {template.product for template in SHELF.templates.values()}
    assert products == {"album", "card", "collage", "calendar", "mockup"}
    assert len({template.occasion for template in SHELF.templates.values()}) >= 16


def test_a_name_is_one_design_in_several_sizes() -> None:
    """The shelf shows templates of one name and product together, each by its size."""
    named = sorted(SHELF.templates.values(), key=lambda template: (template.product, template.name))
    for (product, name), several in groupby(named, key=lambda template: (template.product, template.name)):
        sizes = [(t.sheets[0].layout.width_mm, t.sheets[0].layout.height_mm) for t in several]
        assert len(set(sizes)) == len(sizes), (product, name)
    assert len({template.name for template in named}) == len({(template.product, template.name) for template in named})


@pytest.mark.parametrize("template", SHELF.templates.values(), ids=lambda template: template.id)
def test_nothing_is_found_that_the_customer_does_not_decide(template: Template) -> None:
    job = Job(name="first", template=template.id, product=template.product, sheets=template.sheets,
              lab=next(iter(SHELF.labs.values())))  # fmt: skip
    findings = check_job(job, job.editions[0].id, SHELF.files.__getitem__)
    assert [f.sentence for f in findings if f.rule not in OF_THE_JOB] == []
