"""Open formats read and written: shelf folders, job bundles, masks; and what earlier versions wrote."""

from .assets import Asset, read_asset
from .bundle import Bundle, added_assets, asset_names, job_assets, member, write_bundle
from .dates_file import ReadDates, read_dates
from .flat import FlatRead, read_flat, read_picture
from .masks import read_mask, traced_outline
from .shelf import Shelf, plainly, read_shelf, read_template
from .template_file import read_template_file, write_template_file
from .upgrading import upgraded_job, upgraded_template

__all__ = [
    "Asset",
    "Bundle",
    "FlatRead",
    "ReadDates",
    "Shelf",
    "added_assets",
    "asset_names",
    "job_assets",
    "member",
    "plainly",
    "read_asset",
    "read_dates",
    "read_flat",
    "read_mask",
    "read_picture",
    "read_shelf",
    "read_template",
    "read_template_file",
    "traced_outline",
    "upgraded_job",
    "upgraded_template",
    "write_bundle",
    "write_template_file",
]  # fmt: skip
