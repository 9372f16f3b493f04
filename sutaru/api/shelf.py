"""Templates and lab sheets."""

from fastapi import APIRouter, Response

from ..core.document import Job, LabSheet, Template
from ..core.edits import BringIn, Fill, apply
from .models import PageCard, TemplateCard
from .samples import sample_photos
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["shelf"])


@router.get("/templates")
def templates(studio: InStudio) -> list[TemplateCard]:
    """All templates of the shelf."""
    return [_card(template) for template in studio.templates.values()]


def _card(template: Template) -> TemplateCard:
    pages = [
        PageCard(
            id=p.id,
            name=p.name,
            width_mm=p.width_mm,
            height_mm=p.height_mm,
            bleed_mm=p.bleed_mm,
            openings=len(p.openings()),
        )
        for p in template.pages
    ]
    return TemplateCard(
        id=template.id, name=template.name, product=template.product, occasion=template.occasion, note=template.note,
        orientation=template.orientation, pages=pages,
    )  # fmt: skip


@router.get("/templates/{template}/pages/{page}/picture", response_class=Response)
def template_picture(studio: InStudio, template: str, page: str, width: int = 480) -> Response:
    """A page of a template, its openings filled with sample photos, as JPEG."""
    found = studio.template(template)
    data = studio.picture(f"template {found.id}", _filled(studio, found), page, min(max(width, 60), 1600), notes=False)
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "max-age=3600"})


def _filled(studio: Studio, template: Template) -> Job:
    """The template as a job, its openings filled with the sample photos, each as often as need be."""
    lab = next(iter(studio.labs.values()))
    job = Job(name=template.name, template=template.id, product=template.product, pages=template.pages, lab=lab)
    samples = sample_photos(studio)
    if not samples:
        return job
    job = apply(job, BringIn(photos=tuple(samples)))
    while len(job.edition.placements) < len(job.openings_by_id):
        spare = dict(job.edition.placements)
        free = job.having(
            pages=tuple(
                p.having(layers=tuple(la for la in p.layers if la.id not in spare)) for p in job.pages
            ),
            edition=job.edition.having(placements={}),
        )  # fmt: skip
        more = apply(free, Fill()).edition.placements
        job = job.having(edition=job.edition.having(placements={**spare, **more}))
    return job


@router.get("/labs")
def labs(studio: InStudio) -> list[LabSheet]:
    """All lab sheets."""
    return list(studio.labs.values())
