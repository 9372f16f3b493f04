"""Open formats read and written: shelf folders and job bundles."""

from .bundle import Bundle, member, write_bundle
from .shelf import plainly, read_labs, read_template, read_templates

__all__ = ["Bundle", "member", "plainly", "read_labs", "read_template", "read_templates", "write_bundle"]
