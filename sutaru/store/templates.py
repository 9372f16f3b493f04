"""The studio's own templates, each revision kept as it was; and which templates are archived."""

import logging
import re
import threading

from pydantic import ValidationError

from ..core.document import Template
from ..core.errors import EditRefused, FileRefused, NotFound, describe_complaint
from .database import Database
from .times import now

log = logging.getLogger("sutaru.store")


class Templates:
    """The tables ``template``, ``template_away`` and ``favourite``."""

    def __init__(self, database: Database) -> None:
        self._db = database
        self._read: dict[tuple[str, int], Template] = {}
        self._lock = threading.Lock()

    def list_all(self) -> list[Template]:
        """The newest revision of each that can be read, those kept last first. What cannot be read is told to the log."""
        with self._db.reading() as db:
            rows = db.execute(
                "SELECT id, max(revision) AS revision FROM template GROUP BY id ORDER BY max(made) DESC, id"
            ).fetchall()
        templates = []
        for row in rows:
            try:
                templates.append(self._readable(row["id"], row["revision"]))
            except FileRefused:
                log.error("template %s cannot be read in any revision", row["id"])
        return templates

    def _readable(self, identity: str, revision: int) -> Template:
        """The newest revision that can be read, from one on down. Raises FileRefused when none can."""
        for number in range(revision, 1, -1):
            try:
                return self.get(identity, number)
            except (FileRefused, NotFound):
                log.error("revision %d of template %s cannot be read", number, identity)
        return self.get(identity, 1)

    def newest_revision(self, identity: str) -> int:
        """The number of a template's newest revision; 0 when it is none of the studio's own."""
        with self._db.reading() as db:
            row = db.execute("SELECT max(revision) AS n FROM template WHERE id = :id", {"id": identity}).fetchone()
        return row["n"] or 0

    def get(self, identity: str, revision: int | None = None) -> Template:
        """A template as it was kept, or as it was kept last. Raises NotFound, and FileRefused when it is damaged."""
        number = revision or self.newest_revision(identity)
        with self._lock:
            known = self._read.get((identity, number))
        if known:
            return known
        with self._db.reading() as db:
            row = db.execute(
                "SELECT document FROM template WHERE id = :id AND revision = :revision",
                {"id": identity, "revision": number},
            ).fetchone()
        if row is None:
            raise NotFound("This template was not found.", "Choose one on the shelf.")
        try:
            template = Template.model_validate_json(row["document"])
        except ValidationError:
            raise FileRefused("This template cannot be read any more.", "Bring it in again from its file.") from None
        with self._lock:
            self._read[identity, number] = template
        return template

    def keep(self, template: Template, taken: set[str], template_id: str = "") -> Template:
        """Keeps a template as the next revision of ``own``, or as a new one under an id of its own; as it was kept.

        ``taken``: ids that are not free besides. Nothing kept before changes.
        """
        with self._db.transaction() as db:
            number = db.execute("SELECT max(revision) FROM template WHERE id = :id", {"id": template_id}).fetchone()[0]
            if template_id and not number:
                raise NotFound("This template of the studio was not found.", "Save it as a new one.")
            if not template_id:
                ids = {row["id"] for row in db.execute("SELECT DISTINCT id FROM template")} | taken
                template_id = _free_name(template.name, ids)
            kept_template = _read_back(template.copy_with(id=template_id, revision=(number or 0) + 1))
            db.execute(
                "INSERT INTO template (id, revision, made, document) VALUES (:id, :revision, :made, :document)",
                {
                    "id": template_id,
                    "revision": kept_template.revision,
                    "made": now(),
                    "document": kept_template.model_dump_json(),
                },
            )
            db.execute("DELETE FROM template_away WHERE id = :id", {"id": template_id})
        return kept_template

    def list_archived(self) -> set[str]:
        """Ids of archived templates."""
        with self._db.reading() as db:
            return {row["id"] for row in db.execute("SELECT id FROM template_away")}

    def list_favourites(self) -> set[str]:
        """Ids of templates that are favourites."""
        with self._db.reading() as db:
            return {row["id"] for row in db.execute("SELECT id FROM favourite")}

    def set_favourite(self, identity: str, is_favourite: bool) -> None:
        """Makes a template a favourite, or no favourite any more."""
        with self._db.transaction() as db:
            if is_favourite:
                db.execute("INSERT OR IGNORE INTO favourite (id, at) VALUES (:id, :at)", {"id": identity, "at": now()})
            else:
                db.execute("DELETE FROM favourite WHERE id = :id", {"id": identity})

    def archive(self, identity: str, is_archived: bool) -> None:
        """Archives a template: it is off the shelf; or returns it."""
        with self._db.transaction() as db:
            if is_archived:
                db.execute(
                    "INSERT OR IGNORE INTO template_away (id, at) VALUES (:id, :at)", {"id": identity, "at": now()}
                )
            else:
                db.execute("DELETE FROM template_away WHERE id = :id", {"id": identity})


def _read_back(template: Template) -> Template:
    """A template as it will be read. Raises EditRefused when it cannot be, before it is stored."""
    try:
        return Template.model_validate_json(template.model_dump_json())
    except ValidationError as error:
        raise EditRefused(
            f"This cannot be stored: {describe_complaint(error.errors()[0])}", "Do it another way."
        ) from error


def _free_name(name: str, taken: set[str]) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:50] or "template"
    number = 1
    while (free := stem if number == 1 else f"{stem}-{number}") in taken:
        number += 1
    return free
