"""Tokens by which scripts come in where a passphrase is asked for: the table ``token``. Of each only its hash is stored."""

import hashlib
import secrets
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, closing, contextmanager
from dataclasses import dataclass
from pathlib import Path

from ..core.errors import EditRefused, NotFound
from .times import now

PREFIX = "sutaru_"  # so that one that leaks is known for what it is
Transaction = Callable[[], AbstractContextManager[sqlite3.Connection]]


@dataclass(frozen=True)
class Token:
    """A token as it is listed. ``used``: when it was used last, to the day; None for never."""

    name: str
    created: str
    used: str | None


class Tokens:
    """The table ``token``. ``transaction`` gives a connection that commits at its end, ``reading`` one for queries."""

    def __init__(self, transaction: Transaction, reading: Transaction) -> None:
        self._transaction, self._reading = transaction, reading

    def add(self, name: str) -> str:
        """Make a token; it is shown this once. Raises EditRefused for a name that there is."""
        token = PREFIX + secrets.token_urlsafe(32)
        with self._transaction() as db:
            if db.execute("SELECT 1 FROM token WHERE name = :name", {"name": name}).fetchone():
                raise EditRefused(f"A token is called {name} already.", "Choose another name, or remove that one.")
            db.execute(
                "INSERT INTO token (name, hash, created) VALUES (:name, :hash, :created)",
                {"name": name, "hash": _hash(token), "created": now()},
            )
        return token

    def list_all(self) -> list[Token]:
        """All tokens, by name."""
        with self._reading() as db:
            rows = db.execute("SELECT name, created, used FROM token ORDER BY name").fetchall()
        return [Token(row["name"], row["created"], row["used"]) for row in rows]

    def remove(self, name: str) -> None:
        """Remove a token: whoever has it comes in no more. Raises NotFound."""
        with self._transaction() as db:
            if not db.execute("DELETE FROM token WHERE name = :name", {"name": name}).rowcount:
                raise NotFound(f"No token is called {name}.", "Look at the list: sutaru token list.")

    def accept(self, token: str) -> bool:
        """Whether a token is one of them; the day of its use is stored."""
        if not token.startswith(PREFIX):
            return False
        with self._reading() as db:  # a stranger's makes nobody wait
            row = db.execute("SELECT name, used FROM token WHERE hash = :hash", {"hash": _hash(token)}).fetchone()
        today = now()[:10]
        if row and row["used"] != today:
            with self._transaction() as db:
                db.execute("UPDATE token SET used = :today WHERE name = :name", {"today": today, "name": row["name"]})
        return row is not None


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@contextmanager
def open_tokens(database: Path) -> Iterator[Tokens]:
    """The tokens of a data folder, also while a server uses it. Raises NotFound where there is no database yet."""
    if not database.is_file():
        raise NotFound(f"There is no data in {database.parent}.", "Give the data folder with --data, or serve it once.")
    with closing(sqlite3.connect(database, timeout=20)) as db:
        db.row_factory = sqlite3.Row
        if not db.execute("SELECT 1 FROM sqlite_master WHERE name = 'token'").fetchone():
            raise NotFound("This data is of an earlier version.", "Serve it once with this one, then try again.")

        @contextmanager
        def transaction() -> Iterator[sqlite3.Connection]:
            with db:
                yield db

        yield Tokens(transaction, transaction)
